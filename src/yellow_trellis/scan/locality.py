"""The locality of a rule: how much of a file around a match can change what it finds.

Three answers are enough. Most rules look for an expression or a simple statement: what they find
is told by the *statement* that holds it. Rules about compound statements, and about code within
others, need the *segment*: whole statements at the top of the file. Everything else needs the
*file*: rules in Python, which may look anywhere, names by meaning, and patterns that no word leads
to.

Refused: finer answers, such as the header of a class with its last line. They cost eight cases and
an account of who looked at what, for a tenth of the time.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

from yellow_trellis.languages import Language
from yellow_trellis.patterns import Pattern
from yellow_trellis.rules.conditions import DeclaredCondition, leaves
from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.ruleset import Ruleset

Locality = Literal["statement", "segment", "file"]


@lru_cache(maxsize=4096)
def locality_of(rule: RuleDefinition) -> Locality:
    """Return how much of a file has to be parsed around a place for what `rule` finds there."""
    pattern = rule.compiled.pattern
    if rule.function is not None or rule.compiled.required_symbols or pattern is None:
        return "file"
    lead = rule.compiled.search_plan.lead
    if not _is_bounded(pattern) or lead is None or lead.chain is None:
        return "file"
    for condition in leaves(rule.where):
        if not isinstance(condition, DeclaredCondition) or condition.reach == "file":
            return "file"
        if not all(map(_is_bounded, condition.patterns(rule.compiled.language))):
            return "file"
    is_simple = pattern.kinds.isdisjoint(rule.compiled.language.compound)
    return "statement" if is_simple and not looks_around(rule) else "segment"


def looks_around(rule: RuleDefinition) -> bool:
    """Return whether a rule asks for the code that a match lies in."""
    return any(
        isinstance(condition, DeclaredCondition) and condition.reach == "around"
        for condition in leaves(rule.where)
    )


def local_rules(ruleset: Ruleset, language: Language) -> frozenset[str]:
    """Return the names of the rules for a language that look at no more than a segment."""
    return frozenset(
        rule.name
        for rule in ruleset.own_rules
        if rule.language == language.name and locality_of(rule) != "file"
    )


def _is_bounded(pattern: Pattern) -> bool:
    """Return whether all of a match of `pattern` lies in one statement at the top of a file."""
    language = pattern.language
    if len(pattern.roots) != 1 or pattern.without is not None or pattern.meant:
        return False
    return bool(pattern.kinds) and pattern.kinds.isdisjoint(language.bodies)
