"""Edits of text at spans, and where they go: lists, bodies, removed code, indentation."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.edits.edit import Edit, New, Order, Piece, Slice

_HOMES = {"edit": ("Edit", "New", "Order", "Piece", "Slice")}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = ["Edit", "New", "Order", "Piece", "Slice"]
