"""How little of a file needs to be parsed for what its rules may find in it."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from yellow_trellis.languages import Language, Parsed
from yellow_trellis.languages.pieces import Pieces
from yellow_trellis.rules.apart import Apart
from yellow_trellis.rules.definition import Rule
from yellow_trellis.rules.heads import Heads
from yellow_trellis.rules.kept import Kept
from yellow_trellis.rules.leave import MARK
from yellow_trellis.rules.nested import Nested
from yellow_trellis.rules.reach import Hoped, hoped_reach
from yellow_trellis.source import Sightings, Span

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
        kept = Kept(self._pieces, self._data, len(self._data))
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
        return kept.parsed


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
        if reach == "head" and rule.looks_past:
            reach = "block"
        if rule.looks_past == "line" and reach in ("line", "nested", "block"):
            reach = "expression"
        if reach == "file" or rule.looks_past == "piece":
            return None
        reaches.append((ranked, reach))
    pieces = language.pieces(file.data)
    if pieces is None:
        return None
    most = _WORTH * len(file.data)
    apart, outlines = Apart(pieces, file.data), Apart(pieces, file.data)
    heads, nested = Heads(pieces, file.data), Nested(pieces, file.data)
    parts = (outlines, heads, nested, apart)
    by_reach: dict[str, Apart] = {"line": apart, "block": apart, "outline": outlines}
    by_reach |= {"head": heads, "nested": nested}
    kept = Kept(pieces, file.data, most)
    for ranked, reach in reaches:
        if reach in by_reach:
            if by_reach[reach].add_for(ranked, reach, file):
                continue
            if reach != "outline":
                reach = "expression"
        kept.add_for(ranked, reach, file)
        if kept.is_too_much:
            return None
    if kept.size + sum(some.size for some in parts) > most:
        return None
    made = Shares(file.data, pieces)
    if kept.rules:
        made.found.append(Share(kept.parsed, kept.rules, {}))
    for some in parts:
        if some.rules:
            made.found.append(Share(some.parsed, some.rules, some.places))
    return made
