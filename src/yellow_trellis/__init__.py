"""Yellow Trellis: syntax-tree rules with fixes that compose, applied across large code bases."""

from yellow_trellis._version import __version__
from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.findings.finding import Finding
    from yellow_trellis.fixes.builder import FixBuilder, fix, named
    from yellow_trellis.edits.edit import Edit, New, Slice
    from yellow_trellis.fixes.model import Fix
    from yellow_trellis.languages.language import Language
    from yellow_trellis.languages.registry import language
    from yellow_trellis.patterns.compile import compile_pattern
    from yellow_trellis.patterns.match import Match
    from yellow_trellis.patterns.notation import PatternError
    from yellow_trellis.patterns.pattern import Pattern
    from yellow_trellis.patterns.search import seek
    from yellow_trellis.plans.code_result import CodeResult
    from yellow_trellis.plans.conflict import Conflict, ConflictSide
    from yellow_trellis.plans.fixpoint import rework
    from yellow_trellis.plans.plan import Plan, make_plan
    from yellow_trellis.plans.tree_edits import EditRefused, apply_edits, parse
    from yellow_trellis.project.graph_builder import module_graph
    from yellow_trellis.rules.conditions import (
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
    from yellow_trellis.rules.example import Example, RuleError
    from yellow_trellis.rules.files.loader import load_rules
    from yellow_trellis.rules.option import Option, chosen
    from yellow_trellis.rules.rule_context import Code
    from yellow_trellis.rules.ruleset import Ruleset
    from yellow_trellis.rules.runnable import Rule, check_code, fix_code
    from yellow_trellis.runs.file_report import Run
    from yellow_trellis.runs.pipeline import FileOptions, process_file
    from yellow_trellis.runs.project_runs import Project
    from yellow_trellis.runs.rule_source import RulesSpec
    from yellow_trellis.runs.runner import run
    from yellow_trellis.runs.transaction.undo import undo
    from yellow_trellis.runs.transaction.write import write_changes
    from yellow_trellis.semantics.graph import ModuleGraph
    from yellow_trellis.semantics.scope import Binding, Scope
    from yellow_trellis.source.source import Source
    from yellow_trellis.source.span import Place, Span
    from yellow_trellis.syntax.node import Node
    from yellow_trellis.syntax.tree import Tree

_HOMES = {
    "findings": ("Finding",),
    "fixes.builder": ("FixBuilder", "fix", "named"),
    "edits.edit": ("Edit", "New", "Slice"),
    "fixes.model": ("Fix",),
    "languages.language": ("Language",),
    "languages.registry": ("language",),
    "patterns.compile": ("compile_pattern",),
    "patterns.match": ("Match",),
    "patterns.notation": ("PatternError",),
    "patterns.pattern": ("Pattern",),
    "patterns.search": ("seek",),
    "plans.code_result": ("CodeResult",),
    "plans.conflict": ("Conflict", "ConflictSide"),
    "plans.fixpoint": ("rework",),
    "plans.plan": ("Plan", "make_plan"),
    "plans.tree_edits": ("EditRefused", "apply_edits", "parse"),
    "project.graph_builder": ("module_graph",),
    "rules.conditions": (
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
    "rules.example": ("Example", "RuleError"),
    "rules.files.loader": ("load_rules",),
    "rules.option": ("Option", "chosen"),
    "rules.rule_context": ("Code",),
    "rules.ruleset": ("Ruleset",),
    "rules.runnable": ("Rule", "check_code", "fix_code"),
    "runs.file_report": ("Run",),
    "runs.pipeline": ("FileOptions", "process_file"),
    "runs.project_runs": ("Project",),
    "runs.rule_source": ("RulesSpec",),
    "runs.runner": ("run",),
    "runs.transaction.undo": ("undo",),
    "runs.transaction.write": ("write_changes",),
    "semantics.graph": ("ModuleGraph",),
    "semantics.scope": ("Binding", "Scope"),
    "source.source": ("Source",),
    "source.span": ("Place", "Span"),
    "syntax.node": ("Node",),
    "syntax.tree": ("Tree",),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Binding",
    "Code",
    "CodeResult",
    "Conflict",
    "Edit",
    "Example",
    "FileOptions",
    "Finding",
    "Fix",
    "FixBuilder",
    "Language",
    "Match",
    "ModuleGraph",
    "New",
    "Node",
    "Option",
    "Pattern",
    "PatternError",
    "Place",
    "Plan",
    "Project",
    "Rule",
    "RuleError",
    "RulesSpec",
    "Ruleset",
    "Run",
    "Scope",
    "Slice",
    "Source",
    "Span",
    "Tree",
    "__version__",
    "after",
    "all_of",
    "any_of",
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
    "make_plan",
    "module_graph",
    "named",
    "none_of",
    "parse",
    "process_file",
    "rework",
    "rule",
    "run",
    "seek",
    "taken",
    "undo",
    "within",
    "write_changes",
]
