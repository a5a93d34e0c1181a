"""The names and imports of Python; see `Semantics`."""

from yellow_trellis.semantics.python.code_base.modules import modules_of as modules_of
from yellow_trellis.semantics.python.import_insertion import add_imports as add_imports
from yellow_trellis.semantics.python.import_removal import (
    drop_imports as drop_imports,
    lost_words as lost_words,
    removal_of_import as removal_of_import,
)
from yellow_trellis.semantics.python.name_qualification import spell as spell
from yellow_trellis.semantics.python.renaming.module_moves import follow_modules as follow_modules
from yellow_trellis.semantics.python.renaming.moves import move_in as move_in
from yellow_trellis.semantics.python.renaming.project_rename import (
    fault_of_target as fault_of_target,
    rename_in as rename_in,
)
from yellow_trellis.semantics.python.renaming.relevance import may_see_name as may_see_name
from yellow_trellis.semantics.python.renaming.rename import (
    is_name as is_name,
    rename_binding as rename_binding,
)
from yellow_trellis.semantics.python.semantic_model import (
    facts_of as facts_of,
    model_of as model_of,
)
