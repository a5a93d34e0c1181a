"""Statements put first or last in a body, and blank lines that several fixes may wish for."""

from __future__ import annotations

from msgspec.structs import replace

from yellow_trellis.edits.edit import (
    Edit,
    Neighbour,
    New,
    Order,
    Piece,
    put_after,
    put_before,
)
from yellow_trellis.edits.neighbours import text_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.comment_ownership import reach, run_reach


def body_of(node: Node) -> Node:
    """Return the body of a definition or compound statement, or `node` if it is one.

    Errors: `ValueError` for a node without a body.
    """
    bodies = node.tree.language.bodies
    if node.kind in bodies:
        return node
    inner = node.items[-1] if node.kind in node.tree.language.optional_around else node
    result = inner.child("body") or inner.child("consequence")
    if result is not None and result.kind not in bodies:
        result = next((child for child in result.children if child.kind in bodies), result)
    if result is None or result.kind not in bodies:
        raise ValueError(f"a {node.kind} has no body")
    if not result.items:
        raise ValueError(f"the body of the {node.kind} has no statement")
    return result


def first_in(
    node: Node, pieces: tuple[Piece, ...], order: Order | None, blank_after: int
) -> list[Edit]:
    """Return the edits that put a statement first in a body, behind its docstring."""
    body = body_of(node)
    first = body.items[0]
    ahead = [item for item in body.items if item.kind in node.tree.language.stays_first]
    if ahead:
        return beside(ahead[-1], pieces, order, 0)
    if first.core.kind in (node.tree.language.family("string") or ()) and first.core is not first:
        return _behind(first, pieces, order, blank_after)
    start = run_reach((first,)).start
    edit = _on_own_line(first, pieces, order, start)
    if "\n" not in between(first) or edit.anchor is None:
        return [replace(edit, neighbour=_as_neighbour(body))]
    # it clings to the whole body: what others put before the first statement comes behind it
    anchor, neighbour = Span(edit.anchor.start, body.end), _as_neighbour(body)
    edit = put_before(neighbour, anchor, *edit.pieces, order=order)
    if order is None:
        pieces = (*edit.pieces, *([New("\n")] * blank_after))
        return [put_before(neighbour, anchor, *pieces)]
    wishes = [
        put_before(neighbour, anchor, New("\n"), order=_blank(n))
        for n in range(blank_after)
    ]
    return [edit, *wishes]


def _as_neighbour(body: Node) -> Neighbour:
    """Return a body as what stands beside its first and last statements; comments aside."""
    items = [item for item in body.items if item.named]
    return Neighbour(Span(items[0].start, items[-1].end), is_body=True)


def line_before(node: Node, pieces: tuple[Piece, ...], order: Order | None) -> Edit:
    """Return the edit that puts a statement before `node` and its comments.

    It stands directly before them and goes where they go, unless a comment has another indentation
    than the statement.
    """
    start = _below_head(node, reach(node).start)
    gap, source = between(node, text_of(node, pieces)), node.tree.source
    line = source.lines.start(start)
    if "\n" + source.text(Span(line, start)) != gap:
        return _on_own_line(node, pieces, order, start)
    anchor = Span(start, node.end)
    return put_before(Neighbour(node.span), anchor, *pieces, New(gap), order=order)


def _on_own_line(
    node: Node, pieces: tuple[Piece, ...], order: Order | None, start: int
) -> Edit:
    """Put a statement at the start of a line, so that what stands there keeps its indentation.

    Arguments: `start` is where the comments before `node` start.
    """
    start = _below_head(node, start)
    gap = between(node, text_of(node, pieces))
    if "\n" not in gap:
        anchor = Span(start, node.end)
        return put_before(Neighbour(node.span), anchor, *pieces, New(gap), order=order)
    lead = (New(gap[1:]),) if gap[1:] else ()
    anchor = Span(node.tree.source.lines.start(start), node.end)
    return put_before(Neighbour(node.span), anchor, *lead, *pieces, New("\n"), order=order)


def _below_head(node: Node, start: int) -> int:
    """Return where the comments before a statement start that need not stay at the very top."""
    head = node.tree.language.head_comment
    for comment in node.tree.comments() if not start else ():
        if comment.start >= node.start or not head.match(comment.data):
            return max(min(comment.start, node.start), start)
        start = node.start
    return start


def last_in(
    node: Node, pieces: tuple[Piece, ...], order: Order | None, blank_before: int
) -> list[Edit]:
    """Return the edits that put a statement last in a body."""
    body = body_of(node)
    last = body.items[-1]
    neighbour = _as_neighbour(body)
    return [
        replace(edit, anchor=Span(body.start, edit.span.end), neighbour=neighbour)
        for edit in beside(last, pieces, order, blank_before)
    ]


def beside(
    node: Node, pieces: tuple[Piece, ...], order: Order | None, blank_before: int
) -> list[Edit]:
    """Return the edits that put a statement behind `node`."""
    gap, neighbour = between(node), Neighbour(node.span)
    anchor = Span(node.start, reach(node).end)
    if "\n" not in gap:
        anchor, blank_before = node.span, 0  # before the comment at the end of the line
    if order is None:
        return [put_after(neighbour, anchor, New("\n" * blank_before + gap), *pieces)]
    wishes = [
        put_after(neighbour, anchor, New("\n"), order=_FIRST + n) for n in range(blank_before)
    ]
    return [*wishes, put_after(neighbour, anchor, New(gap), *pieces, order=order)]


def _behind(
    node: Node, pieces: tuple[Piece, ...], order: Order | None, blank_after: int
) -> list[Edit]:
    gap, neighbour = between(node), Neighbour(node.span)
    anchor = Span(node.start, reach(node).end) if "\n" in gap else node.span
    missing = blank_after - blank_lines_after(node) if "\n" in gap else 0
    if order is None:
        return [put_after(neighbour, anchor, New(gap), *pieces, New("\n" * missing))]
    wishes = [
        put_after(neighbour, anchor, New("\n"), order=_blank(n)) for n in range(missing)
    ]
    return [put_after(neighbour, anchor, New(gap), *pieces, order=order), *wishes]


_FIRST = -(1 << 59)
"""An order before any that a rule is likely to give."""


def _blank(number: int) -> str:
    """Return the order of a blank line behind insertions: last, and the same in every fix."""
    return f"\U0010ffff{number}"


def blank_lines_after(node: Node) -> int:
    """Return how many blank lines follow the line on which `node` ends."""
    source = node.tree.source
    tail = source.data[source.lines.end(source.lines.start(reach(node).end)) :]
    lines = tail.split(b"\n")[1:]
    count = 0
    while count < len(lines) - 1 and not lines[count].strip():
        count += 1
    return count


def between(node: Node, first: str | None = None) -> str:
    """Return what stands between `node` and a new statement beside it.

    Arguments: `first` is the code of that of the two which comes first, `node` if left out.
    """
    source = node.tree.source
    line = source.lines.start(node.start)
    if not source.data[line : node.start].strip():
        return _line_break(node)
    terminator = node.tree.language.terminator
    ends = (terminator, "}") if terminator else ()
    return " " if (node.text if first is None else first).endswith(ends) else "; "


def is_alone(node: Node) -> bool:
    """Return whether a statement stands where the language takes just one: behind an `if`."""
    node = node.outermost
    language, parent = node.tree.language, node.parent
    if language.block is None or parent is None or parent.kind in language.bodies:
        return False
    around = language.statements | language.clauses
    return node.kind in language.statements and parent.kind in around


def in_block(node: Node, pieces: tuple[Piece, ...], *, is_first: bool) -> list[Edit]:
    """Return the edits that make a block of a statement that is alone, and of another one.

    Arguments: `is_first` tells that `pieces`, the other one, stand before it.
    """
    opening, closing = block_around(node)
    line = opening.pieces[-1]
    if is_first:
        return [replace(opening, pieces=(*opening.pieces, *pieces, line)), closing]
    return [opening, replace(closing, pieces=(line, *pieces, *closing.pieces))]


def block_around(node: Node) -> tuple[Edit, Edit]:
    """Return the edits that put a block around a statement that is alone.

    The last piece of the first is what stands between two statements in it.
    """
    node = node.outermost
    parent, source, block = node.parent, node.tree.source, node.tree.language.block
    assert parent is not None
    assert block is not None
    start = next((c.end for c in reversed(parent.children) if c.end <= node.start), node.start)
    gap = source.data[start : node.start]
    inner, outer = " ", " "
    if b"\n" in gap and not gap.strip():
        inner = "\n" + source.indent_at(node.start).decode("utf-8", "replace")
        outer = "\n" + source.indent_at(parent.start).decode("utf-8", "replace")
    lead = " " if not gap.strip() else ""
    space = Span(start if lead else node.start, node.start)
    return (
        Edit.at(space, node.span, New(lead + block[0]), New(inner)),
        Edit.after(node.span, New(outer + block[1])),
    )


def _line_break(node: Node) -> str:
    return "\n" + node.tree.source.indent_at(node.start).decode("utf-8", "replace")
