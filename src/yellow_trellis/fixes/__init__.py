"""Fixes: edits made of new text and kept slices, and the ways to make them."""

from yellow_trellis.fixes.add_imports import add_imports
from yellow_trellis.fixes.builder import FixBuilder, Named, fix, named
from yellow_trellis.fixes.drop_imports import drop_imports, lost_words
from yellow_trellis.fixes.edit import Edit, Fix, Kept, New, Order, Piece, Safety
from yellow_trellis.fixes.fill import fill
from yellow_trellis.fixes.spelling import Wanted
from yellow_trellis.fixes.template import Template, compile_template

__all__ = [
    "Edit",
    "Fix",
    "FixBuilder",
    "Kept",
    "Named",
    "New",
    "Order",
    "Piece",
    "Safety",
    "Template",
    "Wanted",
    "add_imports",
    "compile_template",
    "drop_imports",
    "fill",
    "fix",
    "lost_words",
    "named",
]
