"""The report as one page: it needs no network, and shows code of strangers as nothing but text.

The page is drawn by its own script from data in it. A policy in the page lets no other script run,
even where an escape were forgotten.
"""

from __future__ import annotations

import base64
import hashlib
import html
import json
from collections.abc import Iterator
from datetime import datetime, timezone
from functools import cache
from importlib.resources import files
from pathlib import Path

from yellow_trellis.plans import Conflict
from yellow_trellis.project.codeowners import CodeOwnersError, Owners
from yellow_trellis.reports.survey_report import SurveyReport, report_path
from yellow_trellis.runs.file_report import FindingRecord
from yellow_trellis.runs.report_types import TextEdit
from yellow_trellis.source import Source, UnreadableError
from yellow_trellis.visible_text import visible

_NEW, _ACCEPTED, _LEFT = range(3)
"""States of a finding, as the script numbers them."""

_LONGEST = 4_000
"""How many characters of code before and after a fix are shown at most."""


def html_report(report: SurveyReport) -> Iterator[str]:
    """Yield the parts of a page: totals, trend, findings with their fixes, conflicts, refusals."""
    script, style = _part("page.js"), _part("page.css")
    done = report.done
    words = {
        "TITLE": f"Survey of {html.escape(visible(Path.cwd().name))}",
        "VERDICT": html.escape(report.done.verdict().replace("`", "")),
        "CLASS": "fails" if done.fails else "",
        "MADE": datetime.now(timezone.utc).strftime("%Y-%m-%d %H:%M UTC"),
        "SCRIPT_HASH": _hash(script),
        "STYLE_HASH": _hash(style),
        "STYLE": style,
    }
    page = _part("page.html")
    for name, text in words.items():
        page = page.replace(f"@{name}@", text)
    yield page
    yield from _data(report)
    yield f"</script>\n<script>{script}</script>\n</body>\n</html>\n"


@cache
def _part(name: str) -> str:
    return files("yellow_trellis.reports").joinpath("page", name).read_text("utf-8")


def _hash(text: str) -> str:
    """Return what a policy knows an inline script or style by."""
    return "sha256-" + base64.b64encode(hashlib.sha256(text.encode("utf-8")).digest()).decode()


def _data(report: SurveyReport) -> Iterator[str]:
    """Yield the data of the page as JSON, in which no tag can end or begin."""
    done, run = report.done, report.done.run
    paths: dict[str, int] = {}
    rules = {name: number for number, name in enumerate(report.rules)}
    yield '{"findings": ['
    comma = ""
    for row in _rows(report, paths, rules):
        yield comma + _json(row)
        comma = ",\n"
    yield "], "
    tail = {
        "rules": [
            {
                "name": rule.name,
                "level": rule.level,
                "levels": True,
                "summary": visible(rule.summary),
                "help": "\n".join(map(visible, rule.help.strip().splitlines())),
            }
            for rule in report.rules.values()
        ],
        "paths": [visible(report_path(path)) for path in paths],
        "owners": _owners(report, list(paths)),
        "conflicts": [
            _conflict(conflict, file.path) for file in run.reports for conflict in file.conflicts
        ],
        "problems": [visible(f"{p.where(report_path(p.path))}: {p.reason}") for p in run.problems],
        "trend": [[item.day[:10], item.count] for item in report.history],
        "files": len(run.reports),
        "lines": run.lines,
        "compared": done.compared is not None,
        "since": visible(done.compared.since) if done.compared is not None else "",
    }
    yield _json(tail)[1:]


def _rows(
    report: SurveyReport, paths: dict[str, int], rules: dict[str, int]
) -> Iterator[list[object]]:
    accepted = set(map(id, report.accepted()))
    for file in report.done.run.reports:
        source: Source | None = None
        for finding in (*file.findings, *file.suppressed):
            if finding.edits and source is None:
                source = _read(file.path)
            state = _LEFT if finding.left else _ACCEPTED if id(finding) in accepted else _NEW
            before, after = _change(finding, source)
            summary = report.rules[finding.rule].summary
            message = "" if finding.message == summary else visible(finding.message)
            code, start, stop = _code(finding)
            yield [
                rules[finding.rule], paths.setdefault(file.path, len(paths)),
                finding.start.line, finding.start.column, message, code, start, stop,
                state, visible(finding.left or finding.unfixed), before, after, finding.level,
            ]


def _code(finding: FindingRecord) -> tuple[str, int, int]:
    """Return the line of a finding, and where in it that is which was found."""
    line, start, end = finding.line, finding.start, finding.end
    first = start.column - 1 - finding.left_out
    last = end.column - 1 - finding.left_out if end.line == start.line else len(line)
    before, match = visible(line[:first]), visible(line[first:last])
    return before + match + visible(line[last:]), len(before), len(before) + len(match)


def _read(path: str) -> Source | None:
    try:
        return Source.read(Path(path).read_bytes(), path=path)
    except (OSError, UnreadableError):
        return None


def _change(finding: FindingRecord, source: Source | None) -> tuple[str | None, str | None]:
    """Return the lines that the fix changes, before and after."""
    if not finding.edits or source is None:
        return None, None
    first, last = finding.edits[0].start.line, finding.edits[-1].end.line
    starts = source.lines.starts
    if last > len(starts):
        return None, None
    begin = starts[first - 1]
    old = source.data[begin : source.lines.end(starts[last - 1])].decode("utf-8", "replace")
    return _shown(old), _shown(_applied(old, finding.edits, first))


def _applied(text: str, edits: tuple[TextEdit, ...], first: int) -> str:
    """Return a text, whose lines count from `first`, after some edits."""
    starts = [0]
    for line in text.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    for edit in reversed(edits):
        begin = starts[edit.start.line - first] + edit.start.column - 1
        end = starts[edit.end.line - first] + edit.end.column - 1
        text = text[:begin] + edit.text + text[end:]
    return text


def _shown(text: str) -> str:
    cut = text if len(text) <= _LONGEST else f"{text[:_LONGEST]}\n..."
    return "\n".join(map(visible, cut.splitlines()))


def _owners(report: SurveyReport, paths: list[str]) -> list[str]:
    """Return the owners of files, where a file says who they are."""
    try:
        owners = Owners(report.done.run.root)
    except CodeOwnersError:
        return []
    return [", ".join(owners.of(path)) for path in paths]


def _conflict(conflict: Conflict, path: str) -> dict[str, object]:
    sides = [side for side in (conflict.party, conflict.other) if side is not None]
    return {
        "kind": conflict.kind,
        "reason": visible(conflict.explained),
        "path": visible(report_path(path)),
        "sides": [
            {
                "rule": side.rule,
                "line": side.start.line,
                "column": side.start.column,
                "code": _shown(side.code),
                "wanted": _shown(side.wanted),
            }
            for side in sides
        ],
    }


def _json(value: object) -> str:
    text = json.dumps(value, ensure_ascii=False, separators=(",", ":"))
    text = text.encode("utf-8", "backslashreplace").decode("utf-8")
    return text.replace("<", "\\u003c").replace("\u2028", "\\u2028").replace("\u2029", "\\u2029")
