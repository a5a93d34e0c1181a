"""Semantics of names: an interface, what all languages share, and a folder for each language."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
    from yellow_trellis.semantics.edit_group import EditGroup
    from yellow_trellis.semantics.graph import ModuleGraph
    from yellow_trellis.semantics.imports import Import, relative_module, types_only
    from yellow_trellis.semantics.interface import (
        Semantics,
        facts_of,
        require_semantics,
        semantics_of,
    )
    from yellow_trellis.semantics.module_interface import Entry, Summary
    from yellow_trellis.semantics.modules import Modules, ProjectFiles
    from yellow_trellis.semantics.project_context import ALONE, ProjectContext
    from yellow_trellis.semantics.renaming import Doubt, RenameResult, RenameTarget, Renaming
    from yellow_trellis.semantics.required_import import ImportForm, RequiredImport, fault_of
    from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
    from yellow_trellis.semantics.semantic_model import Facts, UnusedImport

_HOMES = {
    "alias_map": ("SPELLED", "Vocabulary"),
    "edit_group": ("EditGroup",),
    "graph": ("ModuleGraph",),
    "imports": ("Import", "relative_module", "types_only"),
    "interface": ("Semantics", "facts_of", "require_semantics", "semantics_of"),
    "module_interface": ("Entry", "Summary"),
    "modules": ("Modules", "ProjectFiles"),
    "project_context": ("ALONE", "ProjectContext"),
    "renaming": ("Doubt", "RenameResult", "RenameTarget", "Renaming"),
    "required_import": ("ImportForm", "RequiredImport", "fault_of"),
    "scope": ("Binding", "Occurrence", "Scope"),
    "semantic_model": ("Facts", "UnusedImport"),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "ALONE",
    "SPELLED",
    "Binding",
    "Doubt",
    "EditGroup",
    "Entry",
    "Facts",
    "Import",
    "ImportForm",
    "ModuleGraph",
    "Modules",
    "Occurrence",
    "ProjectContext",
    "ProjectFiles",
    "RenameResult",
    "RenameTarget",
    "Renaming",
    "RequiredImport",
    "Scope",
    "Semantics",
    "Summary",
    "UnusedImport",
    "Vocabulary",
    "facts_of",
    "fault_of",
    "relative_module",
    "require_semantics",
    "semantics_of",
    "types_only",
]
