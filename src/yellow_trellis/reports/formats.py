"""The formats that a survey can be written in, by name; each is imported when it is asked for."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from importlib import import_module
from typing import NamedTuple, Union

from yellow_trellis.reports.survey_report import SurveyReport

Parts = Iterator[Union[str, bytes]]


class Format(NamedTuple):
    """A format: where it is implemented, and what it wants of a survey."""

    home: str
    """Module and function, with a colon."""
    purpose: str
    details: bool = False
    """Whether it tells the edits of fixes, what comments leave alone, and by what a finding is
    known again."""
    changes: bool = False
    """Whether it tells what all fixes of a file make of it."""
    history: bool = False
    """Whether it tells of earlier surveys."""

    def parts(self, report: SurveyReport) -> Parts:
        """Yield the parts of a report: text, or bytes where it holds texts in any encoding."""
        module, _, name = self.home.partition(":")
        write: Callable[[SurveyReport], Parts] = getattr(
            import_module(f"yellow_trellis.reports.{module}"), name
        )
        return write(report)


FORMATS = {
    "json": Format("json:report_json", "one JSON object, as docs/formats.md has it"),
    "jsonl": Format("json_lines:json_lines", "JSON Lines: an object a finding"),
    "sarif": Format("sarif:sarif", "SARIF 2.1.0, for services that show results", details=True),
    "junit": Format("junit:junit", "JUnit XML, for build servers that show tests"),
    "csv": Format("findings_csv:findings_csv", "a table, a row for each finding"),
    "markdown": Format("pull_request:pull_request", "a summary for a pull request", changes=True),
    "lines": Format("compiler_lines:compiler_lines", "path:line:column: level: message [rule]"),
    "patch": Format("patch:patch", "a unified diff of the safe fixes", changes=True),
    "html": Format(
        "html_report:html_report", "one page to read and search", details=True, history=True
    ),
}
