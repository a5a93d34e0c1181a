"""A survey as reports tell of it: its findings, its rules, and what the fixes would change."""

from __future__ import annotations

import os
from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from yellow_trellis.reports.gate import GateResult
    from yellow_trellis.reports.history import Totals
    from yellow_trellis.rules import RuleDefinition
    from yellow_trellis.runs.file_report import FindingRecord, Run


class SurveyReport(NamedTuple):
    """A survey with all that a report may want of it."""

    done: GateResult
    rules: Mapping[str, RuleDefinition]
    """By name, in their order."""
    seconds: float = 0.0
    rework: Run | None = None
    """What the fixes would change, if a report wants that."""
    history: Sequence[Totals] = ()
    """Earlier surveys of the same paths, by time."""

    def accepted(self) -> Iterator[FindingRecord]:
        """Yield the findings that a baseline accepts."""
        if self.done.compared is not None:
            yield from self.done.compared.known

    def suppressed(self) -> Iterator[FindingRecord]:
        """Yield the findings that comments leave alone, by path and place."""
        for report in self.done.run.reports:
            yield from report.suppressed


@cache
def report_path(path: str) -> str:
    """Return a path with slashes, from the current folder where it lies inside."""
    inside = os.path.relpath(os.path.realpath(path), os.path.realpath(os.curdir))
    chosen = path if inside.startswith("..") else inside
    return chosen.replace(os.sep, "/")
