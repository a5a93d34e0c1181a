"""Pieces of a file that can be parsed without each other."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Collection
from typing import NamedTuple, Protocol

from yellow_trellis.source import held

_LARGE = 16 * 1024
"""Bytes of a piece from which on it counts that most of it may be text."""


class Piece(NamedTuple):
    """A piece in bytes: a whole top-level statement, or the header or a member of a class.

    `whole_start` and `whole_end` are those of the top-level statement; `header` is how many bytes
    at its start must stay with the piece, 0 where it is the statement itself.
    """

    start: int
    end: int
    whole_start: int
    whole_end: int
    header: int = 0

    @property
    def is_header(self) -> bool:
        """Whether it is the header of a class that is cut."""
        return self.start == self.whole_start and self.end < self.whole_end


class Line(NamedTuple):
    """A statement, or a part of one, that parses without what stands around it, in bytes.

    It starts with its first word and ends behind its line break.
    """

    start: int
    end: int
    cut: tuple[int, ...] = ()
    """Where statements start in it of which only the header is there."""


class Lines(Protocol):
    """Tells the statements of a piece by its logical lines, which have numbers from 0."""

    bounds: list[int]
    """Where each logical line starts, in bytes, as far as they have been told."""

    def number(self, place: int) -> int | None:
        """Return the number of the logical line that holds the byte at `place`.

        None where it is not plain which does.
        """
        ...

    def in_string(self, number: int, place: int) -> bool:
        """Return whether the byte at `place` is in a string without code, or in a comment."""
        ...

    def line(self, number: int) -> Line | None:
        """Return the statement in a logical line, of one with a body the header only.

        None where lines do not make it plain, or it does not parse alone.
        """
        ...

    def head(self, number: int) -> tuple[Line, ...] | None:
        """Return the header in a logical line, and before that of a clause its statement's.

        Where a comment stands in it or behind it, which may belong to the body, all of it; nothing
        where there is no code. None where lines do not make it plain.
        """
        ...

    def around(self, number: int) -> tuple[Line, ...] | None:
        """Return the headers of the functions and classes around a logical line, the outer first.

        Those outside of the piece are not among them. None where lines do not make it plain.
        """
        ...

    def definition(self) -> Line | None:
        """Return the header of the function or class that the piece is, without decorators.

        None where lines do not make it plain.
        """
        ...

    def is_clause(self, number: int) -> bool:
        """Return whether a logical line goes on with the statement above it, as ``else`` does."""
        ...

    def block(self, number: int) -> Line | None:
        """Return the statement with its body of which a logical line is the header, or a clause.

        None where lines do not make it plain.
        """
        ...

    def body_end(self, number: int) -> Line | None:
        """Return the last statement of the body whose header is a logical line.

        It starts at the start of its line. None where lines do not make it plain.
        """
        ...

    def end(self) -> Line | None:
        """Return the last statement of a class of which the piece is the last, in the same way."""
        ...


class Pieces:
    """The pieces of a file, in order, without gaps.

    Arguments: `starts` are where its top-level statements may start, and where the last one ends;
    `is_sure` tells of such a place whether one does; `cut` gives the pieces of the one between two
    places, when somebody wants one of them; `lines` gives what tells the statements in a piece;
    `in_text` tells of a place whether it is in a long text, in which there is no code.
    """

    def __init__(
        self,
        starts: list[int],
        is_sure: Callable[[int], bool],
        cut: Callable[[int, int], list[Piece]],
        lines: Callable[[Piece], Lines],
        in_text: Callable[[int], bool],
    ) -> None:
        self._in_text = in_text
        self._starts = starts
        self._is_sure = is_sure
        self._cut = cut
        self._lines = lines
        self._parts: dict[int, tuple[list[int], list[Piece]]] = {}
        """By number of such a start: the pieces of the statement around it, after their starts."""
        self._known: dict[int, Lines] = {}
        """By start of a piece."""
        self._last = Piece(0, 0, 0, 0)
        """The one that was asked for last: the next place is often in it, too."""

    def in_text(self, place: int) -> bool:
        """Return whether a place is in a text in which there is no code.

        Of a large piece, which may be a table of texts, that is found out for short ones too.
        """
        if self._in_text(place):
            return True
        piece = self.at(place)
        if piece.end - piece.start < _LARGE:
            return False
        lines = self.lines_of(piece)
        number = lines.number(place)
        return number is not None and lines.in_string(number, place)

    def at(self, place: int) -> Piece:
        """Return the piece that holds the byte at `place`."""
        start, end, _, _, _ = self._last
        if not start <= place < end:
            number = bisect_right(self._starts, place) - 1
            starts, parts = self._parts.get(number) or self._parts_at(number)
            self._last = parts[bisect_right(starts, place) - 1]
        return self._last

    def has_lines_of(self, piece: Piece) -> bool:
        """Return whether the lines of a piece have been told."""
        return piece.start in self._known

    def lines_of(self, piece: Piece) -> Lines:
        """Return what tells the statements in a piece."""
        lines = self._known.get(piece.start)
        if lines is None:
            lines = self._known[piece.start] = self._lines(piece)
        return lines

    @property
    def found(self) -> list[Piece]:
        """All of them."""
        pieces: list[Piece] = []
        for number in range(len(self._starts) - 1):
            _, parts = self._parts_at(number)
            if not pieces or pieces[-1].end <= parts[0].start:
                pieces += parts
        return pieces

    def _parts_at(self, number: int) -> tuple[list[int], list[Piece]]:
        first, last = number, number + 1
        while first and not self._is_sure(self._starts[first]):
            first -= 1
        while last + 1 < len(self._starts) and not self._is_sure(self._starts[last]):
            last += 1
        parts = self._cut(self._starts[first], self._starts[last])
        known = [piece.start for piece in parts], parts
        self._parts.update(dict.fromkeys(range(first, last), known))
        return known


class Parsed(NamedTuple):
    """As much of a file as is parsed."""

    spans: tuple[tuple[int, int], ...]
    """In bytes, in order and apart."""
    cut: frozenset[int] = frozenset()
    """Where what holds several pieces may start of which some are left out."""
    heads: tuple[tuple[int, int], ...] = ()
    """The headers of classes of which pieces are left out, in order: there it may start too."""
    tails: tuple[tuple[int, int], ...] = ()
    """The last members of such classes, where they are parsed, in order."""
    apart: bool = False
    """Whether statements are parsed without all that is around them, and `cut` are headers."""

    def is_cut(self, place: int) -> bool:
        """Return whether what starts at `place`, and can hold several pieces, may lack some."""
        return place in self.cut or held(place, place + 1, self.heads)

    def is_end(self, place: int) -> bool:
        """Return whether what lacks some pieces, and ends at `place`, ends there in the file."""
        return held(place - 1, place, self.tails)

    def holds(self, start: int, end: int) -> bool:
        """Return whether all of a span is parsed."""
        return held(start, end, self.spans)


def merged(spans: Collection[tuple[int, int]]) -> list[tuple[int, int]]:
    """Return spans in order, those that touch or overlap as one."""
    found: list[tuple[int, int]] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1]:
            found[-1] = (found[-1][0], max(end, found[-1][1]))
        else:
            found.append((start, end))
    return found
