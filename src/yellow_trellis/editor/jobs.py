"""The work over a workspace that a job can be asked for, by name."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from yellow_trellis.editor.authoring.rule_trials import matches, preview
from yellow_trellis.editor.file_moves import move_imports
from yellow_trellis.editor.renaming import rename
from yellow_trellis.editor.workspace import fix_all, survey

JOBS: Mapping[str, Callable[..., Any]] = {
    "survey": survey,
    "fix_all": fix_all,
    "rename": rename,
    "move_imports": move_imports,
    "matches": matches,
    "preview": preview,
}
"""Each takes the open files, what it tells its progress to, and its own arguments."""
