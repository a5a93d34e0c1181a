"""How far a rule looks: what of a file may change what it finds at a place."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import Literal

from yellow_trellis.languages import Language
from yellow_trellis.patterns import Pattern, compile_pattern
from yellow_trellis.rules.conditions import Among, Around, Condition, Count, Taken
from yellow_trellis.rules.definition import Rule

Reach = Literal["expression", "statement"]
"""How far a rule looks that does not look at all of a file: at a statement in a class as if it
stood alone, or at a statement at the top of the file as a whole."""


Hoped = Literal["line", "nested", "head", "block", "expression", "outline", "statement", "file"]
"""How much of a file a rule needs to see: the line of a statement, be it only its header; that,
and the headers of the functions and classes around it; the header of a statement or clause as such;
a statement with its body; a statement in a class; of a class the header and the end; a statement at
the top of the file; all."""


@lru_cache(maxsize=4096)
def hoped_reach(rule: Rule) -> Hoped:
    """Return how much a rule needs to see; if in code, unless it is seen to look further."""
    reach = _hoped(rule)
    if reach != "expression":
        return reach
    kinds = rule.pattern.kinds if rule.pattern is not None else rule.visited
    is_simple = kinds.isdisjoint(rule.language.compound)
    if _looks_around(rule):
        return "nested" if is_simple and _sees_headers(rule) else reach
    if is_simple:
        return "line"
    if rule.pattern is None:
        return "head" if kinds & rule.language.compound <= rule.language.headed else "block"
    lead = rule.approach.lead
    return "expression" if lead is not None and lead.in_body else "block"


def _hoped(rule: Rule) -> Hoped:
    language = rule.language
    if rule.check is None:
        reach = reach_of(rule, language)
        if reach != "statement" or rule.pattern is None:
            return reach
        if not all(_sees_outline(one, rule.pattern) for one in _insides(rule)):
            return "statement"
        if not _encloses(rule.pattern, language):
            return "expression"
        return "outline" if _wants_outline(rule, rule.pattern) else "statement"
    if rule.pattern is not None:
        return _reach_of_pattern(rule, rule.pattern, language)
    if rule.telltales is None:
        return "file"
    return "expression" if rule.visited.isdisjoint(language.enclosing) else "statement"


def _wants_outline(rule: Rule, pattern: Pattern) -> bool:
    """Return whether nothing that a rule asks or tells depends on the members of a class."""
    hole = _open_body(pattern)
    if hole is None or f"@{{{hole}" in (rule.message or ""):
        return False
    return all(
        isinstance(one, Taken) and hole not in (one.hole, one.equal_to) for one in rule.where
    )


@lru_cache(maxsize=4096)
def keeps_body(rule: Rule) -> bool:
    """Return whether the fix of a declared rule leaves the body of the statement found as it is."""
    if rule.pattern is None or rule.template is None or rule.asked:
        return False
    roots = (*rule.pattern.roots, *rule.template.shape.roots)
    if len(roots) != 2 or roots[0].kind != roots[1].kind:
        return False
    hole = _open_body(rule.pattern)
    return hole is not None and hole == _open_body(rule.template.shape)


def _open_body(pattern: Pattern) -> str | None:
    """Return the hole that takes all of a body whatever it is, if the pattern ends in one."""
    (root,) = pattern.roots
    body = root.items[-1] if root.items else None
    if body is None or body.kind not in pattern.language.bodies or len(body.items) != 1:
        return None
    inner, hole = body.items[0], body.items[0].hole
    if hole is None or not hole.many or hole.least > 1 or hole.most is not None:
        return None
    uses = sum(
        shape.hole is not None and shape.hole.name == hole.name
        for shape in pattern.stand_ins.values()
    )
    if inner.kinds is not None or inner.regex is not None or (hole.remembered and uses > 1):
        return None
    return hole.name


def _insides(rule: Rule) -> Iterator[Pattern]:
    """Yield the patterns of code in which a match is asked to lie, or not to."""
    for condition in rule.where:
        for one in _flat(condition):
            if isinstance(one, Around) and one.relation == "inside":
                yield compile_pattern(one.pattern, rule.language)


def _flat(condition: Condition) -> Iterator[Condition]:
    if isinstance(condition, Among):
        for one in condition.conditions:
            yield from _flat(one)
    else:
        yield condition


def _looks_around(rule: Rule) -> bool:
    return next(_insides(rule), None) is not None


def _sees_headers(rule: Rule) -> bool:
    """Return whether a rule asks no more of what is around a match than headers of definitions."""
    return rule.pattern is not None and all(
        _sees_outline(other, rule.pattern)
        and other.kinds <= rule.language.definitions
        and _sees_header(other, rule.pattern)
        for other in _insides(rule)
    )


def _sees_outline(other: Pattern, pattern: Pattern) -> bool:
    """Return whether `other` around a match asks no more of a class than its header."""
    if len(other.roots) != 1 or not other.kinds or other.without is not None:
        return False
    return not _encloses(other, other.language) or _sees_header(other, pattern)


def _sees_header(other: Pattern, pattern: Pattern) -> bool:
    """Return whether `other` around a match takes whatever body there is."""
    body = _open_body(other)
    return body is not None and body not in pattern.holes


def reach_of(rule: Rule, language: Language) -> Reach | Literal["file"]:
    """Return how far a rule looks: over an ``expression``, a ``statement``, or the ``file``."""
    if rule.pattern is None or rule.check is not None or rule.across is not None:
        return "file"
    return _reach_of_pattern(rule, rule.pattern, language)


def _reach_of_pattern(rule: Rule, pattern: Pattern, language: Language) -> Reach | Literal["file"]:
    if rule.asked or len(pattern.roots) != 1 or pattern.without is not None or pattern.meant:
        return "file"
    if not pattern.kinds or not all(map(_is_local, rule.where)) or rule.approach.lead is None:
        return "file"
    return "statement" if _looks_around(rule) or _encloses(pattern, language) else "expression"


def _encloses(pattern: Pattern, language: Language) -> bool:
    return not pattern.kinds.isdisjoint(language.enclosing)


def _is_local(condition: Condition) -> bool:
    """Return whether a condition looks at nothing beyond the top-level statement of the match."""
    if isinstance(condition, Among):
        return all(map(_is_local, condition.conditions))
    if isinstance(condition, Around):
        return condition.relation in ("inside", "holds")
    return isinstance(condition, (Taken, Count))
