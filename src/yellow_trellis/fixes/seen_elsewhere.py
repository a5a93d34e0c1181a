"""Names that code in other files may say: no fix of one file renames them.

There is one way to rename such a thing: over the code base, all or none, by a rule with `rename`.
"""

from __future__ import annotations

from yellow_trellis.semantics import Binding, facts_of
from yellow_trellis.semantics.project_context import ALONE


def seen_elsewhere(binding: Binding) -> str:
    """Return why other files may say the name of a binding; empty if they do not."""
    scope, name = binding.scope, binding.name
    facts = facts_of(scope.tree)
    way_out = f"a rule with `rename` gives `{name}` another name there too, or nowhere"
    if scope.kind == "class":
        return f"code elsewhere may use the member `{name}` of the class: {way_out}"
    if scope is not facts.names.module or binding.hows <= {"import"}:
        return ""
    place = facts.place
    if scope.tree.language.name == "python" and place is ALONE:
        return f"it is not known which other files use `{name}` of the module: {way_out}"
    if place.gives(place.module, name):
        return f"another file uses `{name}` of the module: {way_out}"
    return ""
