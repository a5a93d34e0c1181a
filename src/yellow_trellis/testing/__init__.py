"""For those who write rules: helpers for their tests, and a pytest plugin that runs examples."""

from yellow_trellis.testing.authors import becomes, clashes_with, find, fix, stays

__all__ = ["becomes", "clashes_with", "find", "fix", "stays"]
