"""Semantics of names: scopes, bindings, references, qualified names, the modules of a project."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
    from yellow_trellis.semantics.definitions import decorators
    from yellow_trellis.semantics.graph import ModuleGraph
    from yellow_trellis.semantics.imports import Import, relative_module, types_only
    from yellow_trellis.semantics.loading import circle_of, lacks, order_of, rests_while_loading
    from yellow_trellis.semantics.module_interface import Entry, Summary
    from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
    from yellow_trellis.semantics.semantic_model import ALONE, Facts, ProjectContext, facts_of
    from yellow_trellis.semantics.unseen import TAKE_TYPES, unseen_use

_HOMES = {
    "alias_map": ("SPELLED", "Vocabulary"),
    "graph": ("ModuleGraph",),
    "imports": ("Import", "relative_module", "types_only"),
    "loading": ("circle_of", "lacks", "order_of", "rests_while_loading"),
    "module_interface": ("Entry", "Summary"),
    "scope": ("Binding", "Occurrence", "Scope"),
    "semantic_model": ("ALONE", "Facts", "ProjectContext", "facts_of"),
    "definitions": ("decorators",),
    "unseen": ("TAKE_TYPES", "unseen_use"),
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
    "ProjectContext",
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
