"""How little of a file needs to be parsed for what its rules may find in it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property
from typing import NamedTuple

from yellow_trellis.languages import Language, Parsed
from yellow_trellis.languages.pieces import Line, Piece, Pieces, merged
from yellow_trellis.rules.definition import Rule
from yellow_trellis.rules.leave import MARK
from yellow_trellis.rules.reach import Hoped, hoped_reach
from yellow_trellis.source import Sightings, Span, held

_WORTH = 0.85
"""The part of a file above which it costs less to parse all of it."""


class Share(NamedTuple):
    """Some of a file, and the rules, each with its rank, that can find nothing outside of it."""

    only: Parsed
    rules: list[tuple[int, Rule]]
    places: dict[int, list[tuple[int, int]]]
    """By rank of a rule with a pattern: where its lead is seen with all else that it needs."""


class Shares:
    """What of a file is to be parsed.

    What its rules find there alone is what they find in the file, as far as it parses without
    errors; a rule in code that looks beyond it is told by the tree.
    """

    def __init__(self, data: bytes, pieces: Pieces) -> None:
        self.found: list[Share] = []
        """Each is to be parsed by itself; none where nothing can be found."""
        self._data = data
        self._pieces = pieces

    def around(self, spans: Iterable[Span], rules: Iterable[Rule]) -> Parsed:
        """Return what is to be parsed for all that `rules` need to see around `spans`."""
        kept = _Kept(self._pieces, len(self._data))
        whole = any(hoped_reach(rule) in ("outline", "statement") for rule in rules)
        for span in spans:
            at = span.start
            while at == span.start or at < span.end:
                piece = self._pieces.at(at)
                if whole or piece.end < span.end:
                    kept.add_whole(piece)
                    at = piece.whole_end
                else:
                    kept.add(piece)
                    at = piece.end
        return kept.parsed(self._data)


def shares(
    rules: Iterable[tuple[int, Rule]],
    file: Sightings,
    language: Language,
    *,
    with_holes: bool = False,
) -> Shares | None:
    """Return what of a file to parse for `rules`, each with its rank.

    Arguments: `with_holes` says that what holes took is to be told in full.
    Returns: None where a rule may look at all of the file, the language or the file cannot be cut,
    or it is not worth it.
    """
    if file.holds(MARK):
        return None  # a comment may leave something alone
    reaches: list[tuple[tuple[int, Rule], Hoped]] = []
    for ranked in rules:
        rule = ranked[1]
        reach = hoped_reach(rule)
        if reach == "outline" and with_holes:
            reach = "statement"
        if rule.looks_past == "line" and reach in ("line", "block"):
            reach = "expression"
        if reach == "file" or rule.looks_past == "piece":
            return None
        reaches.append((ranked, reach))
    pieces = language.pieces(file.data)
    if pieces is None:
        return None
    most = _WORTH * len(file.data)
    made = Shares(file.data, pieces)
    apart = _Apart(pieces)
    kept = _Kept(pieces, most)
    far: list[tuple[int, Rule]] = []
    for ranked, reach in reaches:
        if reach in ("line", "block"):
            if apart.add(ranked, reach, file):
                continue
            reach = "expression"
        if _keep(ranked[1], reach, file, kept):
            far.append(ranked)
        if kept.size > most:
            return None
    if far:
        made.found.append(Share(kept.parsed(file.data), far, {}))
    if apart.rules:
        made.found.append(Share(apart.parsed, apart.rules, apart.places))
    if kept.size + apart.size > most:
        return None
    return made


class _Apart:
    """Statements, or headers of some, that are parsed without what is around them."""

    def __init__(self, pieces: Pieces) -> None:
        self.pieces = pieces
        self.rules: list[tuple[int, Rule]] = []
        """Those that have to look at any of them."""
        self.places: dict[int, list[tuple[int, int]]] = {}
        self._lines: set[Line] = set()

    def add(self, ranked: tuple[int, Rule], reach: Hoped, file: Sightings) -> bool:
        """Add those in which a rule has to look; tell whether all of them could be told."""
        rank, rule = ranked
        found: list[Line] = []
        places: list[tuple[int, int]] = []
        lead = rule.approach.lead if rule.pattern is not None else None
        more = lead if lead is not None and (lead.before or lead.after) else None
        data, pieces = file.data, self.pieces
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
        """How many bytes they have."""
        return sum(end - start for start, end in self._spans)

    @property
    def parsed(self) -> Parsed:
        """All of them; what is a header only, and not in a statement with its body, is cut."""
        bodies = merged({line[:2] for line in self._lines if not line.is_header})
        heads = (line.start for line in self._lines if line.is_header)
        cut = (start for start in heads if not held(start, start + 1, bodies))
        return Parsed(self._spans, frozenset(cut), apart=True)


class _Kept:
    """What is to be parsed, by top-level statement."""

    def __init__(self, pieces: Pieces, most: float) -> None:
        self.pieces = pieces
        self.most = most
        self.size = 0
        self._parts: dict[tuple[int, int], dict[int, Piece]] = {}
        """By start and end of a statement: its pieces, or none for all of it."""
        self._spans: set[tuple[int, int]] = set()

    def holds(self, start: int, end: int) -> bool:
        """Tell whether a piece, or a statement, is kept already."""
        return (start, end) in self._spans

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

    def parsed(self, data: bytes) -> Parsed:
        """Return all that is kept, with the headers of classes that are kept in part."""
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
                cut.add(piece.start + _indent(data, piece.start))
                heads.add((piece.whole_start, piece.whole_start + piece.header))
        kept, ends = tuple(merged(spans | heads)), tuple(sorted(tails))
        return Parsed(kept, frozenset(cut), tuple(sorted(heads)), ends)


def _indent(data: bytes, start: int) -> int:
    line = data[start : start + 200]
    return len(line) - len(line.lstrip(b" \t"))


def _keep(rule: Rule, reach: Hoped, file: Sightings, kept: _Kept) -> bool:
    """Keep the pieces in which a rule has to look, and tell whether there are any."""
    any_there = False
    for piece in _wanted(rule, reach, file, kept):
        any_there = True
        if reach == "statement":
            kept.add_whole(piece)
        else:
            kept.add(piece)
            if reach == "outline" and piece.is_header:
                kept.add(kept.pieces.at(piece.whole_end - 1))
        if kept.size > kept.most:
            break
    return any_there


def _wanted(rule: Rule, reach: Hoped, file: Sightings, kept: _Kept) -> Iterator[Piece]:
    """Yield the pieces in which a rule has to look, or pieces of the statements in which it has."""
    lead = rule.approach.lead if rule.pattern is not None else None
    for chain in rule.chains:
        after = 0
        for at, end in file.of(chain):
            if at < after:
                continue
            piece = kept.pieces.at(at)
            start, stop = piece.start, piece.end
            if reach == "statement":
                start, stop = piece.whole_start, piece.whole_end
            known = kept.holds(start, stop)
            if known or lead is None or lead.stands(file.data, start, at, end, stop):
                after = stop
                yield piece
