"""Taking out a statement or a list item with what would be left dangling: lines and separators."""

from __future__ import annotations

from yellow_trellis.fixes.edit import Edit, New
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.trivia import reach


def removal(node: Node) -> Edit:
    """Return the edit that takes out `node`: a statement, an item, a decorator or a clause.

    Errors: `ValueError` when the node can not be left out where it stands.
    """
    node = node.outermost
    parent = node.parent
    language = node.tree.language
    if parent is not None and parent.kind in language.bodies:
        return _remove_statement(node, parent)
    if parent is not None and parent.kind in language.lists:
        return _remove_item(node, parent)
    if node.kind in language.lifted or node.kind in language.clauses:
        return _lines_of(node)
    raise ValueError(f"a {node.kind} cannot be taken out of a {parent.kind if parent else 'file'}")


def _remove_statement(node: Node, body: Node) -> Edit:
    source = node.tree.source
    filler = node.tree.language.empty_body
    if len(body.items) == 1 and body.parent is not None and filler:
        return Edit(node.span, (New(filler),))
    own = reach(node)
    line = source.lines.start(own.start)
    line_end = source.lines.end(own.end)
    before, after = source.data[line : own.start].strip(), source.data[own.end : line_end].strip()
    if before or after:
        return _remove_from_line(node, body)
    follow = source.lines.next(own.end)
    if follow is not None:
        return Edit(Span(line, follow))
    newline = source.newline_at(own.start)
    return Edit(Span(max(line - len(newline), 0), line_end))


def _remove_from_line(node: Node, body: Node) -> Edit:
    items = body.items
    at = next(i for i, item in enumerate(items) if item is node)
    lines = node.tree.source.lines
    if at + 1 < len(items) and lines.number(items[at + 1].start) == lines.number(node.end):
        return Edit(Span(node.start, items[at + 1].start))
    if at and lines.number(items[at - 1].end) == lines.number(node.start):
        return Edit(Span(items[at - 1].end, node.end))
    return Edit(node.span)


def _remove_item(node: Node, parent: Node) -> Edit:
    closing = ("(", "[", "{", ")", "]", "}")
    items = [item for item in parent.items if item.kind not in closing]
    at = next(i for i, item in enumerate(items) if item is node)
    own = reach(node)
    if at + 1 < len(items):
        return Edit(Span(own.start, max(own.end, reach(items[at + 1]).start)))
    if at:
        return Edit(Span(items[at - 1].end, own.end))
    last = parent.children[-1]
    return Edit(Span(own.start, last.start if last.kind in closing else own.end))


def _lines_of(node: Node) -> Edit:
    """Take out a decorator or a clause with its lines."""
    source = node.tree.source
    own = reach(node)
    line = source.lines.start(own.start)
    follow = source.lines.next(own.end)
    if source.data[line : own.start].strip() or follow is None:
        return Edit(own)
    return Edit(Span(line, follow))


def definition_of(node: Node) -> Node:
    """Return a definition with its decorators, or the statement that `node` is."""
    node = node.outermost
    above = node.parent
    around = node.tree.language.optional_around
    return above if above is not None and above.kind in around else node


def blank_lines_before(node: Node) -> int:
    """Return how many blank lines stand before a statement and its comments."""
    source = node.tree.source
    start = source.lines.start(reach(node).start)
    lines = source.data[:start].split(b"\n")[:-1]
    count = 0
    while count < len(lines) and not lines[-1 - count].strip():
        count += 1
    return count


def statement_removal(node: Node) -> Edit:
    """Return the edit that takes out a statement with the blank lines before it."""
    edit = removal(node)
    source = node.tree.source
    start, end = edit.span
    if edit.pieces or source.data[source.lines.start(start) : start].strip():
        return edit
    number = source.lines.number(start)
    first = number - blank_lines_before(node)
    return Edit(Span(source.lines.starts[first - 1], end))
