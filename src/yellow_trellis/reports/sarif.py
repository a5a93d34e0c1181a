"""SARIF 2.1.0: findings with their rules, fixes and suppressions, for services that show results.

Source: Static Analysis Results Interchange Format (SARIF) Version 2.1.0, OASIS Standard, 2020.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator
from urllib.parse import quote

from yellow_trellis._version import __version__
from yellow_trellis.plans import Conflict, ConflictSide
from yellow_trellis.reports.survey_report import SurveyReport, report_path
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.runs.file_report import FindingRecord
from yellow_trellis.runs.report_types import Problem
from yellow_trellis.source import Place

_HOME = "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas"
SCHEMA = f"{_HOME}/sarif-schema-2.1.0.json"
_ROOT = "SRCROOT"

Item = dict[str, object]


def sarif(report: SurveyReport) -> Iterator[str]:
    """Yield the parts of a log with one run: all findings, also those accepted or left alone.

    Fixes are those that stand for themselves: each was proved together with the others of its file.
    """
    run = report.done.run
    ranks = {name: rank for rank, name in enumerate(report.rules)}
    head: Item = {
        "tool": {
            "driver": {
                "name": "Yellow Trellis",
                "semanticVersion": __version__,
                "rules": [_rule(rule) for rule in report.rules.values()],
            }
        },
        "columnKind": "unicodeCodePoints",
        "originalUriBaseIds": {
            _ROOT: {"description": {"text": "The folder that the survey was made in."}}
        },
        "invocations": [
            {
                "executionSuccessful": not run.unhandled,
                "toolExecutionNotifications": list(map(_notification, run.problems)),
            }
        ],
    }
    yield f'{{"$schema": {json.dumps(SCHEMA)}, "version": "2.1.0", "runs": [\n'
    yield _text(head)[:-1] + ', "results": ['
    comma = "\n"
    for item in _results(report, ranks):
        yield comma + _text(item)
        comma = ",\n"
    yield "\n]}]}\n"


def _results(report: SurveyReport, ranks: dict[str, int]) -> Iterator[Item]:
    compared = report.done.compared
    accepted = set(map(id, report.accepted()))
    counts: dict[str, int] = {}
    for file in report.done.run.reports:
        by_rule: dict[str, list[Conflict]] = {}
        for conflict in file.conflicts:
            for side in filter(None, (conflict.party, conflict.other)):
                by_rule.setdefault(side.rule, []).append(conflict)
        for finding in file.findings:
            item = _result(finding, ranks, counts)
            if compared is not None:
                is_known = id(finding) in accepted
                item["baselineState"] = "unchanged" if is_known else "new"
                if is_known and not compared.since:
                    why = "the baseline accepts it"
                    item["suppressions"] = [{"kind": "external", "justification": why}]
            flows = [_flow(conflict, file.path) for conflict in by_rule.get(finding.rule, ())
                     if _is_side(finding, conflict)]
            if flows:
                item["codeFlows"] = flows
            yield item
        for finding in file.suppressed:
            item = _result(finding, ranks, counts)
            item["suppressions"] = [{"kind": "inSource", "justification": finding.left}]
            yield item


def _result(finding: FindingRecord, ranks: dict[str, int], seen: dict[str, int]) -> Item:
    item: Item = {
        "ruleId": finding.rule,
        "level": finding.level,
        "message": {"text": finding.message},
        "locations": [{"physicalLocation": _location(finding)}],
    }
    if finding.rule in ranks:
        item["ruleIndex"] = ranks[finding.rule]
    if finding.mark is not None:
        anywhere = f"{finding.rule} {finding.mark[:3]}"
        in_file = _numbered(f"{report_path(finding.path)} {anywhere}", seen)
        item["partialFingerprints"] = {
            "trellisFinding/v1": in_file,
            "trellisFindingInAnyFile/v1": _numbered(anywhere, seen),
            "primaryLocationLineHash": in_file,  # hosted services match by this one
        }
    if finding.edits:
        item["fixes"] = [_fix(finding)]
    elif finding.unfixed:
        item["properties"] = {"noFixBecause": finding.unfixed}
    return item


def _numbered(identity: str, seen: dict[str, int]) -> str:
    """Return a fingerprint, with a number among the findings that have the same."""
    mark = hashlib.sha256(identity.encode("utf-8", "surrogatepass")).hexdigest()[:32]
    seen[mark] = number = seen.get(mark, 0) + 1
    return f"{mark}:{number}"


def _location(finding: FindingRecord) -> Item:
    region = _region(finding.start, finding.end)
    if not finding.left_out:
        region["snippet"] = {"text": finding.line}
    return {"artifactLocation": _artifact(finding.path), "region": region}


def _artifact(path: str) -> Item:
    name = report_path(path)
    if name.startswith(("/", "../")) or ":" in name[:3]:
        return {"uri": quote(name)}
    return {"uri": quote(name), "uriBaseId": _ROOT}


def _region(start: Place, end: Place) -> Item:
    return {
        "startLine": start.line,
        "startColumn": start.column,
        "endLine": end.line,
        "endColumn": end.column,
    }


def _fix(finding: FindingRecord) -> Item:
    title = finding.fixes[0][0]
    return {
        "description": {"text": title},
        "artifactChanges": [
            {
                "artifactLocation": _artifact(finding.path),
                "replacements": [
                    {
                        "deletedRegion": _region(edit.start, edit.end),
                        "insertedContent": {"text": edit.text},
                    }
                    for edit in finding.edits
                ],
            }
        ],
    }


def _flow(conflict: Conflict, path: str) -> Item:
    """Return a conflict as a way from the fix that wins to the one that yields."""
    sides = [side for side in (conflict.party, conflict.other) if side is not None]
    return {
        "message": {"text": f"{conflict.kind}: {conflict.explained}"},
        "threadFlows": [{"locations": [{"location": _side(side, path)} for side in sides]}],
    }


def _side(side: ConflictSide, path: str) -> Item:
    place = {"artifactLocation": _artifact(path), "region": _region(side.start, side.end)}
    return {"physicalLocation": place, "message": {"text": f"{side.rule}: {side.title}"}}


def _is_side(finding: FindingRecord, conflict: Conflict) -> bool:
    return any(
        side is not None
        and side.rule == finding.rule
        and side.start <= finding.end
        and finding.start <= side.end
        for side in (conflict.party, conflict.other)
    )


def _rule(rule: RuleDefinition) -> Item:
    text = rule.help.strip() or rule.summary
    item: Item = {
        "id": rule.name,
        "shortDescription": {"text": rule.summary},
        "help": {"text": text, "markdown": text},
        "defaultConfiguration": {"level": rule.level if rule.level != "off" else "none"},
    }
    if rule.tags:
        item["properties"] = {"tags": sorted(set(rule.tags))}
    return item


def _notification(problem: Problem) -> Item:
    who = f"the rule {problem.rule} failed: " if problem.rule else ""
    location: Item = {"artifactLocation": _artifact(problem.path)}
    if problem.place is not None:
        line, column = problem.place
        location["region"] = {"startLine": line, "startColumn": column}
    return {
        "level": "warning" if problem.is_doubtful else "error",
        "message": {"text": f"{who}{problem.reason}"},
        "locations": [{"physicalLocation": location}],
    }


def _text(item: Item) -> str:
    text = json.dumps(item, ensure_ascii=False)
    return text.encode("utf-8", "backslashreplace").decode("utf-8")
