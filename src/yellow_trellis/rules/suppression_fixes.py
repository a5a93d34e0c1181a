"""Fixes to comments that leave places alone: those that nothing needs go, others are written."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from yellow_trellis.edits import Edit, New
from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes import Fix
from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.suppressions import UNNEEDED, Suppression
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree


def leave_rule() -> RuleDefinition:
    """Return the rule about comments that leave alone what no rule finds any more.

    A ruleset that has it looks at what all its other rules found: it has no function of its own.
    """
    return RuleDefinition(
        UNNEEDED,
        summary="This leave comment no longer has any effect.",
        kinds=("comment",),
        function=lambda *_: (),
        level="note",
        tags=("comments",),
        help="It is found and taken out for rules of the run alone: those not asked for, those\n"
        "that are off and those that failed on the file are not known to find nothing.",
    )


def unneeded(
    rule: RuleDefinition, rank: int, suppressions: list[
        Suppression
    ], findings: Iterable[Finding], results: frozenset[str]
) -> list[Finding]:
    """Return a finding for each comment that names rules which find nothing there.

    Arguments: `results` are the rules that have looked at the file and could have found it.
    """
    findings = list(findings)
    messages = []
    for leave in suppressions:
        idle = [
            name
            for name in leave.rules
            if name in results and not any(f.rule == name and leave.covers(f) for f in findings)
        ]
        if not idle:
            continue
        rules = [name for name in leave.rules if name not in idle]
        edit = _with_names(leave, rules) if rules else _without(leave)
        fix = Fix("Take it out", (edit,), edit.span, rule.safety, drops_comments=True)
        names = " and ".join(f"`{name}`" for name in idle)
        message = f"{names} {'finds' if len(idle) == 1 else 'find'} nothing here"
        span = leave.comment.span
        messages.append(
            Finding(rule.name, rule.level, span, message, (fix,), rank, unasked=rule.unasked)
        )
    return messages


def _with_names(leave: Suppression, names: list[str]) -> Edit:
    text = leave.comment.text
    start, end = leave.names
    return Edit(leave.comment.span, (New(text[:start] + ", ".join(names) + text[end:]),))


def _without(leave: Suppression) -> Edit:
    """Return the edit that takes out a comment, with its line where nothing else is on it."""
    comment = leave.comment
    if before := comment.text[: leave.start].rstrip():
        return Edit(comment.span, (New(before),))
    source = comment.tree.source
    line, line_end = source.lines.start(comment.start), source.lines.end(comment.start)
    code = source.data[line : comment.start]
    if code.strip() or source.data[comment.end : line_end].strip():
        return Edit(Span(line + len(code.rstrip()), comment.end))
    follow = source.lines.number(comment.end)
    starts = source.lines.starts
    return Edit(Span(line, starts[follow] if follow < len(starts) else line_end))


def with_leaves(
    findings: list[Finding], tree: Tree, suppressions: list[Suppression], reason: str
) -> list[Finding]:
    """Return the `findings` that are not left alone yet, each with a fix that leaves it, with why.

    Findings on one line share a comment: the fix is the same for each of them.
    """
    lines = tree.source.lines
    here: defaultdict[int, list[Finding]] = defaultdict(list)
    for finding in findings:
        if not finding.left and finding.rule != UNNEEDED:
            here[lines.start(finding.span.start)].append(finding)
    results = {
        line: _comment(line, some, tree, suppressions, reason) for line, some in here.items()
    }
    return [
        finding._replace(fixes=(results[lines.start(finding.span.start)],), unasked="safe")
        for finding in findings
        if not finding.left and finding.rule != UNNEEDED
    ]


def _comment(
    line: int, findings: list[Finding], tree: Tree, suppressions: list[Suppression], reason: str
) -> Fix:
    """Return the fix that writes the comment for the findings that start on a line."""
    names = sorted({finding.rule for finding in findings})
    there = next((item for item in suppressions if item.by_start and item.span.start == line), None)
    if there is not None and there.reason == reason:
        edit = _with_names(there, [*there.rules, *(n for n in names if n not in there.rules)])
        return Fix("Leave it", (edit,), edit.span, drops_comments=True)
    mark = tree.language.line_comment
    text = f"{mark} trellis: leave {', '.join(names)}" + (f" because {reason}" if reason else "")
    end = tree.source.lines.end(line)
    last = tree.leaf_at(end - 1)
    across = last is None or last.end > end or tree.source.data[:end].endswith(b"\\")
    if last is not None and not across:
        edit = Edit.after(last.span, New(f"  {text}"))
        # behind a comment it becomes part of that comment, which is not lost by it
        return Fix("Leave it", (edit,), Span(last.start, end), drops_comments=last.is_comment)
    node, indent = _statement(tree, findings[0].span.start)
    edit = Edit.before(node.span, New(f"{text}\n{indent}"))
    return Fix("Leave it", (edit,), node.span)


def _statement(tree: Tree, start: int) -> tuple[Node, str]:
    """Return the smallest statement around a place that starts its line, and its indentation."""
    data, lines = tree.source.data, tree.source.lines
    node = tree.leaf_at(start) or tree.root
    while True:
        node = node.statement
        line = lines.start(node.start)
        code = data[line : node.start]
        if not code.strip() or node.parent is None:
            return node, code.decode("utf-8", "replace")
        node = tree.leaf_at(line + len(code) - len(code.lstrip())) or tree.root
