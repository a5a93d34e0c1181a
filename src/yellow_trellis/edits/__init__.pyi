"""Edits of text at spans, and where they go: lists, bodies, removed code, indentation."""

from yellow_trellis.edits.edit import (
    Edit as Edit,
    New as New,
    Order as Order,
    Piece as Piece,
    Slice as Slice,
)
