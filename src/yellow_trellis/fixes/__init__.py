"""Fixes: edits made of new text and kept slices, and the ways to make them."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.fixes.builder import FixBuilder, Reference, fix, named
    from yellow_trellis.fixes.edit import Edit, Fix, New, Order, Piece, Safety, Slice, TemplateUse
    from yellow_trellis.fixes.import_insertion import add_imports
    from yellow_trellis.fixes.import_removal import drop_imports, lost_words
    from yellow_trellis.fixes.name_qualification import RequiredImport
    from yellow_trellis.fixes.template import Template, compile_template
    from yellow_trellis.fixes.template_rewrite import fill

_HOMES = {
    "import_insertion": ("add_imports",),
    "builder": ("FixBuilder", "Reference", "fix", "named"),
    "edit": ("Edit", "Fix", "Slice", "New", "Order", "Piece", "TemplateUse", "Safety"),
    "name_qualification": ("RequiredImport",),
    "import_removal": ("drop_imports", "lost_words"),
    "template": ("Template", "compile_template"),
    "template_rewrite": ("fill",),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Edit",
    "Fix",
    "FixBuilder",
    "Slice",
    "Reference",
    "New",
    "Order",
    "Piece",
    "TemplateUse",
    "Safety",
    "Template",
    "RequiredImport",
    "add_imports",
    "compile_template",
    "drop_imports",
    "fill",
    "fix",
    "lost_words",
    "named",
]
