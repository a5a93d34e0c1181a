"""Fixes: edits that go together, and the ways to make them."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
