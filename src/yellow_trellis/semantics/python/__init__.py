"""The names and imports of Python; see `Semantics`."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
