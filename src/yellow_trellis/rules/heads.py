"""Headers of statements and of their clauses, parsed without bodies for rules that need no more."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from functools import cached_property

from yellow_trellis.languages.pieces import Line, Lines, merged
from yellow_trellis.patterns.pattern import Clue
from yellow_trellis.rules.apart import Apart, Place, Told
from yellow_trellis.rules.reach import Hoped
from yellow_trellis.source import held


class Heads(Apart):
    """What is to be parsed, by header; a clause comes with the header of what it belongs to.

    One that stands between a header and its clause is parsed as a part of that statement. For
    that, each keeps one byte of its indentation for every statement around it that is there.
    """

    def _teller(self, reach: Hoped) -> Callable[[Place, Lines, int, Clue | None], Told]:
        return self._head

    def _head(self, place: Place, lines: Lines, number: int, more: Clue | None) -> Told:
        """Return the header of a clause with that of its statement, or a header alone."""
        return () if self._pieces.in_text(place[0]) else lines.head(number)

    @cached_property
    def _spans(self) -> tuple[tuple[int, int], ...]:
        return tuple(merged(set(_indented(self._found))))

    @property
    def _tails(self) -> tuple[tuple[int, int], ...]:
        return ()


def _indented(found: Iterable[tuple[Line, ...]]) -> Iterator[tuple[int, int]]:
    """Yield the bytes of headers, with as much space before each as statements are around it."""
    bodies = merged({line[:2] for told in found for line in told if not line.cut})
    clauses: dict[Line, list[Line]] = {Line(*body): [] for body in bodies}
    for first, *others in sorted(found):
        if not held(first.start, first.start + 1, bodies):
            clauses.setdefault(first, []).extend(others)
    around: list[int] = []
    """Where the statements end in which the next header may stand."""
    for first, others in sorted(clauses.items()):
        while around and around[-1] <= first.start:
            around.pop()
        lines = first, *others
        yield from ((line.start - len(around), line.end) for line in lines)
        around.append(lines[-1].end)
