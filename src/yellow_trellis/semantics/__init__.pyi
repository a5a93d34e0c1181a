"""Semantics of names: an interface, what all languages share, and a folder for each language."""

from yellow_trellis.semantics.alias_map import SPELLED as SPELLED, Vocabulary as Vocabulary
from yellow_trellis.semantics.edit_group import EditGroup as EditGroup
from yellow_trellis.semantics.graph import ModuleGraph as ModuleGraph
from yellow_trellis.semantics.imports import (
    Import as Import,
    relative_module as relative_module,
    types_only as types_only,
)
from yellow_trellis.semantics.interface import (
    Semantics as Semantics,
    facts_of as facts_of,
    require_semantics as require_semantics,
    semantics_of as semantics_of,
)
from yellow_trellis.semantics.module_interface import NameEntry as NameEntry, Summary as Summary
from yellow_trellis.semantics.modules import Modules as Modules, ProjectFiles as ProjectFiles
from yellow_trellis.semantics.project_context import (
    ALONE as ALONE,
    ProjectContext as ProjectContext,
)
from yellow_trellis.semantics.renaming import (
    Doubt as Doubt,
    RenameResult as RenameResult,
    RenameTarget as RenameTarget,
    Renaming as Renaming,
)
from yellow_trellis.semantics.required_import import (
    ImportForm as ImportForm,
    RequiredImport as RequiredImport,
    fault_of as fault_of,
)
from yellow_trellis.semantics.scope import (
    Binding as Binding,
    Occurrence as Occurrence,
    Scope as Scope,
)
from yellow_trellis.semantics.semantic_model import Facts as Facts, UnusedImport as UnusedImport
