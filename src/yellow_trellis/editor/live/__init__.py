"""Findings of an open text, kept by its parts from key stroke to key stroke."""
