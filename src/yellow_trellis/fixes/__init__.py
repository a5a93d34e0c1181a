"""Fixes: edits that go together, and the ways to make them."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.fixes.builder import FixBuilder, Reference, fix, named
    from yellow_trellis.fixes.model import Fix, Safety, TemplateUse
    from yellow_trellis.fixes.template import Template, compile_template
    from yellow_trellis.fixes.template_rewrite import fill

_HOMES = {
    "builder": ("FixBuilder", "Reference", "fix", "named"),
    "model": ("Fix", "Safety", "TemplateUse"),
    "template": ("Template", "compile_template"),
    "template_rewrite": ("fill",),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Fix",
    "FixBuilder",
    "Reference",
    "Safety",
    "Template",
    "TemplateUse",
    "compile_template",
    "fill",
    "fix",
    "named",
]
