"""From lines to the sheets at the stops."""
