"""Comments that go where their code goes, when two items of a list change places."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from yellow_trellis.edits import Edit, New, Piece, Slice
from yellow_trellis.fixes.tokens import Unit
from yellow_trellis.patterns import Match
from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Node, attached


def move_comments(match: Match, slot: Unit, incoming: tuple[Node, ...]) -> Iterator[Edit]:
    """Yield the edits that give the place of `slot` the comments of `incoming` instead of its own.

    Only comments inside the match are touched: those outside belong to the code around it.
    """
    out = attached(slot.nodes[-1]).after if slot.nodes else ()
    into = attached(incoming[-1]).after
    yield from _swap_after(match, slot, _inside(match, out), _inside(match, into))
    ahead = attached(slot.nodes[0]).before
    yield from _swap_before(
        match, slot, _inside(match, ahead), _inside(match, attached(incoming[0]).before)
    )


def left_behind(match: Match, edits: Sequence[Edit]) -> Iterator[Edit]:
    """Yield what takes comments from where they were that `edits` put elsewhere and do not drop."""
    tree = match.tree
    for edit in edits:
        for piece in edit.pieces if edit.inserts else ():
            if not isinstance(piece, Slice) or any(e.span.holds(piece.span) for e in edits):
                continue
            leaf = tree.leaf_at(*piece.span)
            if leaf is not None and leaf.is_comment:
                yield Edit(*_replaced(tree.source, piece.span, None))


def _inside(match: Match, comments: tuple[Node, ...]) -> Span | None:
    contents = [c for c in comments if match.span.holds(c.span)]
    return Span(contents[0].start, contents[-1].end) if contents else None


def _swap_after(match: Match, slot: Unit, out: Span | None, into: Span | None) -> Iterator[Edit]:
    if out is not None:
        yield Edit(*_replaced(match.tree.source, out, into))
        return
    if into is None:
        return
    source = match.tree.source
    anchor = _with_separator(slot, match)
    line_end = source.lines.end(anchor.end)
    pieces: list[Piece] = [New("  "), Slice(into)]
    if source.data[anchor.end : line_end].strip():
        indent = source.indent_at(match.span.start).decode("utf-8", "replace")
        pieces.append(New("\n" + indent))
    yield Edit.after(anchor, *pieces)


def _swap_before(match: Match, slot: Unit, out: Span | None, into: Span | None) -> Iterator[Edit]:
    source = match.tree.source
    if out is not None and into is not None:
        yield Edit(out, (Slice(into),))
    elif out is not None:
        # the place loses its comment lines: take the line break with them
        yield Edit(Span(out.start, slot.span.start))
    elif into is not None:
        indent = source.indent_at(slot.span.start).decode("utf-8", "replace")
        lead = source.data[source.lines.start(slot.span.start) : slot.span.start]
        start = "" if not lead.strip() else "\n" + indent
        yield Edit.before(slot.span, New(start), Slice(into), New("\n" + indent))


def _replaced(source: Source, out: Span, into: Span | None) -> tuple[Span, tuple[Piece, ...]]:
    if into is not None:
        return out, (Slice(into),)
    start = out.start
    while start and source.data[start - 1 : start] in (b" ", b"\t"):
        start -= 1
    return Span(start, out.end), ()


def _with_separator(slot: Unit, match: Match) -> Span:
    """Return the code after which a comment of this item stands: the item, and its separator."""
    last = slot.nodes[-1]
    parent = last.parent
    if parent is None:
        return slot.span
    source = match.tree.source
    if (after := last.next) is not None:
        between = source.data[last.end : after.start]
        if after.kind in match.tree.language.separators and b"\n" not in between:
            return after.span
    return slot.span
