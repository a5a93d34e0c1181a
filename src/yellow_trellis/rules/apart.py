"""Statements, or headers of some, that are parsed without what is around them."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from itertools import pairwise
from typing import Union

from yellow_trellis.languages import Parsed
from yellow_trellis.languages.pieces import Line, Lines, Pieces, merged
from yellow_trellis.patterns.pattern import Clue
from yellow_trellis.rules.definition import Rule
from yellow_trellis.rules.reach import Hoped
from yellow_trellis.source import Sightings
from yellow_trellis.source import held as is_held

Place = tuple[int, int]
"""Where a lead is seen: start and end, in bytes."""

Told = Union[tuple[Line, ...], None]
"""What is to be parsed around a place; nothing where nothing can be found, None if not plain."""


class Apart:
    """What is to be parsed, by statement wherever it stands.

    Arguments: `pieces` are those of the file with the bytes `data`.
    """

    def __init__(self, pieces: Pieces, data: bytes) -> None:
        self.rules: list[tuple[int, Rule]] = []
        """Those that have to look at any of it, each with its rank."""
        self.places: dict[int, list[Place]] = {}
        """By rank of a rule with a pattern: where its lead is seen with all else that it needs."""
        self._pieces = pieces
        self._data = data
        self._found: dict[tuple[Line, ...], None] = {}
        """A statement, or the header of one, and the end of its body where that counts."""

    def add_for(self, ranked: tuple[int, Rule], reach: Hoped, file: Sightings) -> bool:
        """Add the statements in which a rule has to look; tell whether all of them can be told."""
        rank, rule = ranked
        lead = rule.approach.lead if rule.pattern is not None else None
        more = lead if lead is not None and (lead.before or lead.after) else None
        tell = self._teller(reach)
        found: list[tuple[Line, ...]] = []
        places: list[Place] = []
        data, pieces, held = self._data, self._pieces, rule.held_chains
        first = stop = -1
        for chain in rule.chains:
            for place in file.of(chain):
                at = place[0]
                if not first <= at < stop:
                    piece = pieces.at(at)
                    # many pieces can be left before their lines are told
                    if (
                        more is not None
                        and not pieces.has_lines_of(piece)
                        and not more.stands(data, piece.start, *place, piece.end)
                    ):
                        continue
                    lines = pieces.lines_of(piece)
                    first, stop = piece.start, piece.end
                number = lines.number(at)
                told = None if number is None else tell(place, lines, number, more)
                if told is None:
                    return False
                if told and all(file.shows(one, told[0].start, told[-1].end) for one in held):
                    found.append(told)
                    places.append(place)
        if reach == "outline" and self._overlaps(found):
            return False
        if found:
            self._found.update(dict.fromkeys(found))
            self.rules.append(ranked)
            if lead is not None:
                self.places[rank] = places
        return True

    def _teller(self, reach: Hoped) -> Callable[[Place, Lines, int, Clue | None], Told]:
        return {"line": self._line, "block": self._block, "outline": self._outline}[reach]

    def _line(self, place: Place, lines: Lines, number: int, more: Clue | None) -> Told:
        """Return the statement in a logical line; nothing where nothing can be found in it."""
        start, stop = lines.bounds[number], lines.bounds[number + 1]
        if more is not None and not more.stands(self._data, start, *place, stop):
            return ()
        if self._pieces.in_text(place[0]):
            return ()
        line = lines.line(number)
        return None if line is None else (line,)

    def _block(self, place: Place, lines: Lines, number: int, more: Clue | None) -> Told:
        """Return a statement with its body; nothing where nothing can be found in it."""
        at = place[0]
        start = lines.bounds[number]
        if more is not None and not (
            more.follows(self._data, start, at) or lines.is_clause(number)
        ):
            return ()
        if self._pieces.in_text(at):
            return ()
        line = lines.block(number)
        if line is None:
            return None
        if more is not None and not more.stands(self._data, line.start, *place, line.end):
            return ()
        return (line,)

    def _outline(self, place: Place, lines: Lines, number: int, more: Clue | None) -> Told:
        """Return the header of a statement and the last statement of its body."""
        if self._pieces.in_text(place[0]):
            return ()
        header = lines.line(number)
        piece = self._pieces.at(place[0])
        if piece.is_header:
            end = self._pieces.lines_of(self._pieces.at(piece.whole_end - 1)).end()
        else:
            end = lines.body_end(number)
        return None if header is None or end is None else (header, end)

    def _overlaps(self, outlines: list[tuple[Line, ...]]) -> bool:
        """Return whether any of some statements, or of those that are there, stands in another."""
        spans = sorted((one[0].start, one[-1].end) for one in (*self._found, *outlines))
        return any(one[1] > other[0] for one, other in pairwise(spans))

    @cached_property
    def _spans(self) -> tuple[tuple[int, int], ...]:
        return tuple(merged({line[:2] for told in self._found for line in told}))

    @property
    def size(self) -> int:
        """How many bytes it has."""
        return sum(end - start for start, end in self._spans)

    @property
    def parsed(self) -> Parsed:
        """All of it; what is a header only, and not in a statement with its body, is cut."""
        told = {line for one in self._found for line in one}
        bodies = merged({line[:2] for line in told if not line.cut})
        cut = (start for line in told for start in line.cut)
        known = frozenset(start for start in cut if not is_held(start, start + 1, bodies))
        return Parsed(self._spans, known, tails=self._tails, apart=True)

    @property
    def _tails(self) -> tuple[tuple[int, int], ...]:
        """Where bodies end of which the last statement is there, in order."""
        return tuple(sorted(line[:2] for one in self._found for line in one[1:]))
