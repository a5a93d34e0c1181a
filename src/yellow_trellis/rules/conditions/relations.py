"""Conditions on the code around a match, beside it and in it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any, ClassVar

from yellow_trellis.languages import Language
from yellow_trellis.patterns import Match, Pattern, compile_pattern, seek
from yellow_trellis.patterns.match import Captures
from yellow_trellis.patterns.search import fits_at, stands_in
from yellow_trellis.rules.conditions.condition import Check, DeclaredCondition, Nested, Reach
from yellow_trellis.schema import FLAG, STRING
from yellow_trellis.syntax import Node


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


RELATIONS: dict[str, tuple[int, Callable[[Match, Pattern], bool]]] = {
    "within": (5, _within),
    "directly_within": (4, _directly_within),
    "before": (10, _before),
    "after": (10, _after),
    "holds": (20, _holds),
}
"""By name: its cost, and whether a match has the relation to code that a pattern fits."""
_REACH: dict[str, Reach] = {"holds": "match", "within": "around"}
ENDS = ("first", "last")
"""Relations to the body or list that a match stands in."""


class RelationCondition(DeclaredCondition, frozen=True):
    """A relation to other code. Holes of the same name stand for equal code."""

    forms: ClassVar[Mapping[str, Mapping[str, str]]] = {
        **{name: {name: STRING} for name in RELATIONS},
        **{name: {name: FLAG} for name in ENDS},
    }

    relation: str
    """One of `RELATIONS` and `ENDS`."""
    pattern: str = ""
    """What the other code looks like; empty for ``first`` and ``last``."""

    def __str__(self) -> str:
        return f"{self.relation.replace('_', ' ')} {self.pattern}".strip()

    @classmethod
    def from_table(cls, key: str, table: Mapping[str, Any], nested: Nested) -> RelationCondition:
        """Return the condition of a table such as ``{ within = "f(@{_*})" }``."""
        return RelationCondition(key, "" if key in ENDS else table[key])

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` for a pattern that cannot be used."""
        if self.relation in ENDS:
            end = 0 if self.relation == "first" else -1
            return Check(2, lambda match: _stands(match, end))
        second = compile_pattern(self.pattern, pattern.language)
        cost, related = RELATIONS[self.relation]
        return Check(cost, lambda match: related(match, second))

    @property
    def reach(self) -> Reach:
        """The farthest code that it looks at."""
        return _REACH.get(self.relation, "file")

    def patterns(self, language: Language) -> Iterator[Pattern]:
        """Yield the pattern that it compares other code with."""
        if self.relation not in ENDS:
            yield compile_pattern(self.pattern, language)

    def contained_patterns(self, language: Language) -> Iterator[Pattern]:
        """Yield what the match must hold."""
        for second in self.patterns(language) if self.relation == "holds" else ():
            if second.lead is not None and second.lead.chain is not None and second.without is None:
                yield second


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
