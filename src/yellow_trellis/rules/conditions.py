"""When a match counts: conditions on its holes and on the code around it, nested at will.

A condition is plain data; `compile` turns it into a check for one language. Checks are run cheapest
first: what a hole took, then where the match stands, then what else is in the code.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple, Union

from yellow_trellis.languages import Language
from yellow_trellis.patterns import Match, Pattern, PatternError, compile_pattern, seek
from yellow_trellis.patterns.match import Captures
from yellow_trellis.patterns.prefilter import HoleConstraint
from yellow_trellis.patterns.search import fits_at, stands_in
from yellow_trellis.syntax import Node, same_code

Predicate = Callable[[Match], bool]
"""A condition in Python: a function of the match."""


class Check(NamedTuple):
    """A compiled condition. `cost` says roughly how dear it is, for the order."""

    cost: int
    met: Predicate


class HoleCondition(NamedTuple):
    """A condition on what the hole `hole` took; everything given must hold."""

    hole: str
    kind: str | None = None
    """Of this kind or family."""
    text: str | None = None
    """Its text matches this regular expression in full."""
    equal_to: str | None = None
    """It is the same code as what this other hole took."""
    one_of: tuple[str, ...] = ()
    """Its text is one of these."""
    least: float | None = None
    most: float | None = None
    """It is a number in this range, both ends included."""

    def __str__(self) -> str:
        table: dict[str, object] = {"kind": self.kind, "text": self.text, "equal to": self.equal_to}
        table |= {"least": self.least, "most": self.most, "one of": ", ".join(self.one_of) or None}
        text = ", ".join(f"{name} {value}" for name, value in table.items() if value is not None)
        return f"@{{{self.hole}}}: {text}"

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` for an unknown hole or kind."""
        for name in filter(None, (self.hole, self.equal_to)):
            _require(pattern, name)
        kinds = None
        if self.kind is not None:
            kinds = pattern.language.family(self.kind)
            if kinds is None:
                raise PatternError(f"{pattern.language.name} has no kind or family `{self.kind}`")
        regex = None if self.text is None else _regex(self.text)

        def met(match: Match) -> bool:
            run = match.run_of(self.hole)
            return all(self._fits(node, kinds, regex, match) for node in run)

        return Check(1, met)

    def _fits(
        self,
        node: Node,
        kinds: frozenset[str] | None,
        regex: re.Pattern[str] | None,
        match: Match,
    ) -> bool:
        if kinds is not None and not {node.kind, node.bare.kind, node.core.kind} & kinds:
            return False
        if regex is not None and regex.fullmatch(node.text) is None:
            return False
        if self.one_of and node.text not in self.one_of:
            return False
        if self.equal_to is not None:
            second = match.run_of(self.equal_to)
            if len(second) != 1 or not same_code(node, second[0]):
                return False
        if self.least is None and self.most is None:
            return True
        value = _number(node)
        return value is not None and (
            (self.least is None or value >= self.least)
            and (self.most is None or value <= self.most)
        )


class CountCondition(NamedTuple):
    """The hole `hole`, one for several, took at least `least` and at most `most` nodes."""

    hole: str
    least: int = 0
    most: int | None = None

    def __str__(self) -> str:
        limit = "" if self.most is None else f", {self.most} at most"
        return f"@{{{self.hole}}}: {self.least} at least{limit}"

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` for an unknown hole."""
        _require(pattern, self.hole)

        def met(match: Match) -> bool:
            count = len(match.run_of(self.hole))
            return self.least <= count and (self.most is None or count <= self.most)

        return Check(1, met)


RELATIONS = ("within", "directly_within", "holds", "before", "after", "first", "last")


class RelationCondition(NamedTuple):
    """A relation to other code. Holes of the same name stand for equal code."""

    relation: str
    """One of `RELATIONS`."""
    pattern: str = ""
    """What the other code looks like; empty for ``first`` and ``last``."""

    def __str__(self) -> str:
        return f"{self.relation.replace('_', ' ')} {self.pattern}".strip()

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` for a pattern that cannot be used."""
        if self.relation in ("first", "last"):
            end = 0 if self.relation == "first" else -1
            return Check(2, lambda match: _stands(match, end))
        second = compile_pattern(self.pattern, pattern.language)
        cost, related = _RELATED[self.relation]
        return Check(cost, lambda match: related(match, second))


class CombinedCondition(NamedTuple):
    """Several conditions: ``any``, ``all`` or ``none`` of them must be met."""

    how: str
    conditions: tuple[Condition, ...]

    def __str__(self) -> str:
        return f"{self.how} of: {'; '.join(map(str, self.conditions))}"

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` from any of the conditions."""
        checks = sorted((compiled(c, pattern) for c in self.conditions), key=lambda c: c.cost)
        cost = sum(check.cost for check in checks)
        if self.how == "any":
            return Check(cost, lambda match: any(check.met(match) for check in checks))
        if self.how == "all":
            return Check(cost, lambda match: all(check.met(match) for check in checks))
        return Check(cost, lambda match: not any(check.met(match) for check in checks))


Condition = Union[HoleCondition, CountCondition, RelationCondition, CombinedCondition, Predicate]


def compiled(condition: Condition, pattern: Pattern) -> Check:
    """Make the check of any condition. Errors: `PatternError`."""
    if isinstance(condition, (HoleCondition, CountCondition, RelationCondition, CombinedCondition)):
        return condition.compile(pattern)
    if not callable(condition):
        raise PatternError(f"{condition!r} is no condition")
    return Check(100, condition)


def hole_constraints(
    conditions: Iterable[Condition], language: Language
) -> Iterator[HoleConstraint]:
    """Yield what conditions that must all be met ask of the nodes that holes take."""
    for condition in conditions:
        if isinstance(condition, CombinedCondition) and condition.how == "all":
            yield from hole_constraints(condition.conditions, language)
        elif isinstance(condition, HoleCondition):
            kinds = language.family(condition.kind) if condition.kind is not None else None
            regex = _regex(condition.text) if condition.text is not None else None
            yield HoleConstraint(condition.hole, kinds, regex)


def contained_patterns(conditions: Iterable[Condition], language: Language) -> Iterator[Pattern]:
    """Yield what must stand in a match for all of the conditions to be met, if tokens tell it."""
    for condition in conditions:
        if isinstance(condition, CombinedCondition) and condition.how == "all":
            yield from contained_patterns(condition.conditions, language)
        elif isinstance(condition, RelationCondition) and condition.relation == "holds":
            second = compile_pattern(condition.pattern, language)
            if second.lead is not None and second.lead.chain is not None and second.without is None:
                yield second


# ---------------------------------------------------------------- as they are written


def any_of(*conditions: Condition) -> CombinedCondition:
    """Return a condition that is met when any of these is."""
    return CombinedCondition("any", conditions)


def all_of(*conditions: Condition) -> CombinedCondition:
    """Return a condition that is met when all of these are."""
    return CombinedCondition("all", conditions)


def none_of(*conditions: Condition) -> CombinedCondition:
    """Return a condition that is met when none of these is."""
    return CombinedCondition("none", conditions)


def within(pattern: str) -> RelationCondition:
    """Return a condition: the match lies in code that `pattern` matches, at any depth."""
    return RelationCondition("within", pattern)


def directly_within(pattern: str) -> RelationCondition:
    """Return a condition: what holds the match, without anything between, matches `pattern`."""
    return RelationCondition("directly_within", pattern)


def holds(pattern: str) -> RelationCondition:
    """Return a condition: `pattern` matches somewhere in the match."""
    return RelationCondition("holds", pattern)


def before(pattern: str) -> RelationCondition:
    """Return a condition: a later neighbour in the same body or list matches `pattern`."""
    return RelationCondition("before", pattern)


def after(pattern: str) -> RelationCondition:
    """Return a condition: an earlier neighbour in the same body or list matches `pattern`."""
    return RelationCondition("after", pattern)


def first() -> RelationCondition:
    """Return a condition: the match is the first in its body or list."""
    return RelationCondition("first")


def last() -> RelationCondition:
    """Return a condition: the match is the last in its body or list."""
    return RelationCondition("last")


def taken(
    hole: str,
    *,
    kind: str | None = None,
    text: str | None = None,
    equal_to: str | None = None,
    one_of: Iterable[str] = (),
    least: float | None = None,
    most: float | None = None,
) -> HoleCondition:
    """Return a condition on what the hole `hole` took; see `HoleCondition`."""
    return HoleCondition(hole, kind, text, equal_to, tuple(one_of), least, most)


def count(hole: str, *, least: int = 0, most: int | None = None) -> CountCondition:
    """Return a condition on how many nodes the hole `hole` took."""
    return CountCondition(hole, least, most)


# ---------------------------------------------------------------- how they are checked


def _require(pattern: Pattern, name: str) -> None:
    if name not in pattern.holes:
        entry = ", ".join(f"`{hole}`" for hole in pattern.holes) or "none"
        raise PatternError(
            f"a condition asks for the hole `{name}`, which the pattern does not have; "
            f"it has {entry}"
        )


def _regex(text: str) -> re.Pattern[str]:
    try:
        return re.compile(text, re.DOTALL)
    except (re.error, OverflowError, RecursionError) as wrong:
        raise PatternError(f"a condition is no regular expression: {wrong}", text) from None


def _number(node: Node) -> float | None:
    language: Language = node.tree.language
    sign = 1.0
    core = node.core
    if core.kind.startswith("unary") and len(core.items) == 2 and core.items[0].text == "-":
        sign, core = -1.0, core.items[1].core
    if not language.is_literal(core.kind):
        return None
    try:
        value = language.literal_forms.value(core.text)
    except ValueError:
        return None
    return sign * value if isinstance(value, (int, float)) else None


def _statement(match: Match) -> Node:
    """Return the outermost node that is nothing but the match: an item of a body or list."""
    node = match.node
    thin = node.tree.language.wrappers | node.tree.language.brackets
    while (above := node.parent) is not None and above.kind in thin and len(above.items) == 1:
        node = above
    return node


def _neighbours(match: Match) -> tuple[tuple[Node, ...], int, int]:
    """Return the items around the match that are more than tokens, and its first and last place."""
    start = _statement(match)
    parent = start.parent
    if parent is None:
        return (), 0, 0
    items = tuple(item for item in parent.items if item.named)
    at = next((i for i, item in enumerate(items) if item is start), 0)
    return items, at, at + len(match.nodes) - 1


def _stands(match: Match, end: int) -> bool:
    items, begin, stop = _neighbours(match)
    return bool(items) and (begin == 0 if end == 0 else stop == len(items) - 1)


def _common_captures(match: Match, pattern: Pattern) -> Captures:
    """Return what holes took that stand in `pattern` too."""
    return {name: match.takes[name] for name in match.pattern.holes if name in pattern.holes}


def _within(match: Match, pattern: Pattern) -> bool:
    return stands_in(match, pattern, _common_captures(match, pattern))


def _directly_within(match: Match, pattern: Pattern) -> bool:
    language = match.tree.language
    argument = _common_captures(match, pattern)
    passed = language.wrappers | language.brackets | language.bodies
    for above in match.node.ancestors():
        if fits_at(pattern, above, argument):
            return True
        if above.kind not in passed and not (above.kind in language.lists and above.field):
            return False
    return False


def _holds(match: Match, pattern: Pattern) -> bool:
    result = seek(pattern, match.tree, match.span, _common_captures(match, pattern))
    return any(item.span != match.span for item in result)


def _before(match: Match, pattern: Pattern) -> bool:
    items, _, stop = _neighbours(match)
    argument = _common_captures(match, pattern)
    return any(fits_at(pattern, item, argument) for item in items[stop + 1 :])


def _after(match: Match, pattern: Pattern) -> bool:
    items, begin, _ = _neighbours(match)
    argument = _common_captures(match, pattern)
    return any(fits_at(pattern, item, argument) for item in items[:begin])


_RELATED: dict[str, tuple[int, Callable[[Match, Pattern], bool]]] = {
    "within": (5, _within),
    "directly_within": (4, _directly_within),
    "before": (10, _before),
    "after": (10, _after),
    "holds": (20, _holds),
}
