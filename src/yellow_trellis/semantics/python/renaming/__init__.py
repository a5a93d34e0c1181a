"""Renaming and moving: in a file, and in all files that mention a thing."""
