"""Fixes: edits that go together, and the ways to make them."""

from yellow_trellis.fixes.builder import (
    FixBuilder as FixBuilder,
    Reference as Reference,
    fix as fix,
    named as named,
)
from yellow_trellis.fixes.model import Fix as Fix, Safety as Safety, TemplateUse as TemplateUse
from yellow_trellis.fixes.template import Template as Template, compile_template as compile_template
from yellow_trellis.fixes.template_rewrite import fill as fill
