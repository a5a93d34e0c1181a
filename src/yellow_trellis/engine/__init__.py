"""The engine: files found, looked at in worker processes, rewritten safely, taken back."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.engine.discovery import MissingPath, discover
    from yellow_trellis.engine.examination import (
        Change,
        FileReport,
        FindingRecord,
        Problem,
        examine,
    )
    from yellow_trellis.engine.journal import Journal
    from yellow_trellis.engine.limits import Limits
    from yellow_trellis.engine.modules import module_graph
    from yellow_trellis.engine.prove import Verdict, prove_rule
    from yellow_trellis.engine.runner import Run, run
    from yellow_trellis.engine.scope import Left, Scope
    from yellow_trellis.engine.spec import PatternSpec, RulesSpec
    from yellow_trellis.engine.undoing import UndoReport, roll_back, runs, undo
    from yellow_trellis.engine.write import WriteReport, write_changes

_HOMES = {
    "discovery": ("MissingPath", "discover"),
    "examination": ("Change", "FileReport", "FindingRecord", "Problem", "examine"),
    "journal": ("Journal",),
    "limits": ("Limits",),
    "modules": ("module_graph",),
    "prove": ("Verdict", "prove_rule"),
    "runner": ("Run", "run"),
    "scope": ("Left", "Scope"),
    "spec": ("PatternSpec", "RulesSpec"),
    "undoing": ("UndoReport", "roll_back", "runs", "undo"),
    "write": ("WriteReport", "write_changes"),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Change",
    "FileReport",
    "FindingRecord",
    "Journal",
    "Left",
    "Limits",
    "MissingPath",
    "PatternSpec",
    "Problem",
    "RulesSpec",
    "Run",
    "Scope",
    "UndoReport",
    "Verdict",
    "WriteReport",
    "discover",
    "examine",
    "module_graph",
    "prove_rule",
    "roll_back",
    "run",
    "runs",
    "undo",
    "write_changes",
]
