"""JSON Lines: an object a line, for programs that read findings one by one."""

from __future__ import annotations

import json
from collections.abc import Iterator

from yellow_trellis.reports.json import VERSION, finding_as_json, problem_as_json
from yellow_trellis.reports.survey_report import SurveyReport, report_path


def json_lines(report: SurveyReport) -> Iterator[str]:
    """Yield a line for each finding that is not accepted, each problem, and the verdict."""
    for finding in report.done.new:
        item = {**finding_as_json(finding), "path": report_path(finding.path)}
        yield _line({"kind": "finding", "version": VERSION, **item})
    for problem in report.done.run.problems:
        item = {**problem_as_json(problem), "path": report_path(problem.path)}
        yield _line({"kind": "problem", "version": VERSION, **item})
    yield _line(
        {
            "kind": "verdict",
            "version": VERSION,
            "passes": not report.done.fails,
            "failing": len(report.done.failing),
            "text": report.done.verdict(),
        }
    )


def _line(item: dict[str, object]) -> str:
    text = json.dumps(item, ensure_ascii=False)
    return text.encode("utf-8", "backslashreplace").decode("utf-8") + "\n"
