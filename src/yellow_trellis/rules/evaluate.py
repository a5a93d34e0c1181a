"""Evaluation of a rule on a tree."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import partial
from typing import TYPE_CHECKING

from msgspec.structs import replace

from yellow_trellis import fixes
from yellow_trellis.findings.finding import Finding, LazyFix, OfferedFix
from yellow_trellis.patterns import Match, seek
from yellow_trellis.patterns.match import holes_of
from yellow_trellis.rules.draft import Draft
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree

if TYPE_CHECKING:
    from yellow_trellis.rules.definition import RuleDefinition
    from yellow_trellis.rules.project_rule import Across

Places = Sequence[tuple[int, int]]


def evaluate(
    rule: RuleDefinition, tree: Tree, rank: int, within: list[Span] | None, places: Places | None
) -> Iterator[Finding]:
    """Yield what `rule` finds in `tree`, in source order.

    Arguments: see `RuleDefinition.look`. Errors: whatever the rule's own function raises.
    """
    if rule.across is not None:
        yield from _across(rule, rule.across, tree, rank)
    elif rule.function is not None:
        yield from _judged(rule, tree, rank, within, places)
    else:
        for match in _matches(rule, tree, within, places):
            yield _declared(rule, match, rank)


def _matches(
    rule: RuleDefinition, tree: Tree, within: list[Span] | None, places: Places | None
) -> Iterator[Match]:
    assert rule.compiled.pattern is not None
    result = seek(rule.compiled.pattern, tree, within, None, rule.compiled.search_plan, places)
    if not (checks := rule.compiled.checks):
        return result
    return (match for match in result if all(check.met(match) for check in checks))


def _finding(
    rule: RuleDefinition,
    span: Span,
    message: str,
    fixes: tuple[OfferedFix, ...],
    rank: int,
    match: Match | None = None,
) -> Finding:
    return Finding(
        rule.name, rule.level, span, message, fixes, rank, match,
        unasked=rule.unasked, once=rule.once,
    )


def _declared(rule: RuleDefinition, match: Match, rank: int) -> Finding:
    fixes: tuple[OfferedFix, ...] = ()
    if rule.put is not None:
        may_fail = rule.compiled.may_fail
        fixes = (LazyFix(rule.summary, rule.safety, partial(_fix, rule, match), may_fail),)
    return _finding(rule, match.span, _message(rule, match), fixes, rank, match)


def _fix(rule: RuleDefinition, match: Match) -> fixes.Fix:
    if rule.compiled.template is not None:
        return fixes.fill(
            rule.compiled.template,
            match,
            title=rule.summary,
            safety=rule.safety,
            drops_comments=rule.drops_comments,
            width=rule.width,
        )
    builder = fixes.fix(rule.summary, safety=rule.safety, drops_comments=rule.drops_comments)
    for node in match.nodes:
        builder.remove(node)
    result = builder.made(match.span)
    assert result is not None  # a removal removes
    return result


def _message(rule: RuleDefinition, match: Match) -> str:
    if rule.message is None:
        return rule.summary
    text = rule.message
    for name, capture in holes_of(match):
        text = text.replace(f"@{{{name}}}", " ".join(capture.split()))
    for name, value in rule.values.items():
        message = ", ".join(value) if isinstance(value, tuple) else str(value)
        text = text.replace(f"@{{{name}}}", message)
    return text


def _judged(
    rule: RuleDefinition, tree: Tree, rank: int, within: list[Span] | None, places: Places | None
) -> Iterator[Finding]:
    """Yield what the rule's own function finds."""
    from yellow_trellis.rules.rule_context import Code  # it loads all that is known of names

    assert rule.function is not None
    code = Code(tree, rule.values)
    nodes: Sequence[Node | Match] = (
        tree.of_kinds(rule.compiled.visited)
        if rule.compiled.pattern is None
        else list(_matches(rule, tree, within, places))
    )
    for item in nodes:
        for draft in rule.function(item, code) or ():
            if not isinstance(draft, Draft):
                kind = type(draft).__name__
                raise TypeError(f"a rule yields what `finding(...)` returns, not {kind}")
            results = (builder.made(draft.span) for builder in draft.fixes)
            fixes = tuple(fix for fix in results if fix is not None)
            yield _finding(rule, draft.span, draft.message or rule.summary, fixes, rank)


def _across(rule: RuleDefinition, across: Across, tree: Tree, rank: int) -> Iterator[Finding]:
    fixes, doubts = across.look(tree, rule.summary)
    for fix in fixes:
        result = replace(fix, safety=rule.safety)
        first = result.edits[0].span
        extra = len(result.edits) - 1
        message = _told_across(rule, across) + (
            f", here and in {extra} more places" if extra else ""
        )
        yield _finding(rule, first, message, (result,), rank)
    for doubt in doubts:
        message = f"this may be `{across.old}`: {doubt.reason}"
        yield _finding(rule, doubt.span, message, (), rank)._replace(lasts=True)


def _told_across(rule: RuleDefinition, across: Across) -> str:
    if rule.message is not None:
        return rule.message
    if across.kind == "move":
        return f"`{across.old}` is imported from `{across.new.rpartition('.')[0]}`"
    return f"`{across.thing.word}` becomes `{across.new}`"
