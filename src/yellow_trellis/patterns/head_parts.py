"""The parts of a head that code may lack: where they stand among the nodes of a pattern.

A head may carry more than a pattern says: modifiers, annotations, bounds, a result type. The parser
reads a pattern without what is open, and with what may be missing, so that no grammar needs to know
of either. From their bytes follows among which nodes they stand: ``@{~}`` between two tokens is
between the children of the smallest node around both, and at the edges of the nodes in it that end
or start there: what stands in front of ``class`` is a list of modifiers, or more of that list.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis.languages import Language
from yellow_trellis.patterns.notation import Notation, PatternError
from yellow_trellis.patterns.pattern import PlacedPart
from yellow_trellis.patterns.pattern_parse import ParsedPattern
from yellow_trellis.syntax import Node

_BRACKETS = frozenset("()[]{}")
_MOST_OPTIONAL = 5
"""How many parts of one node may be missing: all of their combinations are tried."""


class Insertion(Struct, frozen=True):
    """A part among the items of a node: in front of item `start`, or instead of those to `end`."""

    part: PlacedPart
    start: int
    end: int
    continues: bool = False
    """Whether it goes on with what the part has taken of the node before."""


def placed_parts(
    notation: Notation, parsed: ParsedPattern, sign: str
) -> tuple[PlacedPart, ...]:
    """Return the parts of `notation` in the bytes of the parsed code, in order.

    Arguments: the names of those without one start with `sign`.
    """
    results = []
    data = parsed.tree.source.data
    for part in notation.parts:
        start = parsed.byte_of(notation.code[: part.start])
        end = parsed.byte_of(notation.code[: part.end])
        text = data[start:end]
        start, end = start + len(text) - len(text.lstrip()), start + len(text.rstrip())
        names = frozenset(notation.holes[name].name for name in part.holes)
        hole = part.hole
        if hole.numbered:
            hole = replace(hole, name=sign + hole.name[1:])
        results.append(
            PlacedPart(hole, start, max(start, end), part.gap, part.gap_behind, names)
        )
    return tuple(results)


def insertions(
    parts: Sequence[PlacedPart], roots: Sequence[Node], text: str
) -> Mapping[int, list[Insertion]]:
    """Return by the `id` of a node of the pattern the parts among its items.

    Errors: `PatternError` where a part is no whole number of nodes, or no part of a head.
    """
    results: dict[int, list[Insertion]] = {}
    for part in parts:
        root = _root_of(part, roots)
        found = list(_open(part, root) if part.hole.form == "open" else _optional(part, root))
        if not found:
            raise PatternError(
                "what may be missing here is no whole part of the code around it"
                if part.hole.form == "optional"
                else "nothing else can stand here than what the pattern says",
                text,
                part.hole.at,
                "`@{? code}` and `@{~}` stand for parts of a head, such as modifiers and types; "
                "in a list or a body write `@{_*}`",
            )
        for number, (node, start, end) in enumerate(found):
            results.setdefault(id(node), []).append(Insertion(part, start, end, number > 0))
    for entries in results.values():
        entries.sort(key=lambda entry: (entry.start, entry.end))
        optional = [entry.part.hole for entry in entries if entry.end > entry.start]
        if len(optional) > _MOST_OPTIONAL:
            raise PatternError(
                f"more than {_MOST_OPTIONAL} parts of one head may be missing",
                text,
                optional[-1].at,
                "write `@{~}` where whatever else may stand",
            )
    return results


_Place = tuple[Node, int, int]
"""A node, and the positions of the first item of a part and of the one behind it."""


def _root_of(part: PlacedPart, roots: Sequence[Node]) -> Node:
    """Return the root in which a part stands: between two that on the line of which it stands."""
    for root in roots:
        if part.start < root.end:
            data = root.tree.source.data
            if part.start >= root.start or b"\n" not in data[part.start : root.start]:
                return root
            break
    before = [root for root in roots if root.end <= part.start]
    return before[-1] if before else roots[0]


def _optional(part: PlacedPart, node: Node) -> Iterator[_Place]:
    node = node.core
    for item in node.items:
        if item.start <= part.start and item.end >= part.end and item.span.end > item.start:
            if (item.start, item.end) != (part.start, part.end):
                yield from _optional(part, item)
                return
    inside = [
        at for at, item in enumerate(node.items) if item.start < part.end and item.end > part.start
    ]
    if not inside:
        return
    first, last = node.items[inside[0]], node.items[inside[-1]]
    if (first.start, last.end) == (part.start, part.end):
        yield node, inside[0], inside[-1] + 1


def _open(part: PlacedPart, node: Node) -> Iterator[_Place]:
    """Yield the places of whatever else may stand, in the order of the text."""
    node = node.core
    for item in node.items:
        if item.start < part.start < item.end:
            yield from _open(part, item)
            return
    if not may_have_more(node):
        return
    at = sum(item.start < part.start for item in node.items)
    if at:
        yield from reversed(list(_edges(node.items[at - 1], -1)))
    yield node, at, at
    if at < len(node.items):
        yield from _edges(node.items[at], 0)


def _edges(node: Node, side: int) -> Iterator[_Place]:
    """Yield the starts (`side` 0) or the ends (-1) of a node and of those in it, outer first."""
    node = node.core
    if node.items and may_have_more(node) and node.items[side].kind not in _BRACKETS:
        at = len(node.items) if side else 0
        yield node, at, at
        yield from _edges(node.items[side], side)


def may_have_more(node: Node) -> bool:
    """Return whether a node may be a head, or a piece of one, with more in it than is said."""
    language: Language = node.tree.language
    closed = language.bodies | language.enclosures | language.wrappers
    if node.kind in closed or language.is_literal(node.kind):
        return False
    expressions = language.family("expression") or frozenset()
    if node.kind not in expressions or node.kind in language.heads:
        return True
    return has_body(node)


def has_body(node: Node) -> bool:
    """Return whether statements stand in a node, as in the branch of a choice."""
    bodies = node.tree.language.bodies
    return any(item.field in ("body", "consequence") or item.kind in bodies for item in node.items)
