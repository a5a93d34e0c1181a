"""Edits cut down to what they write: each in-place kept slice splits its edit in two."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from yellow_trellis.fixes import Edit, Fix, Kept, New, Piece
from yellow_trellis.source import Span


@dataclass(frozen=True, slots=True, eq=False)
class Primitive:
    """A span that one fix writes, or a point at which it inserts (start == end)."""

    start: int
    end: int
    pieces: tuple[Piece, ...]
    fix: int
    """The number of the fix in its plan."""
    extent: Span
    """The code the fix is about."""
    anchor: Span
    """For an insertion, the code it clings to; else the span itself."""
    before: bool = False
    """For an insertion: whether it stands before its anchor."""
    order: int | None = None

    @property
    def inserts(self) -> bool:
        """Whether nothing of the original is written over."""
        return self.start == self.end

    @property
    def span(self) -> Span:
        """The bytes written over."""
        return Span(self.start, self.end)

    @property
    def key(self) -> tuple[int, ...]:
        """Where the primitive comes in the text, among others that start at the same byte.

        First what clings to code that ends here, the innermost first; then what clings to code
        that starts here, the outermost first; then what is written over, the longest first.
        Insertions with an order stand outside of those without one.
        """
        ordered = self.order is not None
        order = self.order or 0
        size = self.anchor.end - self.anchor.start
        extent = self.extent.end - self.extent.start
        if not self.inserts:
            return (self.start, 2, -(self.end - self.start), 0, 0, -extent)
        if self.before:
            return (self.start, 1, -size, not ordered, order, -extent)
        return (self.start, 0, size, ordered, order, extent)


def primitives(fix: Fix, number: int) -> list[Primitive]:
    """Return what `fix`, number `number` of a plan, writes, in source order."""
    found: list[Primitive] = []
    for edit in fix.edits:
        found.extend(_cut(edit, fix, number))
    return found


def _cut(edit: Edit, fix: Fix, number: int) -> Iterator[Primitive]:
    if edit.inserts:
        assert edit.anchor is not None
        yield Primitive(
            *(edit.span.start, edit.span.end, edit.pieces, number, fix.extent),
            *(edit.anchor, edit.side == "before", edit.order),
        )
        return
    start = edit.span.start
    last: Span | None = None
    run: list[Piece] = []
    for piece in edit.pieces:
        if isinstance(piece, Kept) and _in_place(piece, start, edit):
            here = piece.span
            yield from _segment(Span(start, here.start), tuple(run), here, True, fix, number, edit)
            start, last, run = here.end, here, []
        else:
            run.append(piece)
    yield from _segment(
        Span(start, edit.span.end), tuple(run), last or edit.span, False, fix, number, edit
    )


def _in_place(piece: Kept, start: int, edit: Edit) -> bool:
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
        yield Primitive(*span, pieces, number, fix.extent, span)
    elif pieces:
        yield Primitive(*span, pieces, number, fix.extent, beside, before, edit.order)


def moved(fix: Fix) -> tuple[Span, ...]:
    """Return the kept slices of `fix` that it puts elsewhere, or puts on another depth."""
    found: list[Span] = []
    for primitive in primitives(fix, 0):
        found.extend(p.span for p in primitive.pieces if isinstance(p, Kept))
    return tuple(found)


def new_text(fix: Fix) -> str:
    """Return all new text of `fix`, joined."""
    return "".join(p.text for edit in fix.edits for p in edit.pieces if isinstance(p, New))
