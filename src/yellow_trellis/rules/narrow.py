"""What of a file can be found in by looking at it in pieces, so that the rest is not parsed."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from yellow_trellis.languages import Language
from yellow_trellis.languages.pieces import merged
from yellow_trellis.patterns import Pattern
from yellow_trellis.rules.conditions import Among, Around, Condition, Count, Taken
from yellow_trellis.rules.leave import MARK
from yellow_trellis.rules.rule import Rule
from yellow_trellis.source import words_at

Reach = Literal["expression", "statement"]
"""How far a rule looks that does not look at all of a file: at a statement in a class as if it
stood alone, or at a statement at the top of the file as a whole."""

_WORTH = 0.7
"""The part of a file that must go for the parse to be the cheaper for it."""


def narrowed(
    rules: Iterable[Rule], data: bytes, language: Language
) -> list[tuple[int, int]] | None:
    """Return the spans of `data`, in order, outside of which none of `rules` can find anything.

    What the rules find in them alone is what they find in `data`, as far as it parses without
    errors.
    Returns: None where a rule may look beyond a piece, the language or the file cannot be cut, or
    it is not worth it; no spans where nothing can be found.
    """
    if MARK in data:
        return None  # a comment may leave something alone
    reaches = [(rule.pattern, reach_of(rule, language)) for rule in rules]
    if not reaches or any(reach == "file" for _, reach in reaches):
        return None
    pieces = language.pieces(data)
    if pieces is None:
        return None
    kept: set[tuple[int, int]] = set()
    for pattern, reach in reaches:
        anchor = pattern.anchor_in(data) if pattern is not None else None
        if pattern is None or anchor is None or anchor.meaning:
            return None
        letters = language.word_bytes if anchor.word else frozenset[int]()
        after = 0
        for place in words_at(data, anchor.text, letters=letters):
            if place < after:
                continue
            piece = pieces.at(place)
            start, end = piece.start, piece.end
            if reach == "statement":
                start, end = piece.whole_start, piece.whole_end
            after = end
            if all(data.find(token, start, end) >= 0 for token in pattern.needs):
                kept.add((start, end))
                if reach == "expression" and piece.header:
                    kept.add((piece.whole_start, piece.whole_start + piece.header))
        if sum(end - start for start, end in kept) > _WORTH * len(data):
            return None
    return merged(kept)


def reach_of(rule: Rule, language: Language) -> Reach | Literal["file"]:
    """Return how far a rule looks: over an ``expression``, a ``statement``, or the ``file``."""
    pattern = rule.pattern
    if pattern is None or rule.check is not None or rule.across is not None or rule.asked:
        return "file"
    if len(pattern.roots) != 1 or pattern.without is not None or pattern.meant:
        return "file"
    if not pattern.kinds or not all(map(_is_local, rule.where)):
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
