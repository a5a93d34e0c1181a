"""A survey as reports tell of it: its findings, its rules, and what the fixes would change."""

from __future__ import annotations

import os
from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from typing import NamedTuple

from yellow_trellis.reports.gate import Surveyed
from yellow_trellis.reports.history import Totals
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.runs.file_report import FindingRecord, Run


class SurveyReport(NamedTuple):
    """A survey with all that a report may want of it."""

    done: Surveyed
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

    def verdict(self) -> str:
        """Return in a sentence whether the survey passes, and why."""
        return verdict(self.done)


def verdict(done: Surveyed) -> str:
    """Return in a sentence whether a survey passes, and why."""
    bar, count = done.bar, len(done.failing)
    word = "Fails" if done.fails else "Passes"
    new = "new " if done.compared is not None else ""
    if bar.fail_at == "never":
        return f"{word}: findings are not to make it fail."
    label = f"{count:,} {new}finding{'' if count == 1 else 's'}"
    reason = f"{label if count else f'no {new}finding'} at `{bar.fail_at}` or above"
    reason += " without a fix" if bar.fixable_passes else ""
    reason += f", {bar.at_most:,} allowed" if bar.at_most else ""
    return f"{word}: {reason}."


@cache
def report_path(path: str) -> str:
    """Return a path with slashes, from the current folder where it lies inside."""
    inside = os.path.relpath(os.path.realpath(path), os.path.realpath(os.curdir))
    chosen = path if inside.startswith("..") else inside
    return chosen.replace(os.sep, "/")
