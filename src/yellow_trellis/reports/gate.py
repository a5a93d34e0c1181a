"""The gate of a survey: which findings make it fail, and how many are allowed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis.findings.finding import LEVELS

if TYPE_CHECKING:
    from yellow_trellis.reports.baseline import Compared
    from yellow_trellis.runs.file_report import FindingRecord, Run


def fix_counts(findings: Iterable[FindingRecord]) -> tuple[int, int]:
    """Return how many findings have a safe fix, and how many only fixes to review."""
    counts = Counter(finding.safety for finding in findings)
    return counts["safe"], counts["review"]


class Threshold(NamedTuple):
    """The threshold of a survey."""

    fail_at: str = "warning"
    """The mildest level that makes it fail, or ``never``."""
    fixable_passes: bool = False
    """Whether findings with a fix, safe or to review, do not make it fail."""
    at_most: int = 0
    """With how many findings that would make it fail it passes."""

    def failing(self, findings: Iterable[FindingRecord]) -> list[FindingRecord]:
        """Return the findings that count against the survey, as many as there are."""
        if self.fail_at not in LEVELS:
            return []
        grave = LEVELS[: LEVELS.index(self.fail_at) + 1]
        return [
            finding
            for finding in findings
            if finding.level in grave and not (self.fixable_passes and finding.fixes)
        ]


class GateResult(NamedTuple):
    """A survey, and its threshold."""

    run: Run
    bar: Threshold = Threshold()
    compared: Compared | None = None
    """What a baseline says of it, if there is one."""

    @property
    def new(self) -> list[FindingRecord]:
        """The findings that no baseline accepts."""
        return self.run.findings if self.compared is None else self.compared.new

    @property
    def failing(self) -> list[FindingRecord]:
        """The findings that count against it."""
        return self.bar.failing(self.new)

    @property
    def fails(self) -> bool:
        """Return whether more findings count against it than are allowed."""
        return len(self.failing) > self.bar.at_most

    def verdict(self) -> str:
        """Return in a sentence whether it passes, and why."""
        bar, count = self.bar, len(self.failing)
        word = "Fails" if self.fails else "Passes"
        if not self.run.reports:
            return f"{word}: no file was looked at."
        new = "new " if self.compared is not None else ""
        if bar.fail_at == "never":
            return f"{word}: findings are not to make it fail."
        label = f"{count:,} {new}finding{'' if count == 1 else 's'}"
        reason = f"{label if count else f'no {new}finding'} at `{bar.fail_at}` or above"
        reason += " without a fix" if bar.fixable_passes else ""
        reason += f", {bar.at_most:,} allowed" if bar.at_most else ""
        partly = len({problem.path for problem in self.run.problems})
        if partly:
            link = "and" if self.fails else "but"
            reason += f", {link} {partly:,} file{'' if partly == 1 else 's'} not looked at in full"
        return f"{word}: {reason}."
