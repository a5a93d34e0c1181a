"""The names and imports of Python; see `Semantics`."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.semantics.python.code_base.modules import modules_of
    from yellow_trellis.semantics.python.import_insertion import add_imports
    from yellow_trellis.semantics.python.import_removal import (
        drop_imports,
        lost_words,
        removal_of_import,
    )
    from yellow_trellis.semantics.python.name_qualification import spell
    from yellow_trellis.semantics.python.renaming.module_moves import follow_modules
    from yellow_trellis.semantics.python.renaming.moves import move_in
    from yellow_trellis.semantics.python.renaming.project_rename import fault_of_target, rename_in
    from yellow_trellis.semantics.python.renaming.relevance import may_see_name
    from yellow_trellis.semantics.python.renaming.rename import is_name, rename_binding
    from yellow_trellis.semantics.python.semantic_model import facts_of, model_of

_HOMES = {
    "code_base.modules": ("modules_of",),
    "import_insertion": ("add_imports",),
    "import_removal": ("drop_imports", "lost_words", "removal_of_import"),
    "name_qualification": ("spell",),
    "renaming.module_moves": ("follow_modules",),
    "renaming.moves": ("move_in",),
    "renaming.project_rename": ("fault_of_target", "rename_in"),
    "renaming.relevance": ("may_see_name",),
    "renaming.rename": ("is_name", "rename_binding"),
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
