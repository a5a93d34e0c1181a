"""Fixes: edits made of new text and kept slices, and the ways to make them."""

from yellow_trellis.fixes.builder import FixBuilder, fix
from yellow_trellis.fixes.edit import Edit, Fix, Kept, New, Piece, Safety
from yellow_trellis.fixes.fill import fill
from yellow_trellis.fixes.template import Template, compile_template

__all__ = [
    "Edit",
    "Fix",
    "FixBuilder",
    "Kept",
    "New",
    "Piece",
    "Safety",
    "Template",
    "compile_template",
    "fill",
    "fix",
]
