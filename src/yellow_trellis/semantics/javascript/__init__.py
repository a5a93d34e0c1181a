"""The names and imports of JavaScript and TypeScript; see `Semantics`."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
