"""What of a file can be found in by looking at it in pieces, so that the rest is not parsed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import Literal

from yellow_trellis.languages import Language
from yellow_trellis.languages.pieces import Parsed, Piece, Pieces, merged
from yellow_trellis.patterns import Pattern, compile_pattern
from yellow_trellis.rules.conditions import Among, Around, Condition, Count, Taken
from yellow_trellis.rules.definition import Rule
from yellow_trellis.rules.leave import MARK
from yellow_trellis.source import Sightings

Reach = Literal["expression", "statement"]
"""How far a rule looks that does not look at all of a file: at a statement in a class as if it
stood alone, or at a statement at the top of the file as a whole."""

_WORTH = 0.85
"""The part of a file that must go for the parse to be the cheaper for it."""


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
        reach: str = _hoped_reach(rule)
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


@lru_cache(maxsize=4096)
def _hoped_reach(rule: Rule) -> Reach | Literal["outline", "file"]:
    """Return how far a rule looks; of one in code, how far it does unless it is seen to go on.

    An ``outline`` is the header of a class and its end, whatever stands in between.
    """
    language = rule.language
    if rule.check is None:
        reach = reach_of(rule, language)
        if reach != "statement" or rule.pattern is None:
            return reach
        if not all(_sees_outlines(condition, language) for condition in rule.where):
            return "statement"
        if not _encloses(rule.pattern, language):
            return "expression"
        return "outline" if _wants_outline(rule, rule.pattern) else "statement"
    if rule.pattern is not None:
        return _reach_of_pattern(rule, rule.pattern, language)
    if rule.telltales is None:
        return "file"
    return "expression" if rule.visited.isdisjoint(language.enclosing) else "statement"


def _wants_outline(rule: Rule, pattern: Pattern) -> bool:
    """Tell whether nothing that a rule asks or tells depends on the members of a class."""
    hole = _open_body(pattern)
    if hole is None or f"@{{{hole}" in (rule.message or ""):
        return False
    return all(
        isinstance(one, Taken) and hole not in (one.hole, one.equal_to) for one in rule.where
    )


def _open_body(pattern: Pattern) -> str | None:
    """Return the hole that takes all of a body whatever it is, if the pattern ends in one."""
    (root,) = pattern.roots
    body = root.items[-1] if root.items else None
    if body is None or body.kind not in pattern.language.bodies or len(body.items) != 1:
        return None
    inner, hole = body.items[0], body.items[0].hole
    if hole is None or not hole.many or hole.least > 1 or hole.most is not None:
        return None
    uses = sum(
        shape.hole is not None and shape.hole.name == hole.name
        for shape in pattern.stand_ins.values()
    )
    if inner.kinds is not None or inner.regex is not None or (hole.remembered and uses > 1):
        return None
    return hole.name


def _sees_outlines(condition: Condition, language: Language) -> bool:
    """Tell whether of the classes around a match a condition asks no more than their headers."""
    if isinstance(condition, Among):
        return all(_sees_outlines(one, language) for one in condition.conditions)
    if not isinstance(condition, Around) or condition.relation != "inside":
        return True
    other = compile_pattern(condition.pattern, language)
    if len(other.roots) != 1 or not other.kinds or other.without is not None:
        return False
    return not _encloses(other, language) or _open_body(other) is not None


def reach_of(rule: Rule, language: Language) -> Reach | Literal["file"]:
    """Return how far a rule looks: over an ``expression``, a ``statement``, or the ``file``."""
    if rule.pattern is None or rule.check is not None or rule.across is not None:
        return "file"
    return _reach_of_pattern(rule, rule.pattern, language)


def _reach_of_pattern(rule: Rule, pattern: Pattern, language: Language) -> Reach | Literal["file"]:
    if rule.asked or len(pattern.roots) != 1 or pattern.without is not None or pattern.meant:
        return "file"
    if not pattern.kinds or not all(map(_is_local, rule.where)) or rule.approach.lead is None:
        return "file"
    around = any(map(_looks_around, rule.where))
    return "statement" if around or _encloses(pattern, language) else "expression"


def _encloses(pattern: Pattern, language: Language) -> bool:
    return not pattern.kinds.isdisjoint(language.enclosing)


def _is_local(condition: Condition) -> bool:
    """Tell whether a condition looks at nothing beyond the top-level statement of the match."""
    if isinstance(condition, Among):
        return all(map(_is_local, condition.conditions))
    if isinstance(condition, Around):
        return condition.relation in ("inside", "holds")
    return isinstance(condition, (Taken, Count))


def _looks_around(condition: Condition) -> bool:
    if isinstance(condition, Among):
        return any(map(_looks_around, condition.conditions))
    return isinstance(condition, Around) and condition.relation == "inside"
