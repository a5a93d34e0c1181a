"""A finding in an open file: plain, as it is kept from edit to edit."""

from __future__ import annotations

from typing import NamedTuple

from yellow_trellis.findings.finding import Finding, Level
from yellow_trellis.fixes import Safety
from yellow_trellis.source import Span


class LiveFinding(NamedTuple):
    """A finding without its fixes: they are made when they are asked for. Places are in bytes."""

    rule: str
    level: Level
    span: Span
    message: str
    fixes: tuple[tuple[str, Safety], ...]
    """Titles and safety of the fixes that are offered."""

    @classmethod
    def of(cls, finding: Finding, start: int = 0) -> LiveFinding:
        """Convert a finding; its places then count from the byte `start`."""
        span = Span(finding.span.start - start, finding.span.end - start)
        fixes = tuple((fix.title, fix.safety) for fix in finding.fixes)
        return cls(finding.rule, finding.level, span, finding.message, fixes)

    def moved(self, start: int) -> LiveFinding:
        """Return the same with places that count from the start of the file."""
        rule, level, (first, end), message, fixes = self
        return LiveFinding(rule, level, Span(first + start, end + start), message, fixes)
