"""Yellow Trellis: syntax-tree rules with fixes that compose, applied across large code bases."""

from __future__ import annotations

from yellow_trellis._version import __version__
from yellow_trellis.lazy import face

TYPE_CHECKING = False  # that of `typing` takes as long to import as all of Python
if TYPE_CHECKING:
    from yellow_trellis.engine import (
        FileOptions,
        RulesSpec,
        Run,
        module_graph,
        process_file,
        run,
        undo,
        write_changes,
    )
    from yellow_trellis.facts import Binding, ModuleGraph, Scope
    from yellow_trellis.fixes import Edit, Fix, FixBuilder, Kept, New, fix, named
    from yellow_trellis.languages import Language, language
    from yellow_trellis.patterns import Match, Pattern, PatternError, compile_pattern, seek
    from yellow_trellis.plans import Conflict, Plan, make_plan, rework
    from yellow_trellis.rules import (
        Code,
        Example,
        Finding,
        Option,
        Rule,
        RuleError,
        Ruleset,
        after,
        all_of,
        any_of,
        before,
        chosen,
        count,
        directly_inside,
        first,
        holds,
        inside,
        last,
        load_rules,
        none_of,
        rule,
        taken,
    )
    from yellow_trellis.source import Place, Source, Span
    from yellow_trellis.syntax import Node, Tree

# Names are imported when first used: a command that asks for the version loads no parser.
_HOMES = {
    "engine": (
        "FileOptions",
        "RulesSpec",
        "Run",
        "module_graph",
        "process_file",
        "run",
        "undo",
        "write_changes",
    ),
    "facts": ("Binding", "ModuleGraph", "Scope"),
    "fixes": ("Edit", "Fix", "FixBuilder", "Kept", "New", "fix", "named"),
    "languages": ("Language", "language"),
    "patterns": ("Match", "Pattern", "PatternError", "compile_pattern", "seek"),
    "plans": ("Conflict", "Plan", "make_plan", "rework"),
    "rules": (
        *("Code", "Example", "Finding", "Option", "Rule", "RuleError", "Ruleset", "load_rules"),
        *("rule", "after", "all_of", "any_of", "before", "chosen", "count", "directly_inside"),
        *("first", "holds", "inside", "last", "none_of", "taken"),
    ),
    "source": ("Place", "Source", "Span"),
    "syntax": ("Node", "Tree"),
}
__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Binding",
    "Code",
    "Conflict",
    "Edit",
    "Example",
    "Finding",
    "Fix",
    "FixBuilder",
    "Kept",
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
    "Rule",
    "RuleError",
    "RulesSpec",
    "Ruleset",
    "Run",
    "Scope",
    "Source",
    "Span",
    "Tree",
    "__version__",
    "after",
    "all_of",
    "any_of",
    "before",
    "chosen",
    "compile_pattern",
    "count",
    "directly_inside",
    "FileOptions",
    "process_file",
    "first",
    "fix",
    "holds",
    "inside",
    "language",
    "last",
    "load_rules",
    "make_plan",
    "module_graph",
    "named",
    "none_of",
    "rework",
    "rule",
    "run",
    "seek",
    "taken",
    "undo",
    "write_changes",
]


def __dir__() -> list[str]:
    return sorted(__all__)
