"""Trees: nodes with every token and comment, and who owns which comment."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
