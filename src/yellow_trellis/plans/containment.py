"""A rule whose fixes cannot be made or planned costs itself on that file, and nothing else.

A template may meet code that nobody thought of, and so may the planner. Whatever is raised then
must not take the findings of other rules with it, nor the rest of a run.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from yellow_trellis.findings.failure import RuleFailure, is_contained, reason_of
from yellow_trellis.findings.finding import Finding
from yellow_trellis.plans.plan import FixError
from yellow_trellis.syntax import Tree

T = TypeVar("T")


def contained(
    tree: Tree, findings: list[Finding], plan: Callable[[list[Finding]], T]
) -> tuple[T, list[RuleFailure]]:
    """Return what `plan` makes of `findings`, and the rules without which it had to be made.

    Arguments: `plan` may raise anything; it is asked again without the findings of the rules that
    it raises for.
    """
    failures: list[RuleFailure] = []
    while True:
        try:
            return plan(findings), failures
        except BaseException as error:
            if not findings or not is_contained(error):
                raise
            failed = _blame(tree, findings, plan, error)
            failures += failed
            names = {failure.rule for failure in failed}
            findings = [finding for finding in findings if finding.rule not in names]


def _blame(
    tree: Tree, findings: list[Finding], plan: Callable[[list[Finding]], T], error: BaseException
) -> list[RuleFailure]:
    """Return the rules for which `plan` raises by themselves; else the last of all."""
    if isinstance(error, FixError):
        return [_failure(tree, error.finding, error.__cause__ or error)]
    firsts: dict[str, Finding] = {}
    for finding in sorted(findings, key=lambda finding: finding.rank):
        firsts.setdefault(finding.rule, finding)
    failures = []
    for rule, first in firsts.items():
        try:
            plan([finding for finding in findings if finding.rule == rule])
        except BaseException as alone:
            if not is_contained(alone):
                raise
            failures.append(_failure(tree, first, alone.__cause__ or alone))
    return failures or [_failure(tree, first, error)]


def _failure(tree: Tree, finding: Finding, error: BaseException) -> RuleFailure:
    place = tree.source.place(finding.span.start)
    if isinstance(error, RecursionError):
        return RuleFailure(finding.rule, f"its fix at {place} is nested too deeply")
    return RuleFailure(finding.rule, f"its fix at {place} raised {reason_of(error)}")
