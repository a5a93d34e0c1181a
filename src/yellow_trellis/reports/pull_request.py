"""A summary in Markdown for a pull request: counts, rules, first places, diff of the fixes."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator

from yellow_trellis.findings.finding import LEVELS
from yellow_trellis.reports.gate import fix_counts
from yellow_trellis.reports.survey_report import SurveyReport, report_path
from yellow_trellis.runs.file_report import FindingRecord

_FIRST = 20
"""How many places are told."""

_MOST = 60_000
"""How many characters it has at most: services refuse comments that are much longer."""


def pull_request(report: SurveyReport) -> Iterator[str]:
    """Yield the parts of a summary of the findings that are not accepted."""
    done = report.done
    findings = done.new
    levels = Counter(finding.level for finding in findings)
    new = "new " if done.compared is not None else ""
    counts = ", ".join(f"{levels[level]:,} {level}" for level in LEVELS if levels[level])
    head = f"## {len(findings):,} {new}finding{'' if len(findings) == 1 else 's'}"
    head += f" ({counts})" if counts else ""
    text = f"{head}\n\n**{report.done.verdict()}**\n"
    if done.compared is not None:
        text += f"\n{len(done.compared.known):,} {_plain(done.compared.reason)}"
        gone = f", {len(done.compared.gone):,} of those accepted are gone"
        text += ".\n" if done.compared.since else f"{gone}.\n"
    for problem in done.run.problems[:_FIRST]:
        where, reason = problem.where(problem.path), problem.reason
        text += f"\n- could not be handled: {_plain(where)}: {_plain(reason)}"
    text += "\n" if done.run.problems else ""
    if findings:
        text += _table(findings) + _places(findings)
    yield text
    yield _diff(report, _MOST - len(text))


def _table(found: list[FindingRecord]) -> str:
    head = "| rule | level | findings | files | safe fix | fix to review |"
    rows = ["", head, "|---|---|--:|--:|--:|--:|"]
    by_rule: dict[tuple[int, str], list[FindingRecord]] = {}
    for finding in found:
        by_rule.setdefault((LEVELS.index(finding.level), finding.rule), []).append(finding)
    for (level, rule), some in sorted(by_rule.items(), key=lambda i: (i[0][0], -len(i[1]), i[0])):
        files = len({finding.path for finding in some})
        safe, to_review = fix_counts(some)
        counts = f"{len(some):,} | {files:,} | {safe:,} | {to_review:,}"
        rows.append(f"| `{rule}` | {LEVELS[level]} | {counts} |")
    return "\n".join(rows) + "\n"


def _places(found: list[FindingRecord]) -> str:
    ordered = sorted(found, key=lambda f: (LEVELS.index(f.level), f.path, f.start))
    lines = [""]
    for finding in ordered[:_FIRST]:
        place = f"{report_path(finding.path)}:{finding.start}"
        lines.append(f"- {_code(place)} {_plain(finding.message)} (`{finding.rule}`)")
    if len(ordered) > _FIRST:
        lines.append(f"- and {len(ordered) - _FIRST:,} more")
    return "\n".join(lines) + "\n"


def _diff(report: SurveyReport, room: int) -> str:
    """Return the diff of the fixes folded, cut at the end of a file where there is no room."""
    changes = report.rework.changes if report.rework is not None else []
    if not changes:
        return ""
    shown: list[str] = []
    for change in changes:
        text = change.patch.decode("utf-8", "replace")
        if len(text) + 400 > room:
            break
        room -= len(text)
        shown.append(text)
    extra = len(changes) - len(shown)
    fence = "`" * max(3, *(len(run) + 1 for text in shown for run in re.findall("`+", text)), 3)
    tail = f"\n{extra:,} more files are changed: `ytr preview` shows them.\n" if extra else ""
    files = f"{len(changes):,} file{'' if len(changes) == 1 else 's'}"
    return (
        f"\n<details><summary>What the safe fixes would change in {files}</summary>\n\n"
        f"{fence}diff\n{''.join(shown)}{fence}\n{tail}\n</details>\n"
    )


def _code(text: str) -> str:
    return f"`{text.replace('`', '')}`"


_MARKS = re.compile(r"[\\`*_\[\]!#~<>|@]")


def _plain(text: str) -> str:
    """Return a text on one line that is nothing but text in Markdown: no mention, link or HTML."""
    line = " ".join(text.split())
    return _MARKS.sub(lambda mark: "&lt;" if mark[0] == "<" else f"\\{mark[0]}", line)
