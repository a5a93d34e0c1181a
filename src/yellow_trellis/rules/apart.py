"""Statements, or headers of some, that are parsed without what is around them."""

from __future__ import annotations

from functools import cached_property
from itertools import pairwise

from yellow_trellis.languages import Parsed
from yellow_trellis.languages.pieces import Line, Piece, Pieces, merged
from yellow_trellis.rules.definition import Rule
from yellow_trellis.rules.reach import Hoped
from yellow_trellis.source import Sightings, held


class Apart:
    """What is to be parsed, by statement wherever it stands."""

    def __init__(self, pieces: Pieces) -> None:
        self.rules: list[tuple[int, Rule]] = []
        """Those that have to look at any of it, each with its rank."""
        self.places: dict[int, list[tuple[int, int]]] = {}
        """By rank of a rule with a pattern: where its lead is seen with all else that it needs."""
        self._pieces = pieces
        self._found: dict[Line, None] = {}
        self._tails: dict[Line, None] = {}

    def add_for(self, ranked: tuple[int, Rule], reach: Hoped, file: Sightings) -> bool:
        """Add the statements in which a rule has to look; tell whether all of them can be told."""
        rank, rule = ranked
        found: list[Line] = []
        tails: list[Line] = []
        places: list[tuple[int, int]] = []
        lead = rule.approach.lead if rule.pattern is not None else None
        more = lead if lead is not None and (lead.before or lead.after) else None
        data, pieces = file.data, self._pieces
        first = stop = -1
        for chain in rule.chains:
            for place in file.of(chain):
                at, end = place
                if not first <= at < stop:
                    piece = pieces.at(at)
                    # many pieces can be left before their lines are told
                    if (
                        more is not None
                        and not pieces.has_lines_of(piece)
                        and not more.stands(data, piece.start, at, end, piece.end)
                    ):
                        continue
                    lines = pieces.lines_of(piece)
                    first, stop, bounds = piece.start, piece.end, lines.bounds
                number = lines.number(at)
                if number is None:
                    return False
                if reach == "line":
                    # what is looked for is in no more than one logical line
                    if more is not None and not more.stands(
                        data, bounds[number], at, end, bounds[number + 1]
                    ):
                        continue
                    line = lines.line(number)
                elif reach == "outline":
                    line, tail = lines.line(number), self._end_of(piece, number)
                    if line is None or tail is None:
                        return False
                    tails.append(tail)
                else:
                    if (
                        more is not None
                        and not more.follows(data, bounds[number], at)
                        and not lines.is_clause(number)
                    ):
                        continue
                    line = lines.block(number)
                    if (
                        line is not None
                        and more is not None
                        and not more.stands(data, line.start, at, end, line.end)
                    ):
                        continue
                if line is None:
                    return False
                found.append(line)
                places.append(place)
        if reach == "outline" and self._overlaps(found, tails):
            return False
        if found:
            self._found.update(dict.fromkeys(found))
            self._tails.update(dict.fromkeys(tails))
            self.rules.append(ranked)
            if lead is not None:
                self.places[rank] = places
        return True

    def _overlaps(self, headers: list[Line], ends: list[Line]) -> bool:
        """Tell whether any of some statements, or of those that are there, stands in another."""
        headers, ends = [*self._found, *headers], [*self._tails, *ends]
        spans = sorted((header.start, end.end) for header, end in zip(headers, ends, strict=True))
        return any(one[1] > other[0] for one, other in pairwise(spans))

    def _end_of(self, piece: Piece, number: int) -> Line | None:
        """Return the last statement of the body whose header is a logical line of a piece."""
        if not piece.is_header:
            return self._pieces.lines_of(piece).body_end(number)
        return self._pieces.lines_of(self._pieces.at(piece.whole_end - 1)).end()

    @cached_property
    def _spans(self) -> tuple[tuple[int, int], ...]:
        return tuple(merged({line[:2] for line in (*self._found, *self._tails)}))

    @property
    def size(self) -> int:
        """How many bytes it has."""
        return sum(end - start for start, end in self._spans)

    @property
    def parsed(self) -> Parsed:
        """All of it; what is a header only, and not in a statement with its body, is cut."""
        bodies = merged({line[:2] for line in self._found if not line.cut})
        heads = (start for line in (*self._found, *self._tails) for start in line.cut)
        cut = (start for start in heads if not held(start, start + 1, bodies))
        tails = tuple(sorted(line[:2] for line in self._tails))
        return Parsed(self._spans, frozenset(cut), tails=tails, apart=True)
