"""Help for those who write rules: mistakes, completion, and pages."""
