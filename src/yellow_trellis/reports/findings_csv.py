"""Findings as a table in CSV, with the columns of a data frame of findings."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator

from yellow_trellis.reports.csv import inert
from yellow_trellis.reports.survey_report import SurveyReport, report_path
from yellow_trellis.runs.file_report import COLUMNS, row_of


def findings_csv(report: SurveyReport) -> Iterator[str]:
    """Yield a header, and a row for each finding that is not accepted.

    A text that a spreadsheet would take for a formula has an apostrophe before it.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for finding in report.done.new:
        row = row_of(finding._replace(path=report_path(finding.path)))
        writer.writerow([inert(cell) for cell in row])
        text = out.getvalue()
        out.seek(0)
        out.truncate()
        yield text.encode("utf-8", "backslashreplace").decode("utf-8")
    yield out.getvalue()
