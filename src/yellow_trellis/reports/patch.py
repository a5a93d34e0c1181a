"""The changes of all safe fixes as one unified diff, which patch programs read."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.reports.survey_report import SurveyReport


def patch(report: SurveyReport) -> Iterator[bytes]:
    """Yield the diff of each file, in the order of their paths."""
    for change in report.rework.changes if report.rework is not None else ():
        yield change.patch
