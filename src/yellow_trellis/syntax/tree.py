"""The tree of one source: the parser's, reached through nodes that are made when needed."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING

from yellow_trellis.source import Span
from yellow_trellis.source.encoding import parseable
from yellow_trellis.syntax.node import Node

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.languages.language import Language
    from yellow_trellis.source import Source


class Tree:
    """The concrete syntax tree of `source` in `language`.

    Law: the bytes of the leaves and of the gaps between them, in order, are the source.
    """

    def __init__(self, source: Source, language: Language) -> None:
        self.source = source
        self.language = language
        self._raw = language.parse(parseable(source.data))
        self._nodes: dict[int, Node] = {}

    @cached_property
    def root(self) -> Node:
        """The node of the whole file.

        Its span is the whole source, also where the parser starts after leading space.
        """
        root = self.wrap(self._raw.root_node)
        root.start, root.end = 0, len(self.source.data)
        return root

    def wrap(self, raw: tree_sitter.Node) -> Node:
        """Return the one node of this tree that stands for the parser's `raw`."""
        node = self._nodes.get(raw.id)
        if node is None:
            kind, end = raw.type, raw.end_byte
            if kind in self.language.comments and self.source.data[end - 1 : end] == b"\r":
                end -= 1  # half of a line ending is no part of a comment
            node = Node(self, raw, kind, raw.start_byte, end)
            self._nodes[raw.id] = node
        return node

    def release(self) -> None:
        """Let go of all nodes, so that memory is free at once; the tree is of no use after."""
        for node in self._nodes.values():
            node.forget()
        self._nodes.clear()

    def leaf_at(self, start: int, end: int | None = None) -> Node | None:
        """Return the smallest node that covers the bytes from `start` to `end` (or one byte)."""
        raw = self._raw.root_node.descendant_for_byte_range(
            start, start + 1 if end is None else end
        )
        if raw is None:
            return None
        atoms = self.language.atoms
        node = self.wrap(raw)
        for above in node.ancestors() if atoms and not raw.is_named else ():
            if above.kind in atoms:
                return above
        if raw.parent is not None and raw.parent.type in atoms:
            return self.wrap(raw.parent)
        return node

    def of_kinds(self, kinds: frozenset[str]) -> list[Node]:
        """Return all nodes of the given kinds, in source order, outer before inner."""
        found = [self.wrap(raw) for raw in self.language.find_kinds(kinds, self._raw.root_node)]
        found.sort(key=lambda node: (node.start, -node.end))
        return found

    def comments(self) -> list[Node]:
        """Return all comments, in source order."""
        return self.of_kinds(self.language.comments)

    @cached_property
    def errors(self) -> tuple[tree_sitter.Node, ...]:
        """The parser's nodes for what it could make no sense of; none in a sound file."""
        found = []
        stack = [self._raw.root_node] if self._raw.root_node.has_error else []
        while stack:
            raw = stack.pop()
            if raw.is_error or raw.is_missing:
                found.append(raw)
            stack.extend(child for child in raw.children if child.has_error or child.is_missing)
        return tuple(found)

    @cached_property
    def broken(self) -> tuple[Span, ...]:
        """The spans of the statements with errors in them, or of the errors between statements.

        In source order; none in a sound file.
        """
        found: set[Span] = set()
        for raw in self.errors:
            while raw.parent is not None and raw.parent.type not in self.language.bodies:
                raw = raw.parent
            found.add(Span(raw.start_byte, raw.end_byte))
        return tuple(sorted(found))

    def pieces(self) -> Iterator[tuple[bytes, Node | None]]:
        """Yield every leaf and gap in order; joined, they are the source. A gap has no node."""
        data, end = self.source.data, 0
        for leaf in self.root.leaves():
            if leaf.start > end:
                yield data[end : leaf.start], None
            if leaf.end > leaf.start:
                yield leaf.data, leaf
            end = max(end, leaf.end)
        if end < len(data):
            yield data[end:], None
