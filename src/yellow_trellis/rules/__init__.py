"""Rules: what to find, when it counts, what to put instead, and the findings they yield."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.rules.code import Code
    from yellow_trellis.rules.coded import rule
    from yellow_trellis.rules.conditions import (
        Condition,
        after,
        all_of,
        any_of,
        before,
        count,
        directly_inside,
        first,
        holds,
        inside,
        last,
        none_of,
        taken,
    )
    from yellow_trellis.rules.definition import Rule
    from yellow_trellis.rules.example import Example, RuleError
    from yellow_trellis.rules.failure import RuleFailure, reason_of
    from yellow_trellis.rules.finding import LEVELS, UNASKED, Finding, Level, Unasked
    from yellow_trellis.rules.leave import UNNEEDED, doubts
    from yellow_trellis.rules.leaving import leave_rule
    from yellow_trellis.rules.load import Loaded, RuleFileError, load_rules, loaded
    from yellow_trellis.rules.mark import Mark, mark_of
    from yellow_trellis.rules.option import Option, OptionError, chosen
    from yellow_trellis.rules.pack import Pack, names_of_packs, pack_called
    from yellow_trellis.rules.ruleset import Ruleset
    from yellow_trellis.rules.setting import Setting, settings_in, unknown_in
    from yellow_trellis.rules.watch import OutOfTime, Watch

_HOMES = {
    "code": ("Code",),
    "coded": ("rule",),
    "conditions": (
        "Condition",
        "after",
        "all_of",
        "any_of",
        "before",
        "count",
        "directly_inside",
        "first",
        "holds",
        "inside",
        "last",
        "none_of",
        "taken",
    ),
    "example": (
        "Example",
        "RuleError",
    ),
    "finding": (
        "LEVELS",
        "UNASKED",
        "Finding",
        "Level",
        "Unasked",
    ),
    "leave": ("UNNEEDED", "doubts"),
    "leaving": ("leave_rule",),
    "load": (
        "Loaded",
        "RuleFileError",
        "load_rules",
        "loaded",
    ),
    "mark": (
        "Mark",
        "mark_of",
    ),
    "option": (
        "Option",
        "OptionError",
        "chosen",
    ),
    "pack": (
        "Pack",
        "names_of_packs",
        "pack_called",
    ),
    "definition": ("Rule",),
    "failure": ("RuleFailure", "reason_of"),
    "ruleset": ("Ruleset",),
    "setting": (
        "Setting",
        "settings_in",
        "unknown_in",
    ),
    "watch": (
        "OutOfTime",
        "Watch",
    ),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "LEVELS",
    "UNASKED",
    "UNNEEDED",
    "Code",
    "Condition",
    "Example",
    "Finding",
    "Level",
    "Loaded",
    "Mark",
    "Option",
    "OptionError",
    "OutOfTime",
    "Pack",
    "Rule",
    "RuleError",
    "RuleFailure",
    "RuleFileError",
    "Ruleset",
    "Setting",
    "Unasked",
    "Watch",
    "after",
    "all_of",
    "any_of",
    "before",
    "chosen",
    "count",
    "directly_inside",
    "doubts",
    "first",
    "holds",
    "inside",
    "last",
    "leave_rule",
    "load_rules",
    "loaded",
    "mark_of",
    "names_of_packs",
    "none_of",
    "pack_called",
    "reason_of",
    "rule",
    "settings_in",
    "taken",
    "unknown_in",
]
