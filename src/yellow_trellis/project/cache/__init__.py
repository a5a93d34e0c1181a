"""Caches of a project between runs: a help, and never the truth."""
