"""Comments that leave a place alone: ``# trellis: leave RULE because reason``.

After code, such a comment is about what starts on its line; on a line of its own, about the
statement or definition below it; with ``in this file`` after the rules, about all of the file.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import NamedTuple

from yellow_trellis.findings.finding import Finding
from yellow_trellis.schema import near
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.comment_ownership import LEAVE

MARK = LEAVE

UNNEEDED = "unneeded-leave"
"""The name of the rule about such comments that nothing needs any more."""

_FORM = re.compile(
    r"trellis:\s*leave\s+(?P<rules>\w+(?:-\w+)*(?:\s*,\s*\w+(?:-\w+)*)*)"
    r"(?P<file>\s+in\s+this\s+file)?"
    r"(?:\s+because\b\s*(?P<reason>.*?))?\s*(?:\*/)?$",
    re.DOTALL,
)
_ADDRESSED = re.compile(r"(?:^|#|//)\W*trellis:")


class Suppression(NamedTuple):
    """One comment: the rules it is about, why, and the bytes that it speaks for."""

    rules: tuple[str, ...]
    reason: str
    span: Span
    by_start: bool
    """Whether it is enough that a finding starts in the span."""
    place: str
    """Line and column of the comment, from 1."""
    comment: Node
    start: int
    """Where in the comment its own words start, in characters: others may stand before them."""
    names: tuple[int, int]
    """Where in the comment the names of the rules start and end, in characters."""

    def covers(self, finding: Finding) -> bool:
        """Return whether the comment is about `finding`."""
        if finding.rule not in self.rules:
            return False
        if self.by_start:
            return self.span.start <= finding.span.start < self.span.end
        return self.span.holds(finding.span)


def leaves(tree: Tree) -> tuple[list[Suppression], list[str]]:
    """Return the comments of a file that leave something alone, and what is wrong with others."""
    suppressions: list[Suppression] = []
    wrong: list[str] = []
    if not tree.token_index.holds(MARK):
        return suppressions, wrong
    for comment in tree.comments():
        text = comment.text
        if MARK not in comment.data or (addressed := _ADDRESSED.search(text)) is None:
            continue
        place = str(tree.source.place(comment.start))
        form = _FORM.search(text)
        if form is None:
            wrong.append(f"{place}: write it as `trellis: leave RULE because reason`: {text}")
            continue
        span, by_start = _spoken_for(tree, comment, whole=form["file"] is not None)
        rules = tuple(re.split(r"\s*,\s*", form["rules"]))
        reason = form["reason"] or ""
        start, names = addressed.start(), form.span("rules")
        suppressions.append(
            Suppression(rules, reason, span, by_start, place, comment, start, names)
        )
    return suppressions, wrong


def _spoken_for(tree: Tree, comment: Node, *, whole: bool) -> tuple[Span, bool]:
    """Return the bytes that a comment speaks for, and whether a finding need only start there."""
    data = tree.source.data
    if whole:
        return Span(0, len(data)), False
    lines = tree.source.lines
    start = lines.start(comment.start)
    if data[start : comment.start].strip():
        return Span(start, lines.end(comment.start)), True
    at = comment.end
    while True:  # over space, and over further comments
        while at < len(data) and data[at : at + 1].isspace():
            at += 1
        leaf = tree.leaf_at(at) if at < len(data) else None
        if leaf is None or not leaf.is_comment:
            break
        at = leaf.end
    if leaf is None:
        return Span(comment.start, comment.end), False
    node = leaf
    bodies = tree.language.bodies
    while (above := node.parent) is not None and above.start >= at and above.kind not in bodies:
        node = above
    last = node
    while (after := last.next) is not None and after.start < lines.end(last.start):
        last = after  # what follows on the line of the statement is below the comment as well
    return Span(node.start, last.end), False


def left_alone(
    findings: Iterable[Finding], suppressions: list[Suppression], reasons: bool
) -> list[Finding]:
    """Return `findings`, those that a comment leaves alone without their fixes and with why.

    Arguments: `suppressions` are the comments of the file; with `reasons` one without a reason does
    not count.
    """
    suppressions = [leave for leave in suppressions if leave.reason or not reasons]
    if not suppressions:
        return list(findings)
    remaining = []
    for finding in findings:
        by = next((leave for leave in suppressions if leave.covers(finding)), None)
        if by is not None:
            why = f"the comment at {by.place} leaves it" + (f": {by.reason}" if by.reason else "")
            finding = finding._replace(fixes=(), left=why)
        remaining.append(finding)
    return remaining


def doubts(tree: Tree, results: Iterable[str], reasons: bool = False) -> list[str]:
    """Return what is wrong with the comments of a file: what cannot be read, and names misspelled.

    A name that is like none of the `results` rules is taken for one of other rules.
    Arguments: `reasons` tells whether a comment needs a reason.
    """
    result, wrong = leaves(tree)
    results = set(results)
    for leave in result:
        for rule in leave.rules:
            if rule not in results and (like := near(rule, results)):
                wrong.append(f"{leave.place}: no rule is called `{rule}`: did you mean `{like}`?")
        if reasons and not leave.reason:
            wrong.append(f"{leave.place}: it has no effect without a reason: add `because` and why")
    return wrong
