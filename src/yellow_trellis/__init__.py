"""Yellow Trellis: syntax-tree rules with fixes that compose, applied across large code bases."""

from yellow_trellis._version import __version__ as __version__
from yellow_trellis.lazy_imports import face

__getattr__, __dir__ = face(__name__, __file__)
