"""The concrete syntax tree of one source."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import cached_property
from typing import TYPE_CHECKING

from yellow_trellis.errors import TrellisError
from yellow_trellis.source import Source, Span, TokenIndex, is_within, words_at
from yellow_trellis.syntax import queries
from yellow_trellis.syntax.misgrouped import queries_of
from yellow_trellis.syntax.node import Node
from yellow_trellis.syntax.queries import StructureQuery
from yellow_trellis.syntax.query_memo import QueryMemo

if TYPE_CHECKING:
    from typing import Protocol

    import tree_sitter

    from yellow_trellis.languages import Language

    class Editor(Protocol):
        """Something that notes what is to become of nodes."""

        def replace(self, node: Node, *code: str | Node) -> object:
            """Put `code` where `node` is."""
            ...

        def remove(self, node: Node) -> object:
            """Take out a statement, or an item of a list."""
            ...

        def before(self, node: Node, *code: str | Node) -> object:
            """Insert `code` before `node`."""
            ...

        def after(self, node: Node, *code: str | Node) -> object:
            """Insert `code` after `node`."""
            ...

    class Releasable(Protocol):
        """Something that can release all that it holds."""

        def release(self) -> None:
            """Let go of everything, so that memory is free at once."""
            ...


Memos = dict[tuple[StructureQuery, ...], QueryMemo]
"""What queries found in earlier texts of a file, by those that were asked together."""

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

    A partially parsed tree, one of some `spans` of its source, is read-only: what lies outside of
    them is a gap, and only what is within a span can be asked for.
    """

    def __init__(
        self,
        source: Source,
        language: Language,
        context: Callable[[], object] | None = None,
        spans: Sequence[tuple[int, int]] | None = None,
        token_index: TokenIndex | None = None,
        raw: tree_sitter.Tree | None = None,
        memos: Memos | None = None,
    ) -> None:
        self.source = source
        self._given = source
        self.language = language
        self.context = context
        """Gives what is known of the code around the file, for those who ask for facts."""
        self.editor: Editor | None = None
        """Notes the edits of nodes, in a tree that was parsed to be edited."""
        self.facts: Releasable | None = None
        """What was found out about the names in the file."""
        self._raw = raw or language.parse(source.code, spans)
        self.spans = spans
        """What is parsed, in bytes and in order; all of the file if None."""
        self.token_index = token_index or TokenIndex(language.folded(source.code))
        """What the bytes of the file hold."""
        self.splits_line_ends = b"\r" in source.data
        """Whether, to the parser, a node may end in the middle of a line ending."""
        self.kind_names = language.kind_names
        """The names of kinds, which the parser would make anew for each node."""
        self.peculiar = language.comments | language.space_kinds
        """The kinds of which not every node is made and kept as the parser has it."""
        self._cursor: tree_sitter.TreeCursor | None = None
        """Where a node was last found, in a tree whose nodes lie deep."""
        self._asked = 0
        self.known: dict[int, Node] = {}
        """The nodes that have been reached, by what the parser calls each."""
        self._queries: tuple[StructureQuery, ...] = ()
        """What may be asked for: one pass then answers all of it."""
        self._answers: dict[StructureQuery, list[tree_sitter.Node]] = {}
        self._memos = memos
        """What queries found in earlier texts of the file; None where nothing is kept of them."""

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
            kind, start, end = self.kind_names.get(raw.kind_id), raw.start_byte, raw.end_byte
            if kind is None:  # an error
                kind = raw.type
            if self.splits_line_ends and (
                self.source.data[end - 1 : end + 1] == b"\r\n"
                or (kind in self.language.comments and self.source.data[end - 1 : end] == b"\r")
            ):
                end -= 1  # half of a line ending is no part of a comment, and what ends with one
            node = self.known[raw.id] = Node(self, raw, kind, start, end)
        return node

    def with_data(self, data: bytes) -> Tree:
        """Return the tree of the same file, in the same surroundings, with another content."""
        return Tree(self.source.with_data(data), self.language, self.context)

    def after(self, source: Source, written: Span, length: int) -> Tree:
        """Return the tree of `source`, which is this one with `length` bytes in place of `written`.

        What is the same is not parsed again. Where the new text has errors all of it is: how a
        parser goes on behind an error depends on what it knew before.
        """
        if source.code != source.data:  # what is hidden now may reach beyond what was written
            return Tree(source, self.language, self.context, memos=self._memos)
        end = written.start + length
        raw = self._raw.copy()
        before, after = self.source.lines, source.lines
        raw.edit(
            written.start,
            written.end,
            end,
            before.point(written.start),
            before.point(written.end),
            after.point(end),
        )
        result = self.language.parse(source.code, None, raw)
        same = None if result.root_node.has_error else result
        return Tree(source, self.language, self.context, raw=same, memos=self._memos)

    @property
    def edits(self) -> Editor:
        """The object that notes edits of nodes.

        Errors: `TrellisError`, for a tree that was not parsed to be edited.
        """
        if self.editor is None:
            raise TrellisError(
                "this tree cannot be edited: a rule yields fixes, and a script edits what "
                "`yellow_trellis.parse` returns"
            )
        return self.editor

    def hits(self, text: bytes, within: Span | None = None, *, whole_word: bool) -> Iterator[int]:
        """Yield where `text` stands in the source, ascending.

        Arguments: `within` limits the search; `whole_word` asks for no letter or digit beside it.
        """
        start, stop = within if within is not None else (0, len(self.source.data))
        letters = self.language.word_bytes if whole_word else frozenset[int]()
        yield from words_at(self.source.data, text, start, stop, letters)

    def like(self, text: str) -> Tree:
        """Return the tree of another text in the same language."""
        return Tree(Source(text.encode()), self.language)

    def __repr__(self) -> str:
        return f"<Tree {self.source.path or 'text'} {self.language.name}>"

    @property
    def raw_root(self) -> tree_sitter.Node:
        """The parser's own root, for passes that make no nodes."""
        return self._raw.root_node

    def is_parsed(self, start: int, end: int) -> bool:
        """Return whether the bytes `start` to `end` are parsed."""
        return self.spans is None or is_within(start, end, self.spans)

    def raw_around(self, start: int, end: int) -> tree_sitter.Node | None:
        """Return the smallest of the parser's own nodes that covers the bytes `start` to `end`."""
        if self._cursor is not None:
            return _moved(self._cursor, start, end)
        self._asked += 1
        if self._asked % _MANY == 0:
            cursor = self._raw.root_node.walk()
            result = _moved(cursor, start, end)
            if cursor.depth > _DEEP:  # from the root down, each time, would take the square of it
                self._cursor = cursor
            return result
        return self._raw.root_node.descendant_for_byte_range(start, end)

    @property
    def is_intact(self) -> bool:
        """Return whether nobody has written to what rules share: the text, and places of nodes."""
        if self.source is not self._given:
            return False
        top, names, crlf = self._raw.root_node.id, self.kind_names, int(self.splits_line_ends)
        for number, node in self.known.items():
            raw = node._raw
            if raw is None or node.tree is not self or node.kind != names.get(raw.kind_id, "ERROR"):
                return False
            if node.start == raw.start_byte and 0 <= raw.end_byte - node.end <= crlf:
                continue
            if number != top:
                return False
        return True

    def release(self) -> None:
        """Let go of all nodes, so that memory is free at once; the tree is of no use after."""
        for node in self.known.values():
            node.forget()
        self.known.clear()
        self._answers.clear()
        if self.facts is not None:
            self.facts.release()
            self.facts = None

    def leaf_at(self, start: int, end: int | None = None) -> Node | None:
        """Return the smallest node that covers the bytes from `start` to `end` (or one byte)."""
        end = start + 1 if end is None else end
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

    def prepare(self, structure_queries: tuple[StructureQuery, ...]) -> None:
        """Have one pass answer all of some queries as soon as one of them is asked."""
        self._queries = (*structure_queries, *queries_of(self.language))

    def query(self, query: StructureQuery) -> list[tree_sitter.Node]:
        """Return the parser's nodes that fit a query, in no order."""
        if query not in self._answers:
            together = self._queries if query in self._queries else (query,)
            memo = None if self._memos is None else self._memos.setdefault(together, QueryMemo())
            root, data = self._raw.root_node, self.source.data
            nodes = queries.find(together, self.language, root, data, memo)
            self._answers.update(zip(together, nodes, strict=True))
        return self._answers[query]

    def of_kinds(self, kinds: frozenset[str]) -> list[Node]:
        """Return all nodes of the given kinds, in source order, outer before inner."""
        nodes = map(self.wrap, self.query(StructureQuery(kinds)))
        return sorted(nodes, key=lambda node: (node.start, -node.end))

    def comments(self) -> list[Node]:
        """Return all comments, in source order."""
        return self.of_kinds(self.language.comments)

    @cached_property
    def errors(self) -> tuple[tree_sitter.Node, ...]:
        """The parser's nodes for what it could make no sense of; none in a sound file.

        Where it has put in a token of which there is no node, such as the end of a line, that is
        the smallest node around it; at the end of a file such a line end may be left out.
        """
        data, results = self.source.data, []
        stack = [self._raw.root_node] if self._raw.root_node.has_error else []
        while stack:
            raw = stack.pop()
            inner = [child for child in raw.children if child.has_error or child.is_missing]
            if raw.is_error or raw.is_missing or not inner:
                results.append(raw)
            stack += inner
        if len(results) == 1 and results[0].end_byte == len(data) and not data.endswith(b"\n"):
            ended = self.language.parse(self.source.code + b"\n", self.spans)
            results = results if ended.root_node.has_error else []
        return tuple(results)

    @cached_property
    def broken(self) -> tuple[Span, ...]:
        """The spans of the statements with errors in them, or of the errors between statements.

        In source order; none in a sound file. Where the compiler of the language takes the text, it
        is the parser that has misread it: then all of the statements at the top of the file, as the
        compiler reads them, in which it has an error.
        """
        spans: set[Span] = set()
        for raw in self.errors:
            while raw.parent is not None and raw.parent.type not in self.language.bodies:
                raw = raw.parent
            spans.add(Span(raw.start_byte, raw.end_byte))
        if spans:
            for start, end in self.language.statement_spans(self.source.data):
                if any(start <= span.end and span.start <= end for span in spans):
                    spans.add(Span(start, end))
        return tuple(sorted(spans))

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
            if any(item.type in bodies for child in raw.children for item in child.children):
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
