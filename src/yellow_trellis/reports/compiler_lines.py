"""Findings a line each, as compilers write them: editors and build logs link such places."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.reports.survey_report import SurveyReport, report_path


def compiler_lines(report: SurveyReport) -> Iterator[str]:
    """Yield ``path:line:column: level: message [rule]`` for each finding that is not accepted."""
    for finding in report.done.new:
        message = " ".join(finding.message.split())
        place = f"{report_path(finding.path)}:{finding.start}"
        yield f"{place}: {finding.level}: {message} [{finding.rule}]\n"
