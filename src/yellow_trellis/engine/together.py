"""Fixes over several files: applied in all of them or in none."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from yellow_trellis.engine.notices import Change
from yellow_trellis.engine.reports import FileReport


def failed_somewhere(reports: Iterable[FileReport], rules: Collection[str]) -> dict[str, str]:
    """Return those of `rules` that some file refuses or fails, with the reason of the first."""
    failed: dict[str, str] = {}
    if not rules:
        return failed
    for report in sorted(reports, key=lambda report: report.path):
        for fate in report.fates:
            if fate.rule in rules and fate.state == "refused":
                place = f"{report.path}:{fate.start}"
                failed.setdefault(fate.rule, f"in no file, because of {place}: {fate.reason}")
        for problem in report.problems:
            if problem.rule in rules:
                told = f"in no file, because of {report.path}: {problem.reason}"
                failed.setdefault(problem.rule, told)
    return failed


def held_back(changes: Iterable[Change], left: Iterable[Change]) -> dict[str, str]:
    """Return by path those of `changes` that cannot be written as `left` are not, with the reason.

    A file that shares a rule over several files with one that is left is left too, and so on.
    """
    held: dict[str, str] = {}
    todo = list(left)
    first = {change.path for change in todo}
    rest = [change for change in changes if change.together and change.path not in first]
    while todo:
        stuck = todo.pop()
        for change in rest:
            shared = change.together & stuck.together
            if shared and change.path not in held:
                name = min(shared)
                held[change.path] = f"`{name}` changes it together with {stuck.path}, which is left"
                todo.append(change)
    return held
