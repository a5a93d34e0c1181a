"""Formats for programs and files: JSON, unified diffs."""
