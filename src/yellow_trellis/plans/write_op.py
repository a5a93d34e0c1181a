"""Edits cut down to what they write: each in-place kept slice splits its edit in two."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Union

from yellow_trellis.edits import Edit, New, Order, Piece, Slice
from yellow_trellis.edits.edit import AROUND_RUN, Neighbour
from yellow_trellis.fixes import Fix
from yellow_trellis.plans.proof.claims import Claim, claims_of, levels_of
from yellow_trellis.source import Span

Label = tuple[int, Union[Span, None]]
"""What an edge is about: the number of a claim, and a slice that it keeps, or None for itself."""

EXTENT: Label = (-1, None)
"""The label of the edges of a fix's extent."""


class Primitive:
    """A span that one fix writes, or a point at which it inserts (start == end).

    A plain class with all worked out once: there are several for each of a hundred thousand fixes.
    """

    __slots__ = (
        *("anchor", "before", "edge", "end", "extent", "fix", "inserts", "key", "label", "order"),
        *("level", "neighbour", "pieces", "start"),
    )

    def __init__(
        self,
        start: int,
        end: int,
        pieces: tuple[Piece, ...],
        fix: int,
        extent: Span,
        anchor: Span,
        before: bool = False,
        order: Order | None = None,
        edge: int = 0,
        label: Label = EXTENT,
        neighbour: Neighbour | None = None,
        level: int = 0,
    ) -> None:
        self.start = start
        self.end = end
        self.pieces = pieces
        self.fix = fix
        """The number of the fix in its plan."""
        self.extent = extent
        """The code the fix is about."""
        self.anchor = anchor
        """For an insertion, the code it clings to; else the span itself."""
        self.before = before
        """For an insertion: whether it stands before its anchor."""
        self.order = order
        self.edge = edge
        """Other than 0 for the start or end of something that is looked for in the new text."""
        self.label = label
        """Of an edge: what starts or ends there."""
        self.neighbour = neighbour
        """What new statements are about; None for code within a statement."""
        self.level = neighbour.level if neighbour is not None else level
        """How far outside of others at its place it stands; see `Neighbour.level`."""
        self.inserts = start == end
        """Whether nothing of the original is written over."""
        reach = extent[1] - extent[0]
        if start != end:
            self.key: Key = (start, 2, start - end, 0, 0, _NO_ORDER, -reach, edge)
            return
        size = anchor[1] - anchor[0]
        if edge in (-2, 2):
            ordered, by = True, _FIRST_ORDER if before else _LAST_ORDER
        else:
            ordered, by = order is not None, _NO_ORDER if order is None else order_key(order)
        if before:
            self.key = (start, 1, -size, -self.level, not ordered, by, -reach, edge)
        else:
            self.key = (start, 0, size, self.level, ordered, by, reach, edge)

    # The key says where the primitive comes in the text, among others that start at the same byte:
    # first what clings to code that ends here, the innermost first; then what clings to code that
    # starts here, the outermost first; then what is written over, the longest first. What is put
    # beside a body stands outside of what is beside a statement, that of code in it. Insertions
    # with an order stand outside of those without one, the edges of a fix outside of what the fix
    # inserts and inside of what others do around. The edges of a claim stand outside of insertions
    # with an order too (-2 and 2), those of a slice inside of all that its own fix inserts.

    @property
    def span(self) -> Span:
        """The bytes written over."""
        return Span(self.start, self.end)


Key = tuple[int, int, int, int, int, tuple[int, str], int, int]

_NO_ORDER = (0, "")
_FIRST_ORDER = (-(1 << 62), "")
_LAST_ORDER = (1 << 62, "")


def order_key(order: Order | None) -> tuple[int, str]:
    """Return by what insertions of an order are sorted: numbers first, then texts."""
    if order is None:
        return _NO_ORDER
    return (order, "") if isinstance(order, int) else (_LAST, order)


_LAST = 1 << 60


def primitives(fix: Fix, number: int) -> list[Primitive]:
    """Return what `fix`, number `number` of a plan, writes, in source order."""
    results: list[Primitive] = []
    extent = fix.extent
    for edit in fix.edits:
        span, pieces = edit.span, edit.pieces
        start, end = span
        if start == end:
            anchor, before = edit.anchor or span, edit.side == "before"
            results.append(
                Primitive(
                    *(start, end, pieces, number, extent, anchor, before, edit.order),
                    neighbour=edit.neighbour,
                )
            )
            continue
        for piece in pieces:
            if piece.__class__ is Slice:
                results.extend(_cut(edit, fix, number))
                break
        else:
            results.append(
                Primitive(start, end, pieces, number, extent, span, neighbour=edit.neighbour)
            )
    return results


def _cut(edit: Edit, fix: Fix, number: int) -> Iterator[Primitive]:
    """Split an edit at the slices that it keeps where they are."""
    start = edit.span.start
    last: Span | None = None
    run: list[Piece] = []
    for piece in edit.pieces:
        if isinstance(piece, Slice) and _in_place(piece, start, edit):
            here = piece.span
            yield from _segment(Span(start, here.start), tuple(run), here, True, fix, number, edit)
            start, last, run = here.end, here, []
        else:
            run.append(piece)
    yield from _segment(
        Span(start, edit.span.end), tuple(run), last or edit.span, False, fix, number, edit
    )


def _in_place(piece: Slice, start: int, edit: Edit) -> bool:
    return piece.indent is None and start <= piece.span.start and piece.span.end <= edit.span.end


def _segment(
    span: Span,
    pieces: tuple[Piece, ...],
    beside: Span,
    before: bool,
    fix: Fix,
    number: int,
    edit: Edit,
) -> Iterator[Primitive]:
    if span.start < span.end:
        yield Primitive(*span, pieces, number, fix.extent, span, neighbour=edit.neighbour)
    elif pieces:
        yield Primitive(
            *(*span, pieces, number, fix.extent, beside, before, edit.order),
            neighbour=edit.neighbour,
        )


def edges(fix: Fix, number: int) -> list[Primitive]:
    """Return, as insertions of nothing, the edges of a fix's extent, its claims and its slices.

    Slices that are written anew have no edges.
    """
    extent = fix.extent
    levels = levels_of(fix.edits)
    results = list(_edge_pair(extent, number, extent, _EDGES_OF[""], EXTENT, levels))
    for at, claim in enumerate(claims_of(fix)):
        outside = _edges_around(fix, claim)
        results += _edge_pair(claim.span, number, extent, outside, (at, None), claim.levels)
        for span in claim.stays:
            levels = _levels_of_slice(claim, span)
            results += _edge_pair(span, number, extent, (1, -1), (at, span), levels)
    return results


def _edges_around(fix: Fix, claim: Claim) -> tuple[int, int]:
    """Return the edges of a claim, which are inside of what only others put at its ends."""
    if claim.side != "around":
        return _EDGES_OF[claim.side]
    sides = {edit.side for edit in fix.edits if edit.inserts and edit.anchor == claim.span}
    return (-1 if "before" in sides else 1), (1 if "after" in sides else -1)


def _levels_of_slice(claim: Claim, span: Span) -> tuple[int, int]:
    """Return how far outside of others the ends of a slice stand that a claim keeps."""
    if claim.side != "around":
        return claim.levels
    if span == claim.span:
        return 1, 1  # a statement that a template only puts others beside
    return (AROUND_RUN, AROUND_RUN) if span in claim.runs else (0, 0)


_EDGES_OF = {"": (-1, 1), "before": (-2, -1), "after": (1, 2)}
"""By side of a claim: its edges. One that replaces is on no side."""


def _edge_pair(
    span: Span,
    number: int,
    extent: Span,
    edge: tuple[int, int],
    label: Label,
    levels: tuple[int, int],
) -> Iterator[Primitive]:
    start, end = span
    ends = ((start, True, edge[0], levels[0]), (end, False, edge[1], levels[1]))
    for at, before, mark, level in ends:
        yield Primitive(
            *(at, at, (), number, extent, span, before), edge=mark, label=label, level=level
        )


def moved(writes: list[Primitive]) -> tuple[Span, ...]:
    """Return the kept slices that a fix puts elsewhere, or puts on another depth."""
    spans: list[Span] = []
    for write in writes:
        for piece in write.pieces:
            if isinstance(piece, Slice):
                spans.append(piece.span)
    return tuple(spans)


def new_text(fix: Fix) -> str:
    """Return all new text of `fix`, joined."""
    return "".join(p.text for edit in fix.edits for p in edit.pieces if isinstance(p, New))
