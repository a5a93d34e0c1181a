"""A node of the tree, wrapped when first reached and kept, so that what it knows is found once."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import TYPE_CHECKING

from yellow_trellis.source import Place, Span

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.syntax.tree import Tree

TEXT = "text"
"""The kind of a leaf that the parser leaves unnamed: part of a literal, or skipped broken code."""


class Node:
    """One node: its kind, its field in the parent, its span in bytes, its children.

    Nodes of one tree are the same object whenever they are reached, so ``is`` compares them.
    Children hold every token and comment; `items` are the children that carry meaning.
    """

    __slots__ = ("_children", "_field", "_items", "_parent", "_raw", "end", "kind", "start", "tree")

    def __init__(self, tree: Tree, raw: tree_sitter.Node | None, kind: str, start: int, end: int):
        self.tree = tree
        self.kind = kind
        self.start = start
        self.end = end
        self._raw = raw
        self._parent: Node | None = None
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
    def data(self) -> bytes:
        """The node's code in UTF-8."""
        return self.tree.source.data[self.start : self.end]

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
        """Whether the node is more than a fixed token such as a bracket or an operator."""
        return self._raw is not None and self._raw.is_named

    @property
    def is_comment(self) -> bool:
        """Whether the node is a comment."""
        return self.kind in self.tree.language.comments

    @property
    def is_broken(self) -> bool:
        """Whether the parser could make no sense of the node itself."""
        return self._raw is not None and (self._raw.is_error or self._raw.is_missing)

    @property
    def has_error(self) -> bool:
        """Whether the node, or anything in it, is broken."""
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
        if self._field is None and (parent := self.parent) is not None:
            _ = parent.children  # tells each child its field
        return self._field or None

    @property
    def children(self) -> tuple[Node, ...]:
        """All children in order: tokens, comments, and text the parser left unnamed."""
        if self._children is None:
            self._children = tuple(self._find_children())
        return self._children

    def _find_children(self) -> Iterator[Node]:
        raw, tree = self._raw, self.tree
        if raw is None or not raw.child_count or self.kind in tree.language.atoms:
            return
        data, space = tree.source.data, tree.language.space_kinds
        end = self.start
        cursor = raw.walk()
        cursor.goto_first_child()
        while True:
            found = cursor.node
            assert found is not None
            start = found.start_byte
            if start > end and (text := self._unnamed(data, end, start)):
                yield text
            end = max(end, found.end_byte)
            if found.type not in space:
                child = tree.wrap(found)
                child._parent = self
                child._field = cursor.field_name or ""
                yield child
            if not cursor.goto_next_sibling():
                break
        if end < self.end and (text := self._unnamed(data, end, self.end)):
            yield text

    def _unnamed(self, data: bytes, start: int, end: int) -> Node | None:
        if data[start:end].isspace():
            return None
        space = self.tree.language.space
        gap = data[start:end].decode("utf-8", "surrogateescape")
        ahead = re.compile(f"(?:{space})*").match(gap)
        body = re.sub(f"(?:{space})+$", "", gap[ahead.end() if ahead else 0 :])
        if not body:
            return None
        start += len(gap[: ahead.end() if ahead else 0].encode("utf-8", "surrogateescape"))
        size = len(body.encode("utf-8", "surrogateescape"))
        leaf = Node(self.tree, None, TEXT, start, start + size)
        leaf._parent = self
        leaf._field = ""
        return leaf

    @property
    def items(self) -> tuple[Node, ...]:
        """The children that carry meaning: no comments, no separators, no optional tokens."""
        if self._items is None:
            self._items = self.tree.language.items_of(self)
        return self._items

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

    def child(self, field: str) -> Node | None:
        """Return the first child in the field `field`."""
        return next((c for c in self.children if c._field == field), None)

    def ancestors(self) -> Iterator[Node]:
        """Yield the parent, its parent, and so on to the root."""
        node = self.parent
        while node is not None:
            yield node
            node = node.parent

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

    def leaves(self) -> Iterator[Node]:
        """Yield the nodes below (or this one) that have no children, in source order."""
        return (node for node in self.walk() if not node.children)
