"""The two ways to point into a file: byte spans for machines, places for people."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from operator import itemgetter
from typing import NamedTuple


class Span(NamedTuple):
    """A half-open range of bytes ``[start, end)``, both 0-based."""

    start: int
    end: int

    def holds(self, span: Span) -> bool:
        """Return whether `span` lies inside this span, edges included."""
        return self.start <= span.start and span.end <= self.end

    def crosses(self, span: Span) -> bool:
        """Return whether the two share a byte; an empty span does with what it lies strictly in."""
        return self.start < span.end and span.start < self.end


class Place(NamedTuple):
    """A place as people see it: line and column, both from 1, the column in characters."""

    line: int
    column: int

    def __str__(self) -> str:
        return f"{self.line}:{self.column}"


def is_within(start: int, end: int, spans: Sequence[tuple[int, int]]) -> bool:
    """Return whether one of `spans`, in order and apart, holds the bytes `start` to `end`."""
    at = bisect_right(spans, start, key=itemgetter(0)) - 1
    return at >= 0 and end <= spans[at][1]
