"""What of a file can be found in by looking at it in pieces, so that the rest is not parsed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from yellow_trellis.languages import Language, Parsed
from yellow_trellis.languages.pieces import Piece, Pieces, merged
from yellow_trellis.rules.definition import Rule
from yellow_trellis.rules.leave import MARK
from yellow_trellis.rules.reach import hoped_reach
from yellow_trellis.source import Sightings

_WORTH = 0.85
"""The part of a file above which it costs less to parse all of it."""


def narrowed(
    rules: Iterable[Rule], file: Sightings, language: Language, *, with_holes: bool = False
) -> Parsed | None:
    """Return what of a file to parse: outside of it none of `rules` can find anything.

    What the rules find in it alone is what they find in the file, as far as it parses without
    errors; a rule in code that looks beyond it is told by the tree.
    Arguments: `with_holes` says that what holes took is to be told in full.
    Returns: None where a rule may look beyond a piece, the language or the file cannot be cut, or
    it is not worth it; no spans where nothing can be found.
    """
    if file.holds(MARK):
        return None  # a comment may leave something alone
    reaches: list[tuple[Rule, str]] = []
    for rule in rules:
        reach: str = hoped_reach(rule)
        if reach == "outline" and with_holes:
            reach = "statement"
        if reach == "file" or rule.looks_around:
            return None
        reaches.append((rule, reach))
    pieces = language.pieces(file.data)
    if pieces is None:
        return None
    kept = _Kept(pieces, _WORTH * len(file.data))
    for rule, reach in reaches:
        for piece in _wanted(rule, reach, file, kept):
            if reach == "statement":
                kept.add_whole(piece)
            else:
                kept.add(piece)
                if reach == "outline" and piece.is_header:
                    kept.add(pieces.at(piece.whole_end - 1))
            if kept.size > kept.most:
                return None
    return kept.parsed(file.data)


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


def _wanted(rule: Rule, reach: str, file: Sightings, kept: _Kept) -> Iterator[Piece]:
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
            if kept.holds(start, stop) and not (reach == "outline" and piece.is_header):
                after = stop
            elif lead is None or lead.stands(file.data, start, at, end, stop):
                after = stop
                yield piece
