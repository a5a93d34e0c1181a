"""The names and imports of JavaScript and TypeScript; see `Semantics`."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.semantics.javascript.import_insertion import add_imports
    from yellow_trellis.semantics.javascript.import_removal import (
        drop_imports,
        lost_words,
        removal_of_import,
    )
    from yellow_trellis.semantics.javascript.module_moves import follow_modules
    from yellow_trellis.semantics.javascript.modules import modules_of
    from yellow_trellis.semantics.javascript.moves import move_in
    from yellow_trellis.semantics.javascript.name_qualification import spell
    from yellow_trellis.semantics.javascript.project_rename import (
        fault_of_target,
        may_see_name,
        rename_in,
    )
    from yellow_trellis.semantics.javascript.rename import is_name, rename_binding
    from yellow_trellis.semantics.javascript.semantic_model import facts_of, model_of

_HOMES = {
    "import_insertion": ("add_imports",),
    "import_removal": ("drop_imports", "lost_words", "removal_of_import"),
    "module_moves": ("follow_modules",),
    "modules": ("modules_of",),
    "moves": ("move_in",),
    "name_qualification": ("spell",),
    "project_rename": ("fault_of_target", "may_see_name", "rename_in"),
    "rename": ("is_name", "rename_binding"),
    "semantic_model": ("facts_of", "model_of"),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "add_imports",
    "drop_imports",
    "facts_of",
    "fault_of_target",
    "follow_modules",
    "is_name",
    "lost_words",
    "may_see_name",
    "model_of",
    "modules_of",
    "move_in",
    "removal_of_import",
    "rename_binding",
    "rename_in",
    "spell",
]
