"""JSON for programs. The schema has a version and is written down in docs/formats.md."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from itertools import chain

from yellow_trellis.plans.conflict import ConflictSide
from yellow_trellis.reports.gate import GateResult, fix_counts
from yellow_trellis.reports.survey_report import SurveyReport
from yellow_trellis.runs.file_report import FindingRecord, Run
from yellow_trellis.runs.report_types import Problem
from yellow_trellis.runs.runner import pairs_of
from yellow_trellis.source import Place

VERSION = 1


def survey_json(
    done: GateResult, governing: Callable[[FindingRecord], str] | None = None
) -> Iterator[str]:
    """Yield the parts of a survey: findings, conflicts, problems, a summary.

    Arguments: `governing` returns the place of the setting that gives a finding its level.
    """
    run, findings = done.run, done.run.findings
    safe, to_review = fix_counts(findings)
    new = None if done.compared is None else set(map(id, done.compared.new))

    def message() -> Iterator[dict[str, object]]:
        for finding in findings:
            item = finding_as_json(finding)
            if new is not None:
                item["accepted"] = id(finding) not in new
            if governing is not None:
                item["level_from"] = governing(finding)
            yield item

    summary = {
        "files": len(run.reports),
        "lines": run.lines,
        "findings": len(findings),
        "with_safe_fix": safe,
        "with_review_fix": to_review,
        "rules": dict(sorted(Counter(finding.rule for finding in findings).items())),
        "left_alone": sum(report.excused for report in run.reports),
        "not_looked_at": len(run.left),
        "failing": len(done.failing),
        "passes": not done.fails,
    }
    if done.compared is not None:
        summary["accepted"] = len(done.compared.known)
        summary["gone"] = len(done.compared.gone)
    yield from _in_parts(
        {
            "version": VERSION,
            "findings": message(),
            "conflicts": conflicts_as_json(run),
            "problems": map(problem_as_json, run.problems),
            "summary": summary,
        }
    )


def report_json(report: SurveyReport) -> Iterator[str]:
    """Yield the parts of a survey that is written beside another format."""
    return survey_json(report.done)


def rework_json(run: Run, *, written: bool, left: list[tuple[str, str]]) -> Iterator[str]:
    """Yield the parts of an apply or a preview: files, what became of findings, conflicts."""
    fates = [(report.path, fate) for report in run.reports for fate in report.fates]
    summary: dict[str, int] = {
        "files": len(run.reports),
        "lines": run.lines,
        "changed": len(run.changed),
        "findings": len(fates),
        **Counter(fate.state for _, fate in fates),
    }
    yield from _in_parts(
        {
            "version": VERSION,
            "written": written,
            "files": (
                {
                    "path": report.path,
                    "rounds": report.rounds,
                    "hunks": len(report.change.hunks) if report.change else 0,
                }
                for report in run.changed
            ),
            "fates": (
                {
                    "rule": fate.rule,
                    "path": path,
                    "round": fate.round,
                    "start": place_as_json(fate.start),
                    "state": fate.state,
                    "reason": fate.reason,
                    "knock_on": fate.knock_on,
                }
                for path, fate in fates
            ),
            "conflicts": conflicts_as_json(run),
            "problems": chain(
                map(problem_as_json, run.problems),
                (problem_as_json(Problem(path, reason)) for path, reason in left),
            ),
            "summary": summary,
        }
    )


def clashes_json(run: Run) -> Iterator[str]:
    """Yield the parts of the conflicts of a run."""
    kinds = Counter(conflict.kind for report in run.reports for conflict in report.conflicts)
    yield from _in_parts(
        {
            "version": VERSION,
            "conflicts": conflicts_as_json(run),
            "pairs": [
                {"first": first, "other": second, "conflicts": count}
                for (first, second), count in sorted(pairs_of(run).items())
            ],
            "trials": (
                {
                    "kind": trial.kind,
                    "first": trial.first,
                    "second": trial.second,
                    "path": report.path,
                    "start": place_as_json(trial.place),
                }
                for report in run.reports
                for trial in report.trials
            ),
            "problems": map(problem_as_json, run.problems),
            "summary": {
                "files": len(run.reports),
                "conflicts": kinds.total(),
                "kinds": dict(sorted(kinds.items())),
            },
        }
    )


def place_as_json(place: Place) -> dict[str, int]:
    """Return a place, line and column from 1."""
    return {"line": place.line, "column": place.column}


def conflicts_as_json(run: Run) -> Iterator[dict[str, object]]:
    """Yield all conflicts of a run, by path."""
    return (
        {
            "kind": conflict.kind,
            "path": report.path,
            "reason": conflict.explained,
            "parties": [_party(p) for p in (conflict.party, conflict.other) if p is not None],
        }
        for report in run.reports
        for conflict in report.conflicts
    )


def finding_as_json(finding: FindingRecord) -> dict[str, object]:
    """Return a finding, places from 1."""
    return {
        "rule": finding.rule,
        "level": finding.level,
        "path": finding.path,
        "start": place_as_json(finding.start),
        "end": place_as_json(finding.end),
        "message": finding.message,
        "fixes": [{"title": title, "safety": safety} for title, safety in finding.fixes],
    }


def _party(party: ConflictSide) -> dict[str, object]:
    return {
        "rule": party.rule,
        "fix": party.title,
        "start": place_as_json(party.start),
        "end": place_as_json(party.end),
        "code": party.code,
        "wanted": party.wanted,
    }


def problem_as_json(problem: Problem) -> dict[str, object]:
    """Return what could not be handled as it is in JSON."""
    entry: dict[str, object] = {
        "path": problem.path,
        "rule": problem.rule,
        "reason": problem.reason,
        "doubtful": problem.is_doubtful,
    }
    if problem.place is not None:
        entry["start"] = place_as_json(problem.place)
    return entry


def _in_parts(table: Mapping[str, object]) -> Iterator[str]:
    """Yield the text of `dumped`, a part for each item of an iterator: there may be millions."""
    start = "{"
    for key, value in table.items():
        yield f"{start}\n  {json.dumps(key)}: "
        start = ","
        if not isinstance(value, Iterator):
            yield _further_in(dumped(value), 2)
            continue
        comma = "["
        for item in value:
            yield f"{comma}\n    {_further_in(dumped(item), 4)}"
            comma = ","
        yield "[]" if comma == "[" else "\n  ]"
    yield "\n}"


def _further_in(text: str, width: int) -> str:
    return text.replace("\n", "\n" + " " * width)


def dumped(value: object) -> str:
    """Return `value` as JSON text."""
    text = json.dumps(value, indent=2, ensure_ascii=False)
    return text.encode("utf-8", "backslashreplace").decode("utf-8")
