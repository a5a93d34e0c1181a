"""Rules: what to find, when it counts, what to put instead, and the findings they yield."""

from yellow_trellis.rules.code import Code
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
from yellow_trellis.rules.finding import LEVELS, Finding, Level
from yellow_trellis.rules.leave import doubts
from yellow_trellis.rules.load import RuleFileError, load_rules, rule_files
from yellow_trellis.rules.narrow import narrowed
from yellow_trellis.rules.rule import Example, Rule, RuleError, rule
from yellow_trellis.rules.ruleset import Ruleset
from yellow_trellis.rules.watch import OutOfTime, Watch

__all__ = [
    "LEVELS",
    "Code",
    "Condition",
    "Example",
    "Finding",
    "Level",
    "OutOfTime",
    "Rule",
    "RuleError",
    "RuleFileError",
    "Ruleset",
    "Watch",
    "after",
    "all_of",
    "any_of",
    "before",
    "count",
    "directly_inside",
    "doubts",
    "first",
    "holds",
    "inside",
    "last",
    "load_rules",
    "narrowed",
    "none_of",
    "rule",
    "rule_files",
    "taken",
]
