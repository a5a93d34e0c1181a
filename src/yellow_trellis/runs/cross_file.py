"""Fixes over several files: applied in all of them or in none."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable

from yellow_trellis.plans.outcome import DOUBT, FOR_ASKING, FOR_REVIEW
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.report_types import Change


def failed_somewhere(
    reports: Iterable[FileReport], rules: Collection[str], with_doubts: bool
) -> dict[str, str]:
    """Return those of `rules` that some file refuses or fails, with the reason of the first.

    Arguments: `with_doubts` says that places which only may be meant are left to a person; else
    they are a reason too.
    """
    failed: dict[str, str] = {}
    counts: Counter[str] = Counter()
    if not rules:
        return failed
    for report in sorted(reports, key=lambda report: report.path):
        messages = {(finding.rule, finding.start): finding.message for finding in report.findings}
        for fate in report.fates:
            if fate.rule not in rules or fate.state == "applied":
                continue
            reason = fate.reason
            if fate.reason == DOUBT:
                if with_doubts:
                    continue
                reason = messages.get((fate.rule, fate.start), reason)
            elif fate.state == "left" and reason not in (FOR_REVIEW, FOR_ASKING):
                reason = f"it is left alone: {reason}"
            elif fate.state != "refused":
                continue
            counts[fate.rule] += 1
            failed.setdefault(fate.rule, f"{report.path}:{fate.start}: {reason}")
        for problem in report.problems:
            if problem.rule in rules:
                counts[problem.rule] += 1
                failed.setdefault(problem.rule, f"{report.path}: {problem.reason}")
    return {rule: _reason(reason, counts[rule] - 1) for rule, reason in failed.items()}


def _reason(reason: str, extra: int) -> str:
    others = f" (and {extra} more)" if extra > 0 else ""
    return f"in no file, because of {reason}{others}"


def held_back(changes: Iterable[Change], skipped_changes: Iterable[Change]) -> dict[str, str]:
    """Return by path the changes that cannot be written because others are not, with the reason.

    A file that shares a rule over several files with one that is skipped is skipped too, and so on.
    Arguments: `skipped_changes` are those that cannot be written for a reason of their own.
    """
    table: dict[str, str] = {}
    todo = list(skipped_changes)
    first = {change.path for change in todo}
    tail = [change for change in changes if change.together and change.path not in first]
    while todo:
        stuck = todo.pop()
        for change in tail:
            common = change.together & stuck.together
            if common and change.path not in table:
                name = min(common)
                table[
                    change.path
                ] = f"`{name}` changes it together with {stuck.path}, which is left"
                todo.append(change)
    return table
