"""What names mean: scopes, bindings, references, qualified names, the modules of a code base."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.facts.facts import ALONE, Facts, Surroundings, facts_of
    from yellow_trellis.facts.graph import ModuleGraph
    from yellow_trellis.facts.imports import Import, relative_module, types_only
    from yellow_trellis.facts.loading import circle_of, lacks, order_of, rests_while_loading
    from yellow_trellis.facts.paths import decorators
    from yellow_trellis.facts.scope import Binding, Occurrence, Scope
    from yellow_trellis.facts.summary import Entry, Summary
    from yellow_trellis.facts.unseen import TAKE_TYPES, unseen_use
    from yellow_trellis.facts.vocabulary import SPELLED, Vocabulary

_HOMES = {
    "facts": (
        "ALONE",
        "Facts",
        "Surroundings",
        "facts_of",
    ),
    "graph": ("ModuleGraph",),
    "imports": (
        "Import",
        "relative_module",
        "types_only",
    ),
    "loading": (
        "circle_of",
        "lacks",
        "order_of",
        "rests_while_loading",
    ),
    "paths": ("decorators",),
    "scope": (
        "Binding",
        "Occurrence",
        "Scope",
    ),
    "summary": (
        "Entry",
        "Summary",
    ),
    "unseen": (
        "TAKE_TYPES",
        "unseen_use",
    ),
    "vocabulary": (
        "SPELLED",
        "Vocabulary",
    ),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "ALONE",
    "SPELLED",
    "TAKE_TYPES",
    "Binding",
    "Entry",
    "Facts",
    "Import",
    "ModuleGraph",
    "Occurrence",
    "Scope",
    "Summary",
    "Surroundings",
    "Vocabulary",
    "circle_of",
    "decorators",
    "facts_of",
    "lacks",
    "order_of",
    "relative_module",
    "rests_while_loading",
    "types_only",
    "unseen_use",
]
