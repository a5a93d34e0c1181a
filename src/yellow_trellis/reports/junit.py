"""JUnit XML: a suite for each rule, a case for each finding, for build servers that show tests."""

from __future__ import annotations

import re
from collections.abc import Iterator
from xml.sax.saxutils import escape, quoteattr

from yellow_trellis.reports.survey_report import SurveyReport, report_path
from yellow_trellis.runs.file_report import FindingRecord

_NOT_XML = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""Characters that XML has no way to say."""


def junit(report: SurveyReport) -> Iterator[str]:
    """Yield the parts of a document: findings that count are failures, others are skipped.

    A rule without findings is a case that passes; what could not be handled is an error.
    """
    done = report.done
    failing = set(map(id, done.failing)) if done.fails else set()
    by_rule: dict[str, list[FindingRecord]] = {name: [] for name in report.rules}
    for finding in done.new:
        by_rule.setdefault(finding.rule, []).append(finding)
    problems = done.run.problems
    tests = sum(max(len(some), 1) for some in by_rule.values()) + len(problems)
    yield '<?xml version="1.0" encoding="UTF-8"?>\n'
    yield (
        f'<testsuites name="ytr survey" tests="{tests}" failures="{len(failing)}" '
        f'errors="{len(done.run.unhandled)}" time="{report.seconds:.3f}">\n'
    )
    for rule, findings in by_rule.items():
        failures = sum(id(finding) in failing for finding in findings)
        yield (
            f'  <testsuite name={_attribute(rule)} tests="{max(len(findings), 1)}" '
            f'failures="{failures}" errors="0" skipped="{len(findings) - failures}" time="0">\n'
        )
        if not findings:
            yield f'    <testcase classname={_attribute(rule)} name="finds nothing" time="0"/>\n'
        for finding in findings:
            yield _case(finding, fails=id(finding) in failing)
        yield "  </testsuite>\n"
    if problems:
        yield (
            f'  <testsuite name="problems" tests="{len(problems)}" failures="0" '
            f'errors="{len(done.run.unhandled)}" '
            f'skipped="{len(problems) - len(done.run.unhandled)}" time="0">\n'
        )
        for problem in problems:
            name = problem.rule or "file"
            tag = "skipped" if problem.is_doubtful else "error"
            yield (
                f"    <testcase classname={_attribute(problem.where(report_path(problem.path)))} "
                f'name={_attribute(name)} time="0">\n'
                f"      <{tag} message={_attribute(problem.reason)}/>\n    </testcase>\n"
            )
        yield "  </testsuite>\n"
    yield "</testsuites>\n"


def _case(finding: FindingRecord, *, fails: bool) -> str:
    path = report_path(finding.path)
    place = f"{path}:{finding.start}"
    head = f'    <testcase classname={_attribute(path)} name={_attribute(place)} time="0">\n'
    message = _attribute(finding.message)
    if not fails:
        return f"{head}      <skipped message={message}/>\n    </testcase>\n"
    text = escape(_plain(f"{place}: {finding.level}: {finding.message}\n{finding.line}"))
    level = _attribute(finding.level)
    body = f"      <failure message={message} type={level}>{text}</failure>\n"
    return f"{head}{body}    </testcase>\n"


def _attribute(text: str) -> str:
    return quoteattr(_plain(text))


def _plain(text: str) -> str:
    return _NOT_XML.sub("\ufffd", text)
