"""The page riders see; its scripts are in static/."""
