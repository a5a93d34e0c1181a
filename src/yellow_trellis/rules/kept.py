"""Statements at the top of a file, and pieces of some, that are parsed."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.languages import Parsed
from yellow_trellis.languages.pieces import Piece, Pieces, merged
from yellow_trellis.rules.definition import Rule
from yellow_trellis.rules.reach import Hoped
from yellow_trellis.source import Sightings


class Kept:
    """What is to be parsed, by top-level statement.

    Arguments: `pieces` are those of the file with the bytes `data`; `most` is how many bytes of it
    are worth keeping.
    """

    def __init__(self, pieces: Pieces, data: bytes, most: float) -> None:
        self.rules: list[tuple[int, Rule]] = []
        """Those that have to look at any of it, each with its rank."""
        self.size = 0
        """How many bytes it has."""
        self._pieces = pieces
        self._data = data
        self._most = most
        self._parts: dict[tuple[int, int], dict[int, Piece]] = {}
        """By start and end of a statement: its pieces, or none for all of it."""
        self._spans: set[tuple[int, int]] = set()

    @property
    def is_too_much(self) -> bool:
        """Whether it costs less to parse all of the file."""
        return self.size > self._most

    def add_for(self, ranked: tuple[int, Rule], reach: Hoped, file: Sightings) -> None:
        """Keep the pieces in which a rule has to look."""
        for piece in self._wanted(ranked[1], reach, file):
            if not self.rules or self.rules[-1] is not ranked:
                self.rules.append(ranked)
            if reach == "statement":
                self.add_whole(piece)
            else:
                self.add(piece)
                if reach == "outline" and piece.is_header:
                    self.add(self._pieces.at(piece.whole_end - 1))
            if self.is_too_much:
                break

    def _wanted(self, rule: Rule, reach: Hoped, file: Sightings) -> Iterator[Piece]:
        """Yield the pieces in which a rule has to look, or of whose statements it looks at all."""
        lead = rule.approach.lead if rule.pattern is not None else None
        for chain in rule.chains:
            after = 0
            for at, end in file.of(chain):
                if at < after or self._pieces.in_text(at):
                    continue
                piece = self._pieces.at(at)
                start, stop = piece.start, piece.end
                if reach == "statement":
                    start, stop = piece.whole_start, piece.whole_end
                if not all(file.shows(one, start, stop) for one in rule.held_chains):
                    continue
                known = (start, stop) in self._spans
                if known or lead is None or lead.stands(file.data, start, at, end, stop):
                    after = stop
                    yield piece

    def add_whole(self, piece: Piece) -> None:
        """Keep all of the statement that a piece is of."""
        whole = piece.whole_start, piece.whole_end
        parts = self._parts.get(whole)
        if parts == {}:
            return
        self.size += whole[1] - whole[0] - sum(p.end - p.start for p in (parts or {}).values())
        self._parts[whole] = {}
        self._spans.add(whole)

    def add(self, piece: Piece) -> None:
        """Keep a piece."""
        whole = piece.whole_start, piece.whole_end
        if whole == (piece.start, piece.end):
            self.add_whole(piece)
            return
        parts = self._parts.get(whole)
        if parts == {}:
            return
        if parts is None:
            parts = self._parts[whole] = {}
        if piece.start not in parts:
            parts[piece.start] = piece
            self.size += piece.end - piece.start
            self._spans.add((piece.start, piece.end))

    @property
    def parsed(self) -> Parsed:
        """All that is kept, with the headers of classes that are kept in part."""
        spans: set[tuple[int, int]] = set()
        heads: set[tuple[int, int]] = set()
        tails: set[tuple[int, int]] = set()
        cut: set[int] = set()
        for whole, parts in self._parts.items():
            if not parts:
                spans.add(whole)
            for piece in parts.values():
                spans.add((piece.start, piece.end))
                if piece.end == whole[1]:
                    tails.add((piece.start, piece.end))
                cut.add(piece.start + _indent(self._data, piece.start))
                heads.add((piece.whole_start, piece.whole_start + piece.header))
        kept, ends = tuple(merged(spans | heads)), tuple(sorted(tails))
        return Parsed(kept, frozenset(cut), tuple(sorted(heads)), ends)


def _indent(data: bytes, start: int) -> int:
    line = data[start : start + 200]
    return len(line) - len(line.lstrip(b" \t"))
