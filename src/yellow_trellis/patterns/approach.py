"""How a search comes to the nodes at which a match may start, and what it asks of them first.

A pattern of holes alone has no token to look for. Where a hole asks for a word, that leads to it;
else every node of its kind is a candidate, and those that do not match are to cost no more than a
look at the kinds of their parts.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable

import tree_sitter

from yellow_trellis.patterns.clues import led_by_hole
from yellow_trellis.patterns.pattern import Clue, Pattern, Shape
from yellow_trellis.records import record


@record(frozen=True)
class Asked:
    """What is asked of all that a hole takes."""

    hole: str
    kinds: frozenset[str] | None = None
    regex: re.Pattern[str] | None = None


@record(frozen=True)
class Guard:
    """What the part of a node that stands in a field must be."""

    field: str
    kinds: frozenset[str] | None
    """Its kinds; those of brackets and wrappers among them, in which anything may be."""
    regex: re.Pattern[str] | None

    def passes(self, raw: tree_sitter.Node, data: bytes) -> bool:
        """Return whether a node of the parser, in `data`, may match."""
        part = raw.child_by_field_name(self.field)
        if part is None:
            return True
        if self.kinds is not None and part.type not in self.kinds:
            return False
        if self.regex is None:
            return True
        text = data[part.start_byte : part.end_byte].decode("utf-8", "replace")
        return self.regex.fullmatch(text) is not None


@record(frozen=True)
class Approach:
    """How to come to the nodes at which a match may start."""

    lead: Clue | None
    """What is looked for in the bytes; none where all nodes of the right kinds are visited."""
    guards: tuple[Guard, ...] = ()
    """What is asked of the nodes that are visited."""


def approach_of(pattern: Pattern, asked: Iterable[Asked] = ()) -> Approach:
    """Return how to come to the matches of `pattern`.

    Arguments: `asked` is what a rule asks of holes beside the pattern.
    """
    if pattern.lead is not None:
        return Approach(pattern.lead)
    root = pattern.roots[0]
    if len(pattern.roots) > 1 or root.hole is not None or pattern.without is not None:
        return Approach(None)
    asked = list(asked)
    own = [Asked(shape.key, None, shape.regex) for shape in pattern.stand_ins.values()]
    for one in (*own, *asked):
        if one.regex is not None:
            lead = led_by_hole(root, one.hole, one.regex.pattern, pattern.language)
            if lead is not None:
                return Approach(lead)
    return Approach(None, _guards_of(pattern, asked))


def _guards_of(pattern: Pattern, asked: list[Asked]) -> tuple[Guard, ...]:
    """Return what the parts of any match must be, cheapest first."""
    root = pattern.roots[0]
    found = []
    fields = Counter(shape.field for shape in root.items)
    for shape in root.items:
        several = shape.hole is not None and shape.hole.many
        if shape.field is None or several or fields[shape.field] > 1:
            continue
        own = Asked("", _kinds(shape, pattern), shape.regex)
        name = shape.hole.name if shape.hole is not None else None
        for one in (own, *(one for one in asked if one.hole == name)):
            kinds = one.kinds
            if kinds is not None:
                kinds |= pattern.language.thin
            if kinds is not None or one.regex is not None:
                found.append(Guard(shape.field, kinds, one.regex))
    return tuple(sorted(found, key=lambda guard: guard.regex is not None))


def _kinds(shape: Shape, pattern: Pattern) -> frozenset[str] | None:
    """Return the kinds of what a shape fits; None where it fits more than can be told by kinds."""
    if shape.hole is not None:
        return shape.kinds
    if shape.meaning:
        return None
    same = {kind for kind, as_ in pattern.language.same_kinds.items() if as_ == shape.kind}
    return frozenset({shape.kind, *same})
