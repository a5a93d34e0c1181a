"""Patterns: code with holes, compiled once, laid over trees."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
