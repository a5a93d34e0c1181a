"""Statements, or headers of some, that are parsed without what is around them."""

from __future__ import annotations

from functools import cached_property

from yellow_trellis.languages import Parsed
from yellow_trellis.languages.pieces import Line, Pieces, merged
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
        self._lines: set[Line] = set()

    def add_for(self, ranked: tuple[int, Rule], reach: Hoped, file: Sightings) -> bool:
        """Add the statements in which a rule has to look; tell whether all of them can be told."""
        rank, rule = ranked
        found: list[Line] = []
        places: list[tuple[int, int]] = []
        lead = rule.approach.lead if rule.pattern is not None else None
        more = lead if lead is not None and (lead.before or lead.after) else None
        data, pieces = file.data, self._pieces
        tell = pieces.lines.line if reach == "line" else pieces.lines.block
        for chain in rule.chains:
            piece = None
            for place in file.of(chain):
                at, end = place
                if piece is None or at >= piece.end:
                    piece = pieces.at(at)
                if more is not None and not more.stands(data, piece.start, at, end, piece.end):
                    continue
                line = tell(at, piece)
                if line is None:
                    return False
                if more is None or more.stands(data, line.start, at, end, line.end):
                    found.append(line)
                    places.append(place)
        if found:
            self._lines.update(found)
            self.rules.append(ranked)
            if lead is not None:
                self.places[rank] = places
        return True

    @cached_property
    def _spans(self) -> tuple[tuple[int, int], ...]:
        return tuple(merged({line[:2] for line in self._lines}))

    @property
    def size(self) -> int:
        """How many bytes it has."""
        return sum(end - start for start, end in self._spans)

    @property
    def parsed(self) -> Parsed:
        """All of it; what is a header only, and not in a statement with its body, is cut."""
        bodies = merged({line[:2] for line in self._lines if not line.is_header})
        heads = (line.start for line in self._lines if line.is_header)
        cut = (start for start in heads if not held(start, start + 1, bodies))
        return Parsed(self._spans, frozenset(cut), apart=True)
