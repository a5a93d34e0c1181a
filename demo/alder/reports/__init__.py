"""Reports for the council."""
