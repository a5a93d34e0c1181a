"""The concrete syntax tree of one source."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cached_property
from typing import TYPE_CHECKING

from yellow_trellis.source import Sightings, Source, Span, words_at
from yellow_trellis.source.encoding import parseable
from yellow_trellis.syntax.cut import BodyNode, CutNode, HeadNode, UnknownNode
from yellow_trellis.syntax.node import Node

if TYPE_CHECKING:
    from typing import Protocol

    import tree_sitter

    from yellow_trellis.languages import Language, Parsed

    class Releasable(Protocol):
        """What can let go of all it holds."""

        def release(self) -> None:
            """Let go of everything, so that memory is free at once."""
            ...


_MANY, _DEEP = 500, 200
"""Nodes sought after which it is looked how deep they lie, and how deep is far from the root."""


def _moved(cursor: tree_sitter.TreeCursor, start: int, end: int) -> tree_sitter.Node | None:
    """Move a cursor to the smallest node that covers the bytes `start` to `end`."""
    node = cursor.node
    while node is not None and not (node.start_byte <= start and end <= node.end_byte):
        if not cursor.goto_parent():
            return node
        node = cursor.node
    while cursor.goto_first_child_for_byte(start) is not None:
        inner = cursor.node
        if inner is None or not (inner.start_byte <= start and end <= inner.end_byte):
            cursor.goto_parent()
            break
    return cursor.node


class Tree:
    """The concrete syntax tree of `source` in `language`.

    Law: the bytes of the leaves and of the gaps between them, in order, are the source.

    A tree of which `only` some spans are parsed is one for looking: what lies elsewhere is a gap.
    """

    def __init__(
        self,
        source: Source,
        language: Language,
        context: Callable[[], object] | None = None,
        only: Parsed | None = None,
        sightings: Sightings | None = None,
    ) -> None:
        self.source = source
        self._given = source
        self.language = language
        self.context = context
        """Gives what is known of the code around the file, for those who ask for facts."""
        self.facts: Releasable | None = None
        """What was found out about the names in the file."""
        self._raw = language.parse(parseable(source.data), only.spans if only is not None else None)
        self.only = only
        """What is parsed; all of the file if None."""
        self.sightings = sightings or Sightings(source.data)
        """What the bytes of the file hold."""
        self._is_watched = False
        self.went_beyond = False
        """Whether, while it was watched, anybody looked beyond what is parsed."""
        self.splits_line_ends = b"\r" in source.data
        """Whether, to the parser, a node may end in the middle of a line ending."""
        self.peculiar = language.comments | language.space_kinds
        """The kinds of which not every node is made and kept as the parser has it."""
        self._cuttable: frozenset[str] = frozenset()
        """The kinds of nodes of which only a part may be parsed."""
        self._headed = language.headed | language.definitions
        """The kinds of nodes of which the header may be parsed without all of the body."""
        if only is not None:
            self._cuttable = language.enclosing
            if only.apart:
                self._cuttable |= language.compound
        self.peculiar |= self._cuttable
        self._cursor: tree_sitter.TreeCursor | None = None
        """Where a node was last found, in a tree whose nodes lie deep."""
        self._asked = 0
        self.known: dict[int, Node] = {}
        """The nodes that have been reached, by what the parser calls each."""
        self._foreseen: frozenset[str] = frozenset()
        self._of_kind: list[tuple[str, tree_sitter.Node]] | None = None
        self.visited: dict[frozenset[str], list[Node]] = {}
        """By kinds: their nodes, for whoever has asked for all of them."""

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
        node = self.known.get(raw.id)
        if node is None:
            kind, start, end = raw.type, raw.start_byte, raw.end_byte
            made = Node
            if self.splits_line_ends and (
                self.source.data[end - 1 : end + 1] == b"\r\n"
                or (kind in self.language.comments and self.source.data[end - 1 : end] == b"\r")
            ):
                end -= 1  # half of a line ending is no part of a comment, and what ends with one
            if self.only is not None and kind in self._cuttable:
                made = self._class_of(raw, kind, start, self.only)
            node = self.known[raw.id] = made(self, raw, kind, start, end)
        return node

    def _class_of(self, raw: tree_sitter.Node, kind: str, start: int, only: Parsed) -> type[Node]:
        """Return what stands for a node of the parser of which not all may be parsed."""
        above = raw.parent
        if above is None:
            return UnknownNode if only.apart else CutNode
        if only.apart and kind in self.language.bodies and above.type in self._headed:
            return BodyNode if only.is_cut(above.start_byte) else Node
        if only.is_cut(start):
            return HeadNode if only.apart and kind in self.language.headed else CutNode
        return Node

    @contextmanager
    def watched(self) -> Iterator[None]:
        """Take note, meanwhile, of whether anybody looks beyond what is parsed."""
        before, self._is_watched = self._is_watched, self.only is not None
        try:
            yield
        finally:
            self._is_watched = before

    @property
    def is_watched(self) -> bool:
        """Whether note is taken of who looks beyond what is parsed."""
        return self._is_watched

    def look_beyond(self) -> None:
        """Say that somebody wants to know of code that may not be parsed."""
        if self._is_watched:
            self.went_beyond = True

    def with_data(self, data: bytes) -> Tree:
        """Return the tree of the same file, in the same surroundings, with another content."""
        return Tree(self.source.with_data(data), self.language, self.context)

    def hits(self, text: bytes, within: Span | None = None, *, whole_word: bool) -> Iterator[int]:
        """Yield where `text` stands in the source, ascending.

        Arguments: `within` limits the search; `whole_word` asks for no letter or digit beside it.
        """
        start, stop = within if within is not None else (0, len(self.source.data))
        letters = self.language.word_bytes if whole_word else frozenset[int]()
        if self.only is None:
            yield from words_at(self.source.data, text, start, stop, letters)
            return
        if not self.only.holds(start, stop):
            self.look_beyond()
        for first, last in self.only.spans:
            if first < stop and start < last:
                span = (max(first, start), min(last, stop))
                yield from words_at(self.source.data, text, *span, letters)

    @property
    def raw_root(self) -> tree_sitter.Node:
        """The parser's own root, for passes that make no nodes."""
        self.look_beyond()
        return self._raw.root_node

    def raw_around(self, start: int, end: int) -> tree_sitter.Node | None:
        """Return the smallest of the parser's own nodes that covers the bytes `start` to `end`."""
        if self._cursor is not None:
            return _moved(self._cursor, start, end)
        self._asked += 1
        if self._asked % _MANY == 0:
            cursor = self._raw.root_node.walk()
            found = _moved(cursor, start, end)
            if cursor.depth > _DEEP:  # from the root down, each time, would take the square of it
                self._cursor = cursor
            return found
        return self._raw.root_node.descendant_for_byte_range(start, end)

    @property
    def is_intact(self) -> bool:
        """Whether nobody has written to what all rules share: the text, and places of its nodes."""
        if self.source is not self._given:
            return False
        beyond, top = self.went_beyond, self._raw.root_node.id
        try:
            return all(self._is_as_made(n) for number, n in self.known.items() if number != top)
        finally:
            self.went_beyond = beyond  # a node of which only a part is parsed tells who asks

    def _is_as_made(self, node: Node) -> bool:
        raw = node.raw
        if raw is None or node.tree is not self or node.kind != raw.type:
            return False
        cut = raw.end_byte - node.end
        return node.start == raw.start_byte and (cut == 0 or (cut == 1 and self.splits_line_ends))

    def release(self) -> None:
        """Let go of all nodes, so that memory is free at once; the tree is of no use after."""
        for node in self.known.values():
            node.forget()
        self.known.clear()
        self.visited.clear()
        self._of_kind = None
        if self.facts is not None:
            self.facts.release()
            self.facts = None

    def leaf_at(self, start: int, end: int | None = None) -> Node | None:
        """Return the smallest node that covers the bytes from `start` to `end` (or one byte)."""
        end = start + 1 if end is None else end
        if self.only is not None and not self.only.holds(start, end):
            self.look_beyond()
        raw = self.raw_around(start, end)
        if raw is None:
            return None
        above = raw.parent
        if above is None:
            return self.wrap(raw)
        if above.type in self.language.atoms:
            return self.wrap(above)
        node = self.wrap(raw)
        if node._parent is None:
            node._parent = self.wrap(above)
        return node

    def of_kinds(
        self, kinds: frozenset[str], keep: Callable[[tree_sitter.Node], bool] | None = None
    ) -> list[Node]:
        """Return all nodes of the given kinds, in source order, outer before inner.

        Arguments: `keep` tells of the parser's nodes which are wanted, before ours are made.
        """
        root = self.raw_root
        if kinds < self._foreseen:
            if self._of_kind is None:
                raws = self.language.find_kinds(self._foreseen, root)
                self._of_kind = [(raw.type, raw) for raw in raws]
            raws = [raw for kind, raw in self._of_kind if kind in kinds]
        else:
            raws = self.language.find_kinds(kinds, root)
        found = [self.wrap(raw) for raw in raws if keep is None or keep(raw)]
        found.sort(key=lambda node: (node.start, -node.end))
        return found

    def foresee(self, kinds: frozenset[str]) -> None:
        """Say of which kinds all nodes may be asked for: one pass then finds them all."""
        if self._of_kind is None:
            self._foreseen = kinds

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

        In source order; none in a sound file. Where the compiler of the language takes the text, it
        is the parser that has misread it: then all of the statements at the top of the file, as the
        compiler reads them, in which it has an error.
        """
        found: set[Span] = set()
        for raw in self.errors:
            while raw.parent is not None and raw.parent.type not in self.language.bodies:
                raw = raw.parent
            found.add(Span(raw.start_byte, raw.end_byte))
        if found:
            for start, end in self.language.statement_spans(self.source.data):
                if any(start <= one.end and one.start <= end for one in found):
                    found.add(Span(start, end))
        return tuple(sorted(found))

    def is_misread(self, span: Span) -> bool:
        """Return whether `span` lies in lines that the parser takes for one statement, wrongly.

        It passes over line ends where a statement cannot end yet, as behind `from a import`.
        """
        bodies = self.language.bodies
        raw = self.raw_around(span.start, max(span.end, span.start + 1))
        while raw is not None and (above := raw.parent) is not None and above.type not in bodies:
            raw = above
        if raw is None or raw.parent is None:
            return False
        start, end = raw.start_byte, raw.end_byte
        before = end
        if b"\n" not in self.source.data[start:end]:
            return False
        for child in raw.children:
            if child.type in bodies:  # the header ends with the last token before
                end = before
                break
            if child.type not in self.language.comments:
                before = child.end_byte
        else:
            if any(one.type in bodies for child in raw.children for one in child.children):
                return False  # several statements, or parts with bodies of their own
        return span.start < end and not self.language.is_one_line(self.source.data, start, end)

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
