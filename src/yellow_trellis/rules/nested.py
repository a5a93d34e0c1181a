"""Statements parsed with no more around them than the headers of functions and classes."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

from yellow_trellis.languages.pieces import Line, Lines, merged
from yellow_trellis.patterns.pattern import Clue
from yellow_trellis.rules.apart import Apart, Place, Told
from yellow_trellis.rules.reach import Hoped
from yellow_trellis.source import held


class Nested(Apart):
    """What is to be parsed, by statement, each after the headers of the definitions around it.

    Of its indentation each line keeps one byte for every such header, whatever else it stands in.
    """

    def _teller(self, reach: Hoped) -> Callable[[Place, Lines, int, Clue | None], Told]:
        return self._nested

    def _nested(self, place: Place, lines: Lines, number: int, more: Clue | None) -> Told:
        told = self._line(place, lines, number, more)
        if not told:
            return told
        around = lines.around(number)
        piece = self._pieces.at(place[0])
        if around is not None and piece.header and not piece.is_header:
            outer = self._pieces.lines_of(self._pieces.at(piece.whole_start)).definition()
            around = None if outer is None else (outer, *around)
        if around is None:
            return None
        told = (*around, *told)
        kept = b"".join(self._data[start:stop] for start, stop in _indents(told))
        return None if b" " in kept and b"\t" in kept else told

    @cached_property
    def _spans(self) -> tuple[tuple[int, int], ...]:
        found: set[tuple[int, int]] = set()
        bodies = merged({line[:2] for told in self._found for line in told if not line.cut})
        for told in self._found:
            for line, (start, _) in zip(told, _indents(told), strict=True):
                if not line.cut or not held(line.start, line.start + 1, bodies):
                    found.add((start, line.end))
        return tuple(merged(found))

    @property
    def _tails(self) -> tuple[tuple[int, int], ...]:
        return ()


def _indents(nest: tuple[Line, ...]) -> list[tuple[int, int]]:
    """Return what each line keeps of its indentation, in bytes."""
    return [(line.start - depth, line.start) for depth, line in enumerate(nest)]
