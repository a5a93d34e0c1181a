"""The engine: files found, looked at in worker processes, rewritten safely, taken back."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.engine.discovery import MissingPath, discover
    from yellow_trellis.engine.journal import Journal
    from yellow_trellis.engine.modules import module_graph
    from yellow_trellis.engine.notices import Change, Left, Problem
    from yellow_trellis.engine.pipeline import FileOptions, process_file
    from yellow_trellis.engine.prove import Verdict, prove_rule
    from yellow_trellis.engine.reports import FileReport, FindingRecord, Run
    from yellow_trellis.engine.runner import run
    from yellow_trellis.engine.spec import PatternSpec, RulesSpec
    from yellow_trellis.engine.undoing import UndoReport, roll_back, runs, undo
    from yellow_trellis.engine.wanted import Limits, Scope
    from yellow_trellis.engine.write import WriteReport, write_changes

_HOMES = {
    "discovery": ("MissingPath", "discover"),
    "pipeline": ("FileOptions", "process_file"),
    "journal": ("Journal",),
    "modules": ("module_graph",),
    "notices": ("Change", "Left", "Problem"),
    "prove": ("Verdict", "prove_rule"),
    "reports": ("FileReport", "FindingRecord", "Run"),
    "runner": ("run",),
    "spec": ("PatternSpec", "RulesSpec"),
    "undoing": ("UndoReport", "roll_back", "runs", "undo"),
    "wanted": ("Limits", "Scope"),
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
    "FileOptions",
    "process_file",
    "module_graph",
    "prove_rule",
    "roll_back",
    "run",
    "runs",
    "undo",
    "write_changes",
]
