"""Yellow Trellis: syntax-tree rules with fixes that compose, applied across large code bases."""

from yellow_trellis._version import __version__
from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.data_frames import DataFrameError
    from yellow_trellis.edits.edit import Edit, New, Order, Slice
    from yellow_trellis.errors import TrellisError
    from yellow_trellis.findings.failure import RuleFailure
    from yellow_trellis.findings.finding import Finding, Level, Unasked
    from yellow_trellis.fixes.builder import FixBuilder, Reference, fix, named
    from yellow_trellis.fixes.model import Fix, Safety
    from yellow_trellis.languages.language import Language
    from yellow_trellis.languages.registry import MissingLanguageError, language
    from yellow_trellis.notebook_html import Diff
    from yellow_trellis.patterns.compile import compile_pattern
    from yellow_trellis.patterns.match import Match
    from yellow_trellis.patterns.notation import Hole, PatternError
    from yellow_trellis.patterns.pattern import Pattern
    from yellow_trellis.plans.code_result import CodeResult
    from yellow_trellis.plans.conflict import Conflict, ConflictSide
    from yellow_trellis.plans.outcome import Outcome, State
    from yellow_trellis.plans.trial import Trial
    from yellow_trellis.plans.tree_edits import EditError, apply_edits, parse
    from yellow_trellis.project.codeowners import CodeOwnersError
    from yellow_trellis.project.discovery import MissingPathError, SourceFile
    from yellow_trellis.project.file_options import FileFilter, SkippedFile
    from yellow_trellis.project.git import RevisionError
    from yellow_trellis.rules.conditions import (
        CombinedCondition,
        Condition,
        CountCondition,
        HoleCondition,
        RelationCondition,
        after,
        all_of,
        any_of,
        before,
        count,
        directly_within,
        first,
        holds,
        last,
        none_of,
        taken,
        within,
    )
    from yellow_trellis.rules.decorator import rule
    from yellow_trellis.rules.definition import Judge, RuleDefinition
    from yellow_trellis.rules.example import Example, RuleError
    from yellow_trellis.rules.files.loader import load_rules
    from yellow_trellis.rules.option import Option, OptionError, Value, chosen
    from yellow_trellis.rules.override import Setting
    from yellow_trellis.rules.rule_context import Code, Subject
    from yellow_trellis.rules.ruleset import Ruleset
    from yellow_trellis.rules.runnable import Rule, check_code, fix_code
    from yellow_trellis.runs.file_report import FileReport, FindingRecord, Mode, Run
    from yellow_trellis.runs.fix_selection import Answer, Ask
    from yellow_trellis.runs.project_runs import Project
    from yellow_trellis.runs.report_types import Change, OutcomeRecord, Problem
    from yellow_trellis.runs.rule_source import PatternSpec, RulesLike, RulesSpec
    from yellow_trellis.runs.run_options import Limits, SyntaxChecks
    from yellow_trellis.runs.runner import run
    from yellow_trellis.runs.transaction.lock import BusyError
    from yellow_trellis.runs.transaction.undo import MissingRunError, UndoReport, undo
    from yellow_trellis.runs.transaction.write import UnfinishedRunError, WriteReport, write_changes
    from yellow_trellis.semantics.imports import Import
    from yellow_trellis.semantics.required_import import ImportPlacement
    from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
    from yellow_trellis.semantics.semantic_model import Facts, UnusedImport
    from yellow_trellis.source.diff import Hunk
    from yellow_trellis.source.encoding import UnreadableError
    from yellow_trellis.source.source import Source
    from yellow_trellis.source.span import Place, Span
    from yellow_trellis.syntax.node import Node
    from yellow_trellis.syntax.tree import Tree

_HOMES = {
    "data_frames": ("DataFrameError",),
    "edits.edit": ("Edit", "New", "Order", "Slice"),
    "errors": ("TrellisError",),
    "findings.failure": ("RuleFailure",),
    "findings.finding": ("Finding", "Level", "Unasked"),
    "fixes.builder": ("FixBuilder", "Reference", "fix", "named"),
    "fixes.model": ("Fix", "Safety"),
    "languages.language": ("Language",),
    "languages.registry": ("MissingLanguageError", "language"),
    "notebook_html": ("Diff",),
    "patterns.compile": ("compile_pattern",),
    "patterns.match": ("Match",),
    "patterns.notation": ("Hole", "PatternError"),
    "patterns.pattern": ("Pattern",),
    "plans.code_result": ("CodeResult",),
    "plans.conflict": ("Conflict", "ConflictSide"),
    "plans.outcome": ("Outcome", "State"),
    "plans.trial": ("Trial",),
    "plans.tree_edits": ("EditError", "apply_edits", "parse"),
    "project.codeowners": ("CodeOwnersError",),
    "project.discovery": ("MissingPathError", "SourceFile"),
    "project.file_options": ("FileFilter", "SkippedFile"),
    "project.git": ("RevisionError",),
    "rules.conditions": (
        "CombinedCondition",
        "Condition",
        "CountCondition",
        "HoleCondition",
        "RelationCondition",
        "after",
        "all_of",
        "any_of",
        "before",
        "count",
        "directly_within",
        "first",
        "holds",
        "last",
        "none_of",
        "taken",
        "within",
    ),
    "rules.decorator": ("rule",),
    "rules.definition": ("Judge", "RuleDefinition"),
    "rules.example": ("Example", "RuleError"),
    "rules.files.loader": ("load_rules",),
    "rules.option": ("Option", "OptionError", "Value", "chosen"),
    "rules.override": ("Setting",),
    "rules.rule_context": ("Code", "Draft", "Subject"),
    "rules.ruleset": ("Ruleset",),
    "rules.runnable": ("Rule", "check_code", "fix_code"),
    "runs.file_report": ("FileReport", "FindingRecord", "Mode", "Run"),
    "runs.fix_selection": ("Answer", "Ask"),
    "runs.project_runs": ("Project",),
    "runs.report_types": ("Change", "OutcomeRecord", "Problem"),
    "runs.rule_source": ("PatternSpec", "RulesLike", "RulesSpec"),
    "runs.run_options": ("Limits", "SyntaxChecks"),
    "runs.runner": ("run",),
    "runs.transaction.lock": ("BusyError",),
    "runs.transaction.undo": ("MissingRunError", "UndoReport", "undo"),
    "runs.transaction.write": ("UnfinishedRunError", "WriteReport", "write_changes"),
    "semantics.imports": ("Import",),
    "semantics.required_import": ("ImportPlacement",),
    "semantics.scope": ("Binding", "Occurrence", "Scope"),
    "semantics.semantic_model": ("Facts", "UnusedImport"),
    "source.diff": ("Hunk",),
    "source.encoding": ("UnreadableError",),
    "source.source": ("Source",),
    "source.span": ("Place", "Span"),
    "syntax.node": ("Node",),
    "syntax.tree": ("Tree",),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Answer",
    "Ask",
    "Binding",
    "BusyError",
    "Change",
    "Code",
    "CodeResult",
    "CombinedCondition",
    "Condition",
    "Conflict",
    "ConflictSide",
    "CountCondition",
    "Diff",
    "Draft",
    "Edit",
    "EditError",
    "Example",
    "Facts",
    "FileFilter",
    "FileReport",
    "Finding",
    "FindingRecord",
    "Fix",
    "FixBuilder",
    "Hole",
    "HoleCondition",
    "Hunk",
    "Import",
    "ImportPlacement",
    "Judge",
    "Language",
    "Level",
    "Limits",
    "Match",
    "MissingLanguageError",
    "MissingPathError",
    "Mode",
    "New",
    "DataFrameError",
    "CodeOwnersError",
    "RevisionError",
    "MissingRunError",
    "Node",
    "Occurrence",
    "Option",
    "OptionError",
    "Order",
    "Outcome",
    "OutcomeRecord",
    "Pattern",
    "PatternError",
    "PatternSpec",
    "Place",
    "Problem",
    "Project",
    "Reference",
    "RelationCondition",
    "Rule",
    "RuleDefinition",
    "RuleError",
    "RuleFailure",
    "RulesLike",
    "RulesSpec",
    "Ruleset",
    "Run",
    "Safety",
    "Scope",
    "Setting",
    "SkippedFile",
    "Slice",
    "Source",
    "SourceFile",
    "Span",
    "State",
    "Subject",
    "SyntaxChecks",
    "Tree",
    "TrellisError",
    "Trial",
    "Unasked",
    "UndoReport",
    "UnfinishedRunError",
    "UnreadableError",
    "UnusedImport",
    "Value",
    "WriteReport",
    "__version__",
    "after",
    "all_of",
    "any_of",
    "apply_edits",
    "before",
    "check_code",
    "chosen",
    "compile_pattern",
    "count",
    "directly_within",
    "first",
    "fix",
    "fix_code",
    "holds",
    "language",
    "last",
    "load_rules",
    "named",
    "none_of",
    "parse",
    "rule",
    "run",
    "taken",
    "undo",
    "within",
    "write_changes",
]
