"""Expressions that the grammar of the parser groups otherwise than the compiler of the language.

Some grammars let ``a == b && c`` hold together as ``a == (b && c)``. To turn such nodes round was
refused: queries, the proof and the facts of names read the parser's own nodes, and all of them
would have to know. What is wrong is told instead, and nothing is written there.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis.source import Span
from yellow_trellis.syntax.queries import StructureQuery

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.languages import Language
    from yellow_trellis.languages.precedence import ExpressionNode
    from yellow_trellis.syntax.node import Node
    from yellow_trellis.syntax.tree import Tree


def misgrouped(
    tree: Tree, places: Iterable[tuple[int, int]] | None = None
) -> dict[int, tree_sitter.Node]:
    """Return by their `id` the parser's nodes that are grouped wrongly, in source order.

    Both are there, the outer node and the one in it that the compiler has around it.
    Arguments: `places` are spans of code, in bytes, in whose statements they are sought; everywhere
    if left out.
    """
    nodes: dict[int, tree_sitter.Node] = {}
    table = tree.language.misgrouped
    if not table:
        return nodes
    for inner, outer in _pairs(tree) if places is None else _pairs_around(tree, places):
        for entry in table.get((inner.type, outer.type), ()):
            word = entry.text
            if word and tree.source.data[inner.start_byte : inner.end_byte] != word.encode():
                continue
            if entry.fits(inner, outer):
                node = _Word(f"{word}_expression") if word else tree.wrap(inner)
                nodes[inner.id] = inner
                nodes.update((raw.id, raw) for raw in _around(tree.wrap(outer), node))
    return dict(sorted(nodes.items(), key=lambda item: (item[1].start_byte, -item[1].end_byte)))


@cache
def queries_of(language: Language) -> tuple[StructureQuery, ...]:
    """Return what finds the nodes that may be in a wrong one."""
    table = language.misgrouped
    kinds = frozenset(kind for (kind, _), entries in table.items() if not entries[0].text)
    return (StructureQuery(kinds),) if kinds else ()


_Pair = tuple["tree_sitter.Node", "tree_sitter.Node"]


def _pairs(tree: Tree) -> Iterator[_Pair]:
    """Yield the nodes of a tree that may be in a wrong one, each with its parent."""
    table = tree.language.misgrouped
    words = {entry.text for entries in table.values() for entry in entries if entry.text}
    found = [
        tree.raw_around(at, at + len(word))
        for word in words
        for at in tree.hits(word.encode(), whole_word=True)
    ]
    found += [raw for query in queries_of(tree.language) for raw in tree.query(query)]
    for raw in found:
        if raw is not None and raw.parent is not None:
            yield raw, raw.parent


def _pairs_around(tree: Tree, places: Iterable[tuple[int, int]]) -> Iterator[_Pair]:
    """Yield the nodes in the expressions around some places, each with its parent."""
    bodies = tree.language.bodies
    outer = {kind for _, kind in tree.language.misgrouped}
    seen: set[int] = set()
    for start, end in places:
        raw = tree.raw_around(start, end)
        while raw is not None and raw.id not in seen and raw.type not in bodies:
            seen.add(raw.id)
            stack = [raw]
            while stack:
                node = stack.pop()
                first = node.named_child(0) if node.named_child_count else None
                for child in node.named_children if node.type in outer else (first,):
                    if child is None:
                        continue
                    yield child, node
                    if child.id not in seen and (child == first or child.type in outer):
                        seen.add(child.id)
                        stack.append(child)
            raw = raw.parent


class _Word(NamedTuple):
    """The expression that a word begins, where the grammar has made another one."""

    kind: str
    children: tuple[Node, ...] = ()

    def child(self, field: str) -> None:
        """Return nothing: only its kind is known."""


def _around(outer: Node, inner: ExpressionNode) -> Iterator[tree_sitter.Node]:
    """Yield `outer`, and what around it the compiler has in `inner` as well."""
    precedence = outer.tree.language.precedence
    node: Node | None = outer
    while node is not None and node.raw is not None:
        yield node.raw
        above = node.parent
        if above is None or precedence.stands_bare(inner, precedence.demand(above, node.field)):
            return
        node = above


def first_misgrouped(tree: Tree, spans: Sequence[Span]) -> Span | None:
    """Return the first of `spans` at which a node is grouped wrongly, or is part of such a node."""
    wrong = misgrouped(tree, spans)
    for span in spans if wrong else ():
        raw = tree.raw_around(span.start, span.end)
        while raw is not None and raw.parent is not None and _ends(raw) == _ends(raw.parent):
            raw = raw.parent
        if raw is not None and (
            raw.id in wrong or (raw.parent is not None and raw.parent.id in wrong)
        ):
            return span
    return None


def _ends(raw: tree_sitter.Node) -> tuple[int, int]:
    return raw.start_byte, raw.end_byte
