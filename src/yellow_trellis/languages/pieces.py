"""Pieces of a file that can be parsed without each other."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Collection
from typing import NamedTuple


class Piece(NamedTuple):
    """A piece in bytes: a whole top-level statement, or the header or a member of a class.

    `whole_start` and `whole_end` are those of the top-level statement; `header` is how many bytes
    at its start must stay with the piece, 0 for none.
    """

    start: int
    end: int
    whole_start: int
    whole_end: int
    header: int = 0


class Pieces:
    """The pieces of a file, in order, without gaps."""

    def __init__(self, found: list[Piece]) -> None:
        self.found = found
        self._starts = [piece.start for piece in found]

    def at(self, place: int) -> Piece:
        """Return the piece that holds the byte at `place`."""
        return self.found[bisect_right(self._starts, place) - 1]


def merged(spans: Collection[tuple[int, int]]) -> list[tuple[int, int]]:
    """Return spans in order, those that touch or overlap as one."""
    found: list[tuple[int, int]] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1]:
            found[-1] = (found[-1][0], max(end, found[-1][1]))
        else:
            found.append((start, end))
    return found
