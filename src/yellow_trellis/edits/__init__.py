"""Edits of text at spans, and where they go: lists, bodies, removed code, indentation."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
