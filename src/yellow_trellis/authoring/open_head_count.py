"""The places that a pattern passes over because their heads carry more than it says."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from yellow_trellis.patterns import Pattern
from yellow_trellis.patterns.open_heads import open_head
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.rule_source import PatternSpec


class OpenCount(NamedTuple):
    """More places, found with heads left open."""

    places: int
    pattern: str
    """The pattern that finds them too."""

    def __str__(self) -> str:
        noun = "place" if self.places == 1 else "places"
        return f"{self.places:,} more {noun} with more than the pattern says: {self.pattern}"


def count_open(
    pattern: Pattern, run: Callable[[PatternSpec], Run], count: int | None = None
) -> OpenCount | None:
    """Count what `pattern` finds besides, with its heads left open; None where that is nothing.

    Arguments: `run` runs a pattern over the files in question, with what its holes take; `count` is
    how many places the pattern finds there, where that is known.
    """
    opened = open_head(pattern)
    if opened is None:
        return None
    spec = PatternSpec(pattern.text, None, pattern.language.name, pattern.part, pattern.any_order)
    if count is None:
        count = len(run(spec).findings)
    findings = run(spec._replace(find=opened.text)).findings
    if len(findings) <= count:
        return None
    names = {name for finding in findings for name, text in finding.holes if text}
    return OpenCount(len(findings) - count, opened.needed(names))
