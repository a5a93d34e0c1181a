"""Semantics of names: an interface, what all languages share, and a folder for each language."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
