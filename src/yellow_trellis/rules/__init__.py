"""Rules: what to find, when it counts, what to put instead, and the findings they yield."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
