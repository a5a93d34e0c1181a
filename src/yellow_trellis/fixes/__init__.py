"""Fixes: edits made of new text and kept slices, and the ways to make them."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.fixes.builder import FixBuilder, Named, fix, named
    from yellow_trellis.fixes.edit import Edit, Fix, Kept, New, Order, Piece, Put, Safety
    from yellow_trellis.fixes.filling import fill
    from yellow_trellis.fixes.imports_in import add_imports
    from yellow_trellis.fixes.imports_out import drop_imports, lost_words
    from yellow_trellis.fixes.spelling import Wanted
    from yellow_trellis.fixes.template import Template, compile_template

_HOMES = {
    "imports_in": ("add_imports",),
    "builder": (
        "FixBuilder",
        "Named",
        "fix",
        "named",
    ),
    "imports_out": (
        "drop_imports",
        "lost_words",
    ),
    "edit": (
        "Edit",
        "Fix",
        "Kept",
        "New",
        "Order",
        "Piece",
        "Put",
        "Safety",
    ),
    "filling": ("fill",),
    "spelling": ("Wanted",),
    "template": (
        "Template",
        "compile_template",
    ),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Edit",
    "Fix",
    "FixBuilder",
    "Kept",
    "Named",
    "New",
    "Order",
    "Piece",
    "Put",
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
