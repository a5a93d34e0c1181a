"""The tree outside of what fixes replace is as it was, and slices that they keep stay whole.

Two trees are compared from their roots: nodes that lie in replaced code are passed over, all others
must come in the same order, with the same kinds and parents. Only nodes around replaced code are
entered: what holds none of it has the same bytes, so its kind and its size say that it is the same.
Bytes alone would not do: `x * f(1)` with `a + b` in the place of the call keeps every byte of `x *`
and is another tree.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import zip_longest
from typing import NamedTuple

import tree_sitter
from msgspec import Struct, field

from yellow_trellis.plans.proof.regions import Replacement
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


class Differences(Struct):
    """Differences between two trees that no fix accounts for."""

    fixes: set[int] = field(default_factory=set)
    """The numbers of the fixes at a difference."""
    shared: set[int] = field(default_factory=set)
    """Those of them that are at a difference together with others: not all may be the cause."""
    loose: list[Span] = field(default_factory=list)
    """Code in the new text that was an expression, or came for one, and is none by itself."""


class _Row(NamedTuple):
    """Nodes in a row, before and after, and what is replaced in them, in order."""

    old: Sequence[tree_sitter.Node]
    new: Sequence[tree_sitter.Node]
    replaced: Sequence[Replacement]


def differences(
    before: Tree, after: Tree, replaced: Sequence[Replacement], added: Sequence[Span] = ()
) -> Differences:
    """Compare two trees outside of what is `replaced`, and in the slices that are kept.

    Arguments: `added` are spans of the new text that no fix made, such as a statement in a body
    that would be empty.
    """
    return _Comparison(before, after, added).differences(replaced)


class _Comparison:
    def __init__(self, before: Tree, after: Tree, added: Sequence[Span]) -> None:
        self.tree = before
        self.language = before.language
        self.new_tree = after
        self.added = added
        self.bare = frozenset(map(self.language.same_kind, self.language.lists))
        """The kinds of lists, of which some need no brackets."""
        self.unmeant = self.language.comments | self.language.space_kinds
        self.trailing = self.language.comments | frozenset({self.language.terminator} - {""})

    def differences(self, replaced: Sequence[Replacement]) -> Differences:
        result = Differences()
        row = _Row(self.tree.raw_root.children, self.new_tree.raw_root.children, replaced)
        near: list[Replacement] = []
        for place in self._mismatches(row):
            near += place
            numbers = set[int]().union(*(item.fixes for item in place))
            result.shared |= numbers if len(numbers) > 1 else set()
        slices = [(item, remainder) for item in replaced for remainder in item.kept]
        while slices:
            around, remainder = slices.pop()
            slices += [(item, inner) for item in remainder.inside for inner in item.kept]
            old, new = run_in(self.tree, remainder.old), run_in(self.new_tree, remainder.new)
            if not old or not new:  # comments at an end may be those of the code around now
                old = run_in(self.tree, without_comments(self.tree, remainder.old))
                new = run_in(self.new_tree, without_comments(self.new_tree, remainder.new))
            if not any(self._meaningful(old)):
                continue  # a part of a node, which is nothing by itself, or a comment
            if remainder.is_run and not new and self._is_replaced(old, remainder.inside):
                continue  # all of it has gone
            if remainder.is_run and len(old) == 1 and self.language.same_kind(
                old[0].type
            ) in self.bare:
                old = old[0].children
            if len(old) != len(new):
                old, new = _as_neighbours(old), _as_neighbours(new)
            if len(new) == 1 < len(old) and (above := old[0].parent) is not None:
                if new[0].type in self.language.lists or new[0].type == above.type:
                    new = new[0].children  # a list without brackets, or less of a statement
            elif len(old) == 1 < len(new) and self._fills_brackets(old[0], remainder.new):
                old = old[0].children  # a list in brackets that it had none of
            if len(old) == len(new) == 1 and not (old[0].child_count or new[0].child_count):
                continue  # a token, such as the text of a string that becomes a name
            alone = not remainder.is_run and len(old) == 1 and is_expression(
                self.tree, remainder.old
            )
            if new and (len(new) == 1 or not alone):
                for place in self._mismatches(_Row(old, new, remainder.inside)):
                    near += place
                    if not place:
                        result.fixes |= around.fixes
                        if alone:
                            result.loose.append(remainder.new)
                continue
            result.fixes |= around.fixes.union(*(item.fixes for item in remainder.inside))
            if is_expression(self.tree, remainder.old):
                result.loose.append(remainder.new)
        for item in near:
            result.fixes |= item.fixes
            if item.replaces and is_expression(self.tree, item.old):
                result.loose.append(item.new)
        return result

    def _outside(
        self, tree: Tree, nodes: Sequence[tree_sitter.Node], spans: list[Span], content: set[Span]
    ) -> Iterator[tree_sitter.Node]:
        """Yield the nodes of `tree` with a meaning that lie in none of `spans`.

        Arguments: `nodes` and `spans` are in source order; `content` gets the spans in which nodes
        lie.
        """
        at, count = 0, len(spans)
        for node in self._meaningful(nodes):
            start, end = node.start_byte, _end(tree, node)
            while at < count and spans[at].end <= start:
                at += 1
            if at < count and spans[at].start <= start <= spans[at].end < end:
                end = _end_of_code(node, self.trailing)
            if at == count or not spans[at].start <= start <= end <= spans[at].end:
                yield node
            else:
                content.add(spans[at])

    def _mismatches(self, row: _Row) -> Iterator[list[Replacement]]:
        """Yield, for each row in which two nodes do not agree, what is replaced beside them.

        What comes for nodes of a row has to be in the same row, too.
        """
        rows = [row]
        homes: dict[int, int] = {}
        strays: list[tuple[int, Replacement]] = []
        for number, row in enumerate(rows):  # which grows meanwhile
            replaced = row.replaced
            before: set[Span] = set()
            after: set[Span] = set()
            spans = sorted(item.old for item in replaced)
            outside = self._outside(self.tree, row.old, spans, before)
            spans = sorted([*(item.new for item in replaced), *self.added])
            right = self._outside(self.new_tree, row.new, spans, after)
            for old, new in zip_longest(outside, right):
                inside = [item for item in replaced if old is not None and _crosses(item.old, old)]
                if old is not None and new is not None and inside:
                    around = self.language.optional_around
                    if (old.type in around) is not (new.type in around):
                        # all that was around a definition has gone, or the first of it has come
                        before_it = old.children if old.type in around else [old]
                        after_it = new.children if new.type in around else [new]
                        rows.append(_Row(before_it, after_it, inside))
                        continue
                if old is None or new is None or not self._agree(old, new, bool(inside)):
                    yield _beside(old or row.old[-1], replaced)
                    break
                if inside and old.child_count and new.child_count:
                    rows.append(_Row(old.children, new.children, inside))
            homes.update((id(item), number) for item in replaced if item.old in before)
            strays += [(number, item) for item in replaced if item.new in after]
        for number, item in strays:
            if homes.get(id(item), number) != number:
                yield [item]

    def _is_replaced(
        self, nodes: Sequence[tree_sitter.Node], replaced: Sequence[Replacement]
    ) -> bool:
        """Return whether all of some nodes of the old tree lie in replaced code."""
        spans = sorted(item.old for item in replaced)
        return not any(self._outside(self.tree, nodes, spans, set()))

    def _fills_brackets(self, old: tree_sitter.Node, span: Span) -> bool:
        """Return whether a span of the new text is all of a list that `old` is alike."""
        around = self.new_tree.raw_around(*span)
        if around is None or around.type in self.language.bodies or not self._alike(old, around):
            return False
        inner = [node for node in around.children if node.type not in ("(", ")")]
        return bool(inner) and (inner[0].start_byte, inner[-1].end_byte) == span

    def _same_text(self, old: tree_sitter.Node, new: tree_sitter.Node) -> bool:
        """Return whether two nodes have the same text, indentation aside."""
        before = self.tree.source.data[old.start_byte : old.end_byte]
        after = self.new_tree.source.data[new.start_byte : new.end_byte]
        return before == after or before.split() == after.split()

    def _alike(self, old: tree_sitter.Node, new: tree_sitter.Node) -> bool:
        same = self.language.same_kind
        return same(old.type) == same(new.type) or any(
            old.type in kinds and new.type in kinds for kinds in self.language.alike_kinds
        )

    def _meaningful(self, nodes: Sequence[tree_sitter.Node]) -> Iterator[tree_sitter.Node]:
        """Yield the nodes with a meaning; of a body what it holds.

        A body may have no token of its own, and is the same whatever its first statement is.
        """
        for node in nodes:
            if node.type in self.language.bodies:
                yield from self._meaningful(node.children)
            elif node.type not in self.unmeant and node.start_byte < node.end_byte:
                if node.type != self.language.terminator or self._separates(node):
                    yield node

    def _separates(self, node: tree_sitter.Node) -> bool:
        """Return whether the token that ends statements stands where it has another meaning."""
        around = node.parent
        return around is None or around.type in self.language.fixed_separators

    def _agree(self, old: tree_sitter.Node, new: tree_sitter.Node, holds_replaced: bool) -> bool:
        """Return whether two nodes are of one kind and, with nothing replaced in them, size."""
        if old.has_error and not holds_replaced:
            return True  # how the parser gets over an error depends on code far off
        if not holds_replaced and not self._same_text(old, new):
            return False
        if old.type == new.type:
            return holds_replaced or old.descendant_count == new.descendant_count
        return self._alike(old, new)


def is_expression(tree: Tree, span: Span) -> bool:
    """Return whether the code in `span` is one expression, and is not all of a statement."""
    nodes = run_in(tree, span)
    same, language = tree.language.same_kind, tree.language
    if len(nodes) != 1 or same(nodes[0].type) not in language.expressions:
        return False
    around: tree_sitter.Node | None = nodes[0]
    while around is not None and (around.start_byte, around.end_byte) == span:
        if around.type in language.statements:
            return False
        around = around.parent
    return True


def _crosses(span: Span, node: tree_sitter.Node) -> bool:
    return span.start < node.end_byte and node.start_byte < span.end


def _beside(node: tree_sitter.Node, replaced: Sequence[Replacement]) -> list[Replacement]:
    """Return what of `replaced` is in or next to `node`, or else what is nearest to it."""
    start, end = node.start_byte, node.end_byte
    near = [item for item in replaced if item.old.end >= start and item.old.start <= end]
    if near or not replaced:
        return near
    return [min(replaced, key=lambda item: abs(item.old.start - start))]


def run_in(tree: Tree, span: Span) -> list[tree_sitter.Node]:
    """Return the node that fills a span, or the neighbours that do; none where none do.

    A body is the statements in it.
    """
    node = tree.raw_around(*span)
    if node is None or span.start == span.end:
        return []
    bodies = tree.language.bodies
    if (node.start_byte, node.end_byte) == span and node.type not in bodies:
        return [node]
    nodes = [n for n in node.children if span.start <= n.start_byte and _end(tree, n) <= span.end]
    nodes = [n for child in nodes for n in (child.children if child.type in bodies else [child])]
    if not nodes or (nodes[0].start_byte, _end(tree, nodes[-1])) != span:
        return []
    return nodes


def _as_neighbours(nodes: list[tree_sitter.Node]) -> list[tree_sitter.Node]:
    """Return nodes in a row; for one alone the outermost that fills its place beside others."""
    if len(nodes) != 1:
        return nodes
    node = nodes[0]
    while (above := node.parent) is not None and above.child_count == 1 and (
        (above.start_byte, above.end_byte) == (node.start_byte, node.end_byte)
    ):
        node = above
    return [node]


def _end_of_code(node: tree_sitter.Node, trailing: frozenset[str]) -> int:
    """Return where a node ends without what is `trailing`.

    That are comments, which a body may take in, and the token that ends a statement, which may
    stand beside its node or in it.
    """
    while node.child_count:
        last = next((c for c in reversed(node.children) if c.type not in trailing), None)
        if last is None:
            break
        node = last
    return node.end_byte


def _end(tree: Tree, node: tree_sitter.Node) -> int:
    """Return where a node ends; half of a line ending, behind a comment, is no part of it."""
    end = node.end_byte
    return end - (tree.source.data[end - 1 : end] == b"\r")


def without_comments(tree: Tree, span: Span) -> Span:
    """Cut comments and space off both ends of `span`: a comment that was moved may stand there."""
    data, (start, end) = tree.source.data, span
    while start < end:
        if data[end - 1 : end].isspace():
            end -= 1
        elif (leaf := tree.leaf_at(end - 1)) is not None and leaf.is_comment:
            end = max(leaf.start, start)
        else:
            break
    while start < end:
        if data[start : start + 1].isspace():
            start += 1
        elif (leaf := tree.leaf_at(start)) is not None and leaf.is_comment:
            start = min(leaf.end, end)
        else:
            break
    return Span(start, end)
