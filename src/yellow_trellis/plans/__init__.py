"""Plans: the fixes of one round composed, the conflicts among them, the proof, the rounds."""

from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
