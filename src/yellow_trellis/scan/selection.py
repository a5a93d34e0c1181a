"""Selection of the spans of a file to parse for some rules, and the places of each there.

A rule that a word leads to can find something only around that word. If all rules of a file are of
that kind, only the statements around those words are parsed, as if there were nothing in between.
The answer is certain or there is none: then the whole file is parsed.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from yellow_trellis.languages import Language
from yellow_trellis.languages.scanner import NO_CODE, Scanner
from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.suppressions import MARK
from yellow_trellis.scan.locality import locality_of
from yellow_trellis.source import TokenIndex

_SMALLEST = 1024
"""Bytes below which a file is parsed whole."""
_MOST = 0.85
"""The part of a file above which it costs less to parse all of it."""

Place = tuple[int, int]


class Selection(NamedTuple):
    """A selection of a file. All spans are in bytes, half-open."""

    spans: tuple[tuple[int, int], ...]
    """In order, none next to another; empty where no rule can find anything."""
    rules: list[tuple[int, RuleDefinition]]
    """The rules that may find something, each with its rank."""
    places: dict[int, list[Place]]
    """By rank: where the words that lead to a match stand."""


def select(
    rules: Iterable[tuple[int, RuleDefinition]], index: TokenIndex, language: Language
) -> Selection | None:
    """Return what of a file to parse for `rules`, each with its rank; None for all of it.

    Arguments: `index` is what stands in the file's bytes.
    """
    rules = list(rules)
    if len(index.data) < _SMALLEST or index.holds(MARK):  # such a comment speaks for any code
        return None
    if any(locality_of(rule) == "file" for _, rule in rules):
        return None
    scanner = language.scanner(index.data)
    if scanner is None or not scanner.is_clear:
        return None
    spans: set[tuple[int, int]] = set()
    places: dict[int, list[Place]] = {}
    for rank, rule in rules:
        visit = _places(rule, index, scanner, spans)
        if visit:
            places[rank] = visit
    merged = _merged(spans)
    if sum(end - start for start, end in merged) > _MOST * len(index.data):
        return None
    return Selection(merged, [(rank, rule) for rank, rule in rules if rank in places], places)


def _places(
    rule: RuleDefinition, index: TokenIndex, scanner: Scanner, spans: set[tuple[int, int]]
) -> list[Place]:
    """Return where `rule` has to look, and add to `spans` what it has to see for that."""
    lead = rule.search_plan.lead
    assert lead is not None and lead.chain is not None
    by_statement = locality_of(rule) == "statement"
    data, places = index.data, []
    for place in index.of(lead.chain):
        if scanner.in_text(place[0]):
            continue
        span = scanner.statement(place[0]) if by_statement else None
        if span is NO_CODE:
            continue
        start, end = span or scanner.segment(place[0])
        if not lead.stands(data, start, *place, end):
            continue
        if all(index.shows(chain, start, end) for chain in rule.held_chains):
            places.append(place)
            spans.add((start, end))
    return places


def _merged(spans: set[tuple[int, int]]) -> tuple[tuple[int, int], ...]:
    """Return spans in order that overlap or touch no other."""
    merged: list[tuple[int, int]] = []
    for start, end in sorted(spans):
        if merged and start <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(end, merged[-1][1]))
        else:
            merged.append((start, end))
    return tuple(merged)
