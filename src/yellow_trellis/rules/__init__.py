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
        directly_within,
        first,
        holds,
        last,
        none_of,
        taken,
        within,
    )
    from yellow_trellis.rules.decorator import rule
    from yellow_trellis.rules.definition import RuleDefinition
    from yellow_trellis.rules.example import Example, RuleError
    from yellow_trellis.rules.files.loader import Loaded, RuleFileError, load_rules, loaded
    from yellow_trellis.rules.files.packs import Pack, names_of_packs, pack_called
    from yellow_trellis.rules.fingerprint import Fingerprint, Fingerprints
    from yellow_trellis.rules.option import Option, OptionError, chosen
    from yellow_trellis.rules.override import Setting, settings_in, unknown_in
    from yellow_trellis.rules.rule_context import Code
    from yellow_trellis.rules.ruleset import Ruleset
    from yellow_trellis.rules.runnable import Rule, check_code, fix_code
    from yellow_trellis.rules.suppression_fixes import leave_rule
    from yellow_trellis.rules.suppressions import UNNEEDED, doubts

_HOMES = {
    "conditions": (
        "Condition",
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
    "decorator": ("rule",),
    "definition": ("RuleDefinition",),
    "example": ("Example", "RuleError"),
    "files.loader": ("Loaded", "RuleFileError", "load_rules", "loaded"),
    "files.packs": ("Pack", "names_of_packs", "pack_called"),
    "fingerprint": ("Fingerprint", "Fingerprints"),
    "option": ("Option", "OptionError", "chosen"),
    "override": ("Setting", "settings_in", "unknown_in"),
    "rule_context": ("Code",),
    "ruleset": ("Ruleset",),
    "runnable": ("Rule", "check_code", "fix_code"),
    "suppression_fixes": ("leave_rule",),
    "suppressions": ("UNNEEDED", "doubts"),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "UNNEEDED",
    "Code",
    "Condition",
    "Example",
    "Fingerprint",
    "Fingerprints",
    "Loaded",
    "Option",
    "OptionError",
    "Pack",
    "Rule",
    "RuleDefinition",
    "RuleError",
    "RuleFileError",
    "Ruleset",
    "Setting",
    "after",
    "all_of",
    "any_of",
    "before",
    "check_code",
    "chosen",
    "count",
    "directly_within",
    "doubts",
    "first",
    "fix_code",
    "holds",
    "last",
    "leave_rule",
    "load_rules",
    "loaded",
    "names_of_packs",
    "none_of",
    "pack_called",
    "rule",
    "settings_in",
    "taken",
    "unknown_in",
    "within",
]
