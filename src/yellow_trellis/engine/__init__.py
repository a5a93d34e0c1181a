"""The engine: files found, looked at in worker processes, rewritten safely, taken back."""

from yellow_trellis.engine.discover import MissingPath, discover
from yellow_trellis.engine.examine import Change, FileReport, FindingRecord, Problem, examine
from yellow_trellis.engine.journal import Journal, UndoReport, undo
from yellow_trellis.engine.modules import module_graph
from yellow_trellis.engine.prove import Verdict, prove_rule
from yellow_trellis.engine.run import PatternSpec, RulesSpec, Run, run
from yellow_trellis.engine.write import WriteReport, write_changes

__all__ = [
    "Change",
    "FileReport",
    "FindingRecord",
    "Journal",
    "MissingPath",
    "PatternSpec",
    "Problem",
    "RulesSpec",
    "Run",
    "UndoReport",
    "Verdict",
    "WriteReport",
    "discover",
    "examine",
    "module_graph",
    "prove_rule",
    "run",
    "undo",
    "write_changes",
]
