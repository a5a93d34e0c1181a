"""The nodes of a tree, each made when it is first reached."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from yellow_trellis.source import Place, Span

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.syntax.tree import Tree

UNNAMED = "text"
"""The kind of a leaf that the parser leaves unnamed: part of a literal, or skipped broken code."""


_NO_TOKENS: frozenset[str] = frozenset()
_ROUND = frozenset({"(", ")"})
_OPENING, _CLOSING = frozenset({"(", "[", "{"}), frozenset({")", "]", "}"})


class Node:
    """One node: its kind, its field in the parent, its span in bytes, its children.

    Nodes of one tree are the same object whenever they are reached, so ``is`` compares them.
    Children hold every token and comment; `items` are the children that carry meaning.
    """

    __slots__ = (
        "_children",
        "_field",
        "_items",
        "_number",
        "_parent",
        "_raw",
        "end",
        "kind",
        "start",
        "tree",
    )

    def __init__(self, tree: Tree, raw: tree_sitter.Node | None, kind: str, start: int, end: int):
        self.tree = tree
        self.kind = kind
        self.start = start
        self.end = end
        self._raw = raw
        self._parent: Node | None = None
        self._number: int | None = None
        self._field: str | None = None
        self._children: tuple[Node, ...] | None = None
        self._items: tuple[Node, ...] | None = None

    def __repr__(self) -> str:
        return f"<{self.kind} {self.place} {self.text[:40]!r}>"

    @property
    def span(self) -> Span:
        """The bytes of the node, half-open."""
        return Span(self.start, self.end)

    @property
    def raw(self) -> tree_sitter.Node | None:
        """The parser's own node, for passes that make none; None for text it left unnamed."""
        return self._raw

    @property
    def data(self) -> bytes:
        """The node's code in UTF-8."""
        return self.tree.source.data[self.start : self.end]

    @property
    def folded(self) -> bytes:
        """The node's code in UTF-8, in small letters where their case means nothing."""
        language = self.tree.language
        return self.data if language.is_literal(self.kind) else language.folded(self.data)

    @property
    def text(self) -> str:
        """The node's code."""
        return self.tree.source.text(self.span)

    @property
    def place(self) -> Place:
        """Line and column of the first character, both from 1."""
        return self.tree.source.place(self.start)

    @property
    def named(self) -> bool:
        """Return whether the node is more than a fixed token such as a bracket or an operator."""
        raw, language = self._raw, self.tree.language
        if raw is None or self.kind in language.fixed_words:
            return False
        return raw.is_named or self.kind in language.word_expressions

    @property
    def is_comment(self) -> bool:
        """Return whether the node is a comment."""
        return self.kind in self.tree.language.comments

    @property
    def is_broken(self) -> bool:
        """Return whether the parser could make no sense of the node itself."""
        return self._raw is not None and (self._raw.is_error or self._raw.is_missing)

    @property
    def has_error(self) -> bool:
        """Return whether the node, or anything in it, is broken."""
        return self._raw is not None and self._raw.has_error

    @property
    def parent(self) -> Node | None:
        """The node around this one; None for the root."""
        if self._parent is None and self._raw is not None:
            above = self._raw.parent
            if above is not None:
                self._parent = self.tree.wrap(above)
        return self._parent

    @property
    def field(self) -> str | None:
        """The name of the parent's field that holds this node, if it is in one."""
        if self._field is None:
            parent = self.parent
            if parent is not None and self._number is None:
                _ = parent.children  # numbers its children
            raw = parent.raw if parent is not None else None
            if raw is None or self._number is None:
                return None
            self._field = raw.field_name_for_child(self._number) or ""
        return self._field or None

    @property
    def children(self) -> tuple[Node, ...]:
        """All children in order: tokens, comments, and text the parser left unnamed."""
        if self._children is None:
            self._children = tuple(self._find_children())
        return self._children

    def _find_children(self) -> Sequence[Node]:
        raw, tree = self._raw, self.tree
        if raw is None or not raw.child_count or self.kind in tree.language.atoms:
            return ()
        entry, names, peculiar = tree.known, tree.kind_names, tree.peculiar
        space_kinds, wrap_all = tree.language.space_kinds, tree.splits_line_ends
        nodes: list[Node] = []
        for number, item in enumerate(raw.children):
            child = entry.get(item.id)
            if child is None:
                kind = names.get(item.kind_id)
                if wrap_all or kind is None or kind in peculiar:
                    child = tree.wrap(item)
                else:
                    child = Node(tree, item, kind, item.start_byte, item.end_byte)
                    entry[item.id] = child
            if child.kind not in space_kinds:
                child._parent = self
                child._number = number
                nodes.append(child)
        hides_text = tree.language.hides_text
        if hides_text is None or self.kind in hides_text or raw.has_error:
            return self._with_unnamed(raw, nodes)
        return nodes

    def _with_unnamed(self, raw: tree_sitter.Node, children: list[Node]) -> list[Node]:
        """Return children with the text between them that the parser left unnamed."""
        data, end = self.tree.source.data, self.start
        texts: list[Node] = []
        for child in raw.children:
            if child.start_byte > end and not data[end : child.start_byte].isspace():
                texts += self._unnamed(data, end, child.start_byte)
            end = max(end, child.end_byte)
        if end < self.end and not data[end : self.end].isspace():
            texts += self._unnamed(data, end, self.end)
        if not texts:
            return children
        return sorted([*children, *texts], key=lambda child: (child.start, child.end))

    def _unnamed(self, data: bytes, start: int, end: int) -> Iterator[Node]:
        """Yield the text between two children, if there is any but space, and it was parsed."""
        if not self.tree.is_parsed(start, end):
            return
        space = self.tree.language.space
        gap = data[start:end].decode("utf-8", "surrogateescape")
        ahead = re.compile(f"(?:{space})*").match(gap)
        body = re.sub(f"(?:{space})+$", "", gap[ahead.end() if ahead else 0 :])
        if not body:
            return
        start += len(gap[: ahead.end() if ahead else 0].encode("utf-8", "surrogateescape"))
        size = len(body.encode("utf-8", "surrogateescape"))
        kind = body if body in self.tree.language.separators else UNNAMED
        leaf = Node(self.tree, None, kind, start, start + size)
        leaf._parent = self
        leaf._field = ""
        yield leaf

    @property
    def items(self) -> tuple[Node, ...]:
        """The children that carry meaning: no comments, no separators, no optional tokens."""
        if self._items is None:
            self._items = tuple(self._find_items())
        return self._items

    def _find_items(self) -> Sequence[Node]:
        """Return the children that carry meaning.

        A separator counts only where it changes the meaning: where nothing stands before it (a
        gap in a list) or where the grammar says so.
        """
        language, children = self.tree.language, self.children
        if self.kind in language.spliced:
            inner = language.spliced[self.kind]
            children = tuple(
                item
                for child in children
                for item in (child.children if child.kind == inner else (child,))
            )
        optional = language.optional_tokens.get(self.kind, _NO_TOKENS)
        if self.kind in language.brackets:
            optional = _ROUND
        unmeant = language.unmeant
        if not optional and unmeant.isdisjoint([child.kind for child in children]):
            return children
        if self.kind in language.fixed_separators:
            return [child for child in children if child.kind not in language.comments]
        comments, separators = language.comments, language.separators
        bare = True  # nothing stands before the next separator
        last: Node | None = None
        nodes: list[Node] = []
        for child in children:
            kind = child.kind
            if kind in comments:
                continue
            if kind in separators and not child.named:
                if bare:
                    nodes.append(child)
                bare, last = True, child
                continue
            if kind not in _CLOSING:
                last = None
            if kind not in optional:
                nodes.append(child)
            bare = kind in _OPENING
        if last is not None and self.kind in language.counted_separators:
            nodes.append(last)
        return nodes

    @property
    def bare(self) -> Node:
        """The node without redundant brackets around it: itself, or what they hold."""
        node, brackets = self, self.tree.language.brackets
        while node.kind in brackets and len(node.items) == 1:
            node = node.items[0]
        return node

    @property
    def core(self) -> Node:
        """The innermost node that stands for the same code: no brackets, no one-item wrappers."""
        language = self.tree.language
        node = self.bare
        while node.kind in language.wrappers and len(node.items) == 1:
            node = node.items[0].bare
        return node

    @property
    def outermost(self) -> Node:
        """The outermost node that is nothing but this one: the statement of an expression."""
        node, wrappers = self, self.tree.language.wrappers
        while (above := node.parent) is not None and (
            above.kind in wrappers and len(above.items) == 1
        ):
            node = above
        return node

    def child(self, field: str) -> Node | None:
        """Return the first child in the field `field`."""
        if self._raw is None or self.kind in self.tree.language.atoms:
            return None
        raw = self._raw.child_by_field_name(field)
        return None if raw is None else self.tree.wrap(raw)

    @property
    def statement(self) -> Node:
        """The smallest item of a body that the node is in, or is."""
        node, bodies = self, self.tree.language.bodies
        while (above := node.parent) is not None and above.kind not in bodies:
            node = above
        return node

    def ancestors(self) -> Iterator[Node]:
        """Yield the parent, its parent, and so on to the root."""
        node = self.parent
        while node is not None:
            yield node
            node = node.parent

    @property
    def index(self) -> int:
        """The position of this node among the children of its parent, from 0; 0 for the root."""
        siblings = self.parent.children if self.parent is not None else (self,)
        return next(i for i, sibling in enumerate(siblings) if sibling is self)

    def _beside(self, step: int) -> Node | None:
        if self.parent is None:
            return None
        siblings = self.parent.children
        at = self.index + step
        return siblings[at] if 0 <= at < len(siblings) else None

    @property
    def next(self) -> Node | None:
        """The sibling after this node, a token or comment too; None at the end."""
        return self._beside(1)

    @property
    def previous(self) -> Node | None:
        """The sibling before this node, a token or comment too; None at the start."""
        return self._beside(-1)

    def _token_beside(self, step: int) -> Node | None:
        node: Node | None = self
        while node is not None and node._beside(step) is None:
            node = node.parent
        node = node._beside(step) if node is not None else None
        while node is not None and node.children:
            node = node.children[0 if step > 0 else -1]
        return node

    @property
    def next_token(self) -> Node | None:
        """The leaf after this node, wherever in the tree it stands; None at the end."""
        return self._token_beside(1)

    @property
    def previous_token(self) -> Node | None:
        """The leaf before this node, wherever in the tree it stands; None at the start."""
        return self._token_beside(-1)

    def replace_with(self, *code: str | Node) -> None:
        """Note that `code` is put where the node is; `apply_edits` makes the new text.

        Arguments: `code` are strings and nodes in order; the code of a node is kept as it is, with
        its comments.
        Errors: `TrellisError`, for a node of a tree that `parse` has not made.
        """
        self.tree.edits.replace(self, *code)

    def remove(self) -> None:
        """Note that the node is taken out: a statement, or an item of a list with its separator.

        Errors: see `replace_with`.
        """
        self.tree.edits.remove(self)

    def insert_before(self, *code: str | Node) -> None:
        """Note that `code` is put before the node: before a statement on a line of its own.

        Arguments and errors: see `replace_with`.
        """
        self.tree.edits.before(self, *code)

    def insert_after(self, *code: str | Node) -> None:
        """Note that `code` is put after the node; see `insert_before`."""
        self.tree.edits.after(self, *code)

    def forget(self) -> None:
        """Cut the ties to parent and children, which would keep each other alive."""
        self._parent = self._children = self._items = None

    def walk(self) -> Iterator[Node]:
        """Yield this node and everything below it, parents before children, in source order."""
        stack = [self]
        while stack:
            node = stack.pop()
            yield node
            stack.extend(reversed(node.children))

    def events(self, kinds: frozenset[str] | None = None) -> Iterator[tuple[Node, bool]]:
        """Yield this node and those below twice each: with True on entry, with False on exit.

        Arguments: `kinds` are the kinds that are yielded; all if left out.
        """
        stack: list[tuple[Node, bool]] = [(self, True)]
        while stack:
            node, entering = stack.pop()
            if kinds is None or node.kind in kinds:
                yield node, entering
            if entering:
                stack.append((node, False))
                stack.extend((child, True) for child in reversed(node.children))

    def leaves(self) -> Iterator[Node]:
        """Yield the nodes below (or this one) that have no children, in source order."""
        return (node for node in self.walk() if not node.children)
