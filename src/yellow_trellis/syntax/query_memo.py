"""The findings of queries in pieces of a text: equal pieces of the next text need no query.

A piece is a node without syntax errors. What it holds is told by its kind, the kind of what it
stands in, and its text; so the places of what was found in it lead to the nodes of another tree.
"""

from __future__ import annotations

from typing import NamedTuple

import tree_sitter

Captures = dict[str, list[tree_sitter.Node]]


class _Place(NamedTuple):
    """The place of a node: bytes from the start of its piece, and its kind."""

    name: str
    start: int
    end: int
    kind: int


class QueryMemo:
    """The places at which one query found nodes, by piece."""

    def __init__(self) -> None:
        self._before: dict[tuple[str, str, bytes], tuple[_Place, ...]] = {}
        self._now: dict[tuple[str, str, bytes], tuple[_Place, ...]] = {}

    def begin(self) -> None:
        """Start on the next text; what was in none of the pieces of the last is forgotten."""
        self._before, self._now = self._now, {}

    def captures(
        self, piece: tree_sitter.Node, data: bytes, query: tree_sitter.QueryCursor
    ) -> Captures:
        """Return what a query captures in a piece of the text `data`."""
        if piece.has_error:
            return query.captures(piece)
        above = piece.parent
        start = piece.start_byte
        key = (above.type if above is not None else "", piece.type, data[start : piece.end_byte])
        places = self._now.get(key, self._before.get(key))
        captures = _captures_at(places, piece, start) if places is not None else None
        if captures is None:
            captures = query.captures(piece)
            places = _places(captures, start)
        if places is not None and len(set(places)) == len(places):
            self._now[key] = places  # else two nodes of one kind are in one place
        return captures


def _places(captures: Captures, start: int) -> tuple[_Place, ...]:
    return tuple(
        _Place(name, node.start_byte - start, node.end_byte - start, node.kind_id)
        for name, nodes in captures.items()
        for node in nodes
    )


def _captures_at(
    places: tuple[_Place, ...], piece: tree_sitter.Node, start: int
) -> Captures | None:
    """Return the nodes of a piece at some places; None where one is not there."""
    captures: Captures = {}
    for place in places:
        node = _node_at(piece, start, place)
        if node is None:
            return None
        captures.setdefault(place.name, []).append(node)
    return captures


def _node_at(piece: tree_sitter.Node, start: int, place: _Place) -> tree_sitter.Node | None:
    first, end = start + place.start, start + place.end
    node = piece.descendant_for_byte_range(first, end)
    while node is not None and (
        node.kind_id != place.kind or node.start_byte != first or node.end_byte != end
    ):
        node = node.parent
    return node
