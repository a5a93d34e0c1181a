"""Candidates for conflicts among the fixes of a survey: only those are made and planned.

A fix that meets no other, and replaces no comment and no broken code, can be in nobody's way. One
that the plan may refuse by itself, because a name of its template is taken or because of what the
template writes, is planned as well, so that a survey says what a preview does.
"""

from __future__ import annotations

import re

from yellow_trellis.findings.failure import is_contained
from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes import Fix
from yellow_trellis.plans.refusals import may_be_refused
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


def may_conflict(findings: list[Finding], tree: Tree) -> list[Finding]:
    """Return the findings, by place, whose fixes may be in conflict, or refused."""
    comment, data = tree.language.comment_mark, tree.source.code
    contested: dict[int, Finding] = {}
    commented: list[Finding] = []
    last: Finding | None = None
    end = -1
    may_fail: dict[str, bool] = {}
    placed = sorted((f.extent, number) for number, f in enumerate(findings) if f.fixes)
    for span, number in placed:
        finding = findings[number]
        if last is not None and span.start <= end:
            contested[id(last)] = last
            contested[id(finding)] = finding
        elif _is_refused_perhaps(finding, span, tree, may_fail):
            contested[id(finding)] = finding
        elif comment.search(data, span.start, span.end):
            commented.append(finding)
        if span.end >= end:
            last, end = finding, span.end
    for finding in commented:
        if id(finding) not in contested and _may_lose_comment(finding, data, comment):
            contested[id(finding)] = finding
    return list(contested.values())


def _is_refused_perhaps(
    finding: Finding, span: Span, tree: Tree, may_fail: dict[str, bool]
) -> bool:
    """Return whether the plan may refuse the fix of a finding, whatever others do.

    Arguments: `may_fail` is what is known of this by rule, and is added to.
    """
    offered = finding.fixes[0]
    if isinstance(offered, Fix):
        if offered.clash or offered.fault:
            return True
    else:
        if finding.rule not in may_fail:
            may_fail[finding.rule] = offered.may_fail(tree.source.data)
        if may_fail[finding.rule]:
            return True
    return may_be_refused(tree, span)


def _may_lose_comment(finding: Finding, data: bytes, comment: re.Pattern[bytes]) -> bool:
    """Return whether the fix of a finding replaces anything that looks like a comment."""
    if finding.match is not None and finding.match.tree.spans is not None:
        return True  # no fix is made on a part of a file
    try:
        fix = finding.choice(with_review=True)
    except BaseException as error:  # reported where the fix is planned
        if not is_contained(error):
            raise
        return True
    return fix is None or any(comment.search(data, *edit.span) for edit in fix.edits)
