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
from yellow_trellis.trace import tracer

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
    reason = _reason_for_all(rules, index)
    scanner = language.scanner(index.data) if not reason else None
    if not reason and (scanner is None or not scanner.is_clear):
        reason = "its statements cannot be told from its bytes"
    if scanner is None or reason:
        _trace(f"all of {len(index.data)} bytes are parsed: {reason}")
        return None
    spans: set[tuple[int, int]] = set()
    places: dict[int, list[Place]] = {}
    for rank, rule in rules:
        if sites := _places(rule, index, scanner, spans):
            places[rank] = sites
    merged = _merged(spans)
    size = sum(end - start for start, end in merged)
    if size > _MOST * len(index.data):
        _trace(f"all of {len(index.data)} bytes are parsed: {size} would be anyway")
        return None
    _trace(f"{size} of {len(index.data)} bytes are parsed: {merged}")
    return Selection(merged, [(rank, rule) for rank, rule in rules if rank in places], places)


def _reason_for_all(rules: list[tuple[int, RuleDefinition]], index: TokenIndex) -> str:
    """Return why all of a file has to be parsed; empty if a part may be enough."""
    if len(index.data) < _SMALLEST:
        return "the file is small"
    if index.holds(MARK):
        return "a comment that leaves something alone may speak for any code"
    for _, rule in rules:
        if locality_of(rule) == "file":
            return f"the rule {rule.name} may look at any of it"
    return ""


def _trace(line: str) -> None:
    if (trace := tracer("scan")) is not None:
        trace(line)


def _places(
    rule: RuleDefinition, index: TokenIndex, scanner: Scanner, spans: set[tuple[int, int]]
) -> list[Place]:
    """Return where `rule` has to look, and add to `spans` what it has to see for that."""
    lead = rule.compiled.search_plan.lead
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
        if all(index.shows(chain, start, end) for chain in rule.compiled.required_chains):
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
