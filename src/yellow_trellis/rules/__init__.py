"""Rules: what to find, when it counts, what to put instead, and the findings they yield."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
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
    from yellow_trellis.rules.decorator import rule
    from yellow_trellis.rules.definition import Rule
    from yellow_trellis.rules.example import Example, RuleError
    from yellow_trellis.rules.failure import RuleFailure, reason_of
    from yellow_trellis.rules.files.loader import Loaded, RuleFileError, load_rules, loaded
    from yellow_trellis.rules.files.packs import Pack, names_of_packs, pack_called
    from yellow_trellis.rules.finding import LEVELS, UNASKED, Finding, Level, Unasked
    from yellow_trellis.rules.fingerprint import Fingerprint, mark_of
    from yellow_trellis.rules.option import Option, OptionError, chosen
    from yellow_trellis.rules.override import Setting, settings_in, unknown_in
    from yellow_trellis.rules.rule_context import Code
    from yellow_trellis.rules.ruleset import Ruleset
    from yellow_trellis.rules.suppression_fixes import leave_rule
    from yellow_trellis.rules.suppressions import UNNEEDED, doubts
    from yellow_trellis.rules.timing import OutOfTime, Watch

_HOMES = {
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
    "decorator": ("rule",),
    "example": ("Example", "RuleError"),
    "failure": ("RuleFailure", "reason_of"),
    "files.loader": ("Loaded", "RuleFileError", "load_rules", "loaded"),
    "files.packs": ("Pack", "names_of_packs", "pack_called"),
    "finding": ("LEVELS", "UNASKED", "Finding", "Level", "Unasked"),
    "fingerprint": ("Fingerprint", "mark_of"),
    "option": ("Option", "OptionError", "chosen"),
    "override": ("Setting", "settings_in", "unknown_in"),
    "definition": ("Rule",),
    "rule_context": ("Code",),
    "ruleset": ("Ruleset",),
    "suppression_fixes": ("leave_rule",),
    "suppressions": ("UNNEEDED", "doubts"),
    "timing": ("OutOfTime", "Watch"),
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
    "Fingerprint",
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
