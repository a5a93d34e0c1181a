"""Claims of a fix: the code that it replaces, and the slices of it that stay code.

The proof holds the new text against these statements and nothing else, so that it needs no trust
in whoever made the fix: a template, the verbs of a builder, or edits made by hand.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple, Protocol

from yellow_trellis.edits import Edit, Piece, Slice
from yellow_trellis.fixes import Fix
from yellow_trellis.source import Source, Span


class Claim(NamedTuple):
    """Code that a fix replaces, in bytes of the original, and the slices that it keeps."""

    span: Span
    """What is replaced; of an insertion the code that it clings to, which it keeps."""
    stays: tuple[Span, ...]
    """The slices that stay where they stand in the original."""
    moves: tuple[Span, ...]
    """The slices that stand elsewhere in the new text, or on another depth."""
    runs: frozenset[Span] = frozenset()
    """Those slices that are neighbours of whatever number."""
    side: str = ""
    """Of an insertion: the side of the code that it is on. Of a template: ``around``."""
    levels: tuple[int, int] = (0, 0)
    """How far outside of others its start and its end stand; see `Neighbour.level`."""

    @property
    def replaces(self) -> bool:
        """Return whether something comes in the place of the code, and not only beside it."""
        return self.side in ("", "around")


class Region(NamedTuple):
    """A claim in a new text."""

    fix: int
    """The number of the fix in its plan."""
    old: Span
    """The code claimed, in bytes of the original."""
    new: Span
    """What came in its place, in bytes of the new text."""
    kept: tuple[tuple[Span, Span], ...]
    """Slices of the original, each with its place in the new text."""
    runs: frozenset[Span] = frozenset()
    """Those slices that are neighbours of whatever number."""
    replaces: bool = True
    """Whether something comes in the place of the code, and not only beside it."""


def claims_of(fix: Fix) -> list[Claim]:
    """Return what `fix` states: each template its code and its holes, each other edit its span."""
    return [claim for claim, _ in _with_edits(fix)]


def _with_edits(fix: Fix) -> Iterator[tuple[Claim, tuple[Edit, ...]]]:
    """Yield each claim of a fix with the edits that it is about."""
    of_templates: set[int] = set()
    for template in fix.puts:
        of_templates.update(map(id, template.edits))
        stays = tuple(span for span in template.keeps if _is_untouched(template.edits, span))
        moves = tuple(span for edit in template.edits for span in _moved(edit))
        levels, runs = levels_of(template.edits), template.runs
        if template.edits and all(_is_beside(edit) for edit in template.edits):
            stays, moves, runs = (template.span,), (), frozenset([template.span])
        yield Claim(template.span, stays, moves, runs, "around", levels), template.edits
    for edit in fix.edits:
        if id(edit) not in of_templates:
            yield _claim(edit), (edit,)


def _claim(edit: Edit) -> Claim:
    level = edit.neighbour.level if edit.neighbour is not None else 0
    levels = level, level
    moves = tuple(_moved(edit))
    if edit.inserts:
        anchor = edit.anchor or edit.span
        runs = frozenset([anchor] if level else ())  # others may stand there as well
        return Claim(anchor, (anchor,), moves, runs, edit.side or "after", levels)
    stays = tuple(span for span in _slices(edit) if span not in moves)
    return Claim(edit.span, stays, moves, levels=levels)


def levels_of(edits: Iterable[Edit]) -> tuple[int, int]:
    """Return how far outside of others the start and the end of some edits together stand."""
    first = last = 0
    for edit in edits:
        if edit.neighbour is None or edit.neighbour.is_run:
            continue
        level = edit.neighbour.level
        first = max(first, level) if edit.side != "after" else first
        last = max(last, level) if edit.side != "before" else last
    return first, last


def _is_beside(edit: Edit) -> bool:
    """Return whether an edit puts statements beside one that stays whole."""
    return edit.neighbour is not None and not edit.neighbour.is_template


def _slices(edit: Edit) -> Iterator[Span]:
    return (piece.span for piece in edit.pieces if isinstance(piece, Slice))


def _moved(edit: Edit) -> Iterator[Span]:
    """Yield the kept slices of an edit that are written again; see `primitive.primitives`."""
    at = edit.span.start
    for piece in edit.pieces:
        if isinstance(piece, Slice):
            if piece.indent is None and at <= piece.span.start and piece.span.end <= edit.span.end:
                at = piece.span.end
            else:
                yield piece.span


def _is_untouched(edits: Iterable[Edit], span: Span) -> bool:
    """Return whether none of `edits` writes the slice `span` again, or drops it."""
    for edit in edits:
        if edit.span.holds(span) and not edit.inserts:
            moves = set(_moved(edit))
            return any(
                remainder.holds(span) and remainder not in moves for remainder in _slices(edit)
            )
    return True


class Moved(Protocol):
    """Says where a byte that no fix replaces is in the new text."""

    def __call__(self, at: int, *, after: bool = False) -> int:
        """Return the new byte of `at`, before what is inserted there or behind it."""
        ...


def regions_alone(fix: Fix, number: int, source: Source, beyond: Moved) -> Iterator[Region]:
    """Yield the regions of a fix that meets no other.

    Arguments: `beyond` says where what lies outside of the edits of the fix is in the new text.
    """
    first = fix.edits[0].span.start
    last = max(edit.span.end for edit in fix.edits)
    begin = beyond(first)
    sizes = [sum(_size(p, e, source) for p in e.pieces) for e in fix.edits]

    def moved(at: int, *, after: bool = False) -> int:
        if not first <= at <= last:
            return beyond(at, after=after)
        now = begin + at - first
        for edit, size in zip(fix.edits, sizes, strict=True):
            start, end = edit.span
            if end < at or (end == at and (after or start < end)):
                now += size - (end - start)
        return now

    for claim, edits in _with_edits(fix):
        here: dict[Span, Span] = {}
        moves: list[tuple[Span, Span]] = []
        for edit in edits:
            at, moving = moved(edit.span.start), list(_moved(edit))
            for piece in edit.pieces:
                size = _size(piece, edit, source)
                if isinstance(piece, Slice) and piece.span in moving:
                    moves.append((piece.span, Span(at, at + size)))
                elif isinstance(piece, Slice):
                    here[piece.span] = Span(at, at + size)
                at += size
        stays = [(span, here.get(span) or _slice(span, moved, first, last)) for span in claim.stays]
        start, end = claim.span
        new = Span(
            moved(start, after=claim.side == "after"),
            moved(end, after=claim.side in ("after", "around") or end > last),
        )
        yield Region(number, claim.span, new, (*stays, *moves), claim.runs, claim.replaces)


def _slice(span: Span, moved: Moved, first: int, last: int) -> Span:
    """Return where a slice that stays in place is: it has all that others do in it."""
    start = moved(span.start, after=first <= span.start <= last)
    return Span(start, moved(span.end, after=not first <= span.end <= last))


def _size(piece: Piece, edit: Edit, source: Source) -> int:
    """Return how many bytes a piece takes where nothing else changes it."""
    if isinstance(piece, Slice):
        return piece.span.end - piece.span.start
    breaks = piece.text.count("\n")
    extra = breaks * (len(source.newline_at(edit.span.start)) - 1) if breaks else 0
    return len(piece.text.encode("utf-8", "surrogateescape")) + extra
