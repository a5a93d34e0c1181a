"""The proof before writing: the new text is parsed, shapes are matched, comments are counted."""

from __future__ import annotations

import re
from collections import Counter
from functools import cached_property

from yellow_trellis.fixes import New
from yellow_trellis.patterns import Pattern
from yellow_trellis.patterns.match import match_at
from yellow_trellis.plans.conflict import Conflict, Kind
from yellow_trellis.plans.plan import Candidate, Plan, nested_in
from yellow_trellis.plans.render import Rendered
from yellow_trellis.plans.rivals import meet, settled
from yellow_trellis.plans.settle import settle
from yellow_trellis.records import record, replace
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


@record
class Proven:
    """A plan whose text has passed the proof."""

    plan: Plan
    tree: Tree
    """The tree of the new text."""


def prove(plan: Plan) -> Proven:
    """Render `plan`, check the text, and take out what fails until the rest passes.

    Fixes whose shape is not there are known at once; when the file as a whole is broken, or a
    comment is gone, the culprits are found by bisection. Each is told in `plan.outcomes`.
    """
    chosen = plan.accepted
    accepted = len(chosen)
    checker = _Checker(plan)
    while chosen:
        rendered, tree = checker.made(chosen)
        if (kind := checker.fault(tree, chosen)) is not None:
            left = checker.bisect(chosen)
            stays = {c.number for c in left}
            gone = [c for c in chosen if c.number not in stays]
            rivals = {c.number: r for c in gone if (r := checker.rival(c, left)) is not None}
            _take_out(plan, [c for c in gone if c.number not in rivals], kind)
            for candidate in gone:
                if candidate.number in rivals:
                    _defer(plan, candidate, rivals[candidate.number], kind)
            plan.accepted = chosen = left
            continue
        wrong = checker.misshapen(chosen, rendered, tree)
        if not wrong:
            if len(chosen) < accepted:
                _tell_alone(plan)
            return Proven(plan, tree)
        done = settled(chosen, wrong)
        _take_out(plan, done.alone, "wrong shape")
        for candidate, rival in done.yielding:
            _defer(plan, candidate, rival, "wrong shape")
        plan.accepted = chosen = done.kept
    return Proven(plan, plan.tree)


def _tell_alone(plan: Plan) -> None:
    """Tell as applied what would have composed with fixes that were taken out."""
    nested = nested_in(plan.accepted)
    alone = {id(c.finding) for c in plan.accepted if c.number not in nested}
    plan.outcomes = [
        replace(o, state="applied") if o.state == "composed" and id(o.finding) in alone else o
        for o in plan.outcomes
    ]


def _defer(plan: Plan, candidate: Candidate, rival: Candidate, kind: Kind) -> None:
    """Let a fix yield to one before it: the next round looks at its place again."""
    told = "one writes what the other relies on"
    if kind != "wrong shape":
        told = f"together {_TOGETHER[kind]}"
    plan.conflicts.append(Conflict("overlap", plan.party(rival), plan.party(candidate), told))
    gone = {id(finding) for finding in (candidate.finding, *candidate.twins)}
    winner = rival.finding.rule
    reason = f"overlap with {winner}: {told}"
    plan.outcomes = [
        replace(o, state="deferred", reason=reason, by=winner) if id(o.finding) in gone else o
        for o in plan.outcomes
    ]


def _take_out(plan: Plan, gone: list[Candidate], kind: Kind) -> None:
    """Refuse fixes, and say what each would have written."""
    refused = {}
    for candidate in gone:
        alone = plan.render([candidate])
        spans = alone.extents.get(candidate.number, [])
        wanted = alone.data[slice(*spans[0])].decode("utf-8", "replace") if spans else ""
        reason = f"{_REASONS[kind]}: it wanted `{wanted}`"
        refused.update({id(f): reason for f in (candidate.finding, *candidate.twins)})
        plan.conflicts.append(Conflict(kind, plan.party(candidate), reason=reason))
    plan.outcomes = [
        replace(o, state="refused", reason=refused[id(o.finding)])
        if id(o.finding) in refused
        else o
        for o in plan.outcomes
    ]


_TOGETHER: dict[Kind, str] = {
    "broken syntax": "they make what does not parse",
    "comment loss": "they lose a comment",
}
_REASONS: dict[Kind, str] = {
    "broken syntax": "the new text does not parse",
    "wrong shape": "the new text parses into another tree than the template says",
    "comment loss": "a comment would be lost",
}


_SWALLOWS = re.compile(r"[#'\"`/\\]")
"""What new text must hold so that it can be, or swallow, a comment."""


class _Checker:
    """Checks texts made from one plan against its original."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self.errors = len(plan.tree.errors)

    @cached_property
    def comments(self) -> Counter[bytes]:
        """The comments of the original."""
        return Counter(c.data for c in self.plan.tree.comments())

    def made(self, chosen: list[Candidate]) -> tuple[Rendered, Tree]:
        """Return the text with the fixes `chosen`, and its tree."""
        before = self.plan.tree
        rendered = self.plan.render(chosen)
        return settle(
            before,
            rendered,
            before.with_data(rendered.data),
            [(c.number, one) for c in chosen for one in c.fix.imports],
            [write for c in chosen for write in c.writes],
            {c.number: c.fix.width for c in chosen if c.fix.width is not None},
        )

    def fault(self, tree: Tree, chosen: list[Candidate]) -> Kind | None:
        """Return what is wrong with the text as a whole, if anything."""
        if len(tree.errors) > self.errors:
            return "broken syntax"
        if any(c.fix.drops_comments for c in chosen):
            return None
        if not any(self.may_lose_comments(c) for c in chosen):
            return None
        if self.comments - Counter(c.data for c in tree.comments()):
            return "comment loss"
        return None

    def may_lose_comments(self, candidate: Candidate) -> bool:
        """Tell whether a fix touches a comment, or writes what may swallow one."""
        data, mark = self.plan.tree.source.data, self.plan.tree.language.comment_mark
        for write in candidate.writes:
            line = data.rfind(b"\n", 0, write.start) + 1
            if mark.search(data, line, write.end) is not None:  # also what would run into one
                return True
            for piece in write.pieces:
                if isinstance(piece, New):
                    if _SWALLOWS.search(piece.text) is not None:
                        return True
                elif mark.search(data, *piece.span) is not None:
                    return True
        return False

    def misshapen(self, chosen: list[Candidate], rendered: Rendered, tree: Tree) -> set[int]:
        """Return the numbers of the fixes whose template does not match where it was put."""
        return {
            c.number
            for c in chosen
            if c.fix.shape is not None
            and not all(
                _is_there(c.fix.shape, tree, span) for span in rendered.extents.get(c.number, ())
            )
        }

    def sound(self, chosen: list[Candidate]) -> bool:
        """Tell whether the text with the fixes `chosen` is without fault as a whole."""
        _, tree = self.made(chosen)
        fault = self.fault(tree, chosen)
        tree.release()  # there may be many such attempts
        return fault is None

    def rival(self, candidate: Candidate, left: list[Candidate]) -> Candidate | None:
        """Return the first of `left` that a fix fails with, which alone does not fail."""
        found = next((c for c in left if meet(c, candidate)), None)
        return found if found is not None and self.sound([candidate]) else None

    def bisect(self, chosen: list[Candidate]) -> list[Candidate]:
        """Return the largest part of `chosen`, in order, that makes a text without fault."""

        def settle(base: list[Candidate], group: list[Candidate]) -> list[Candidate]:
            together = base + group
            if self.sound(together):
                return together
            if len(group) == 1:
                return base
            half = len(group) // 2
            return settle(settle(base, group[:half]), group[half:])

        return settle([], chosen)


def _is_there(shape: Pattern, tree: Tree, span: Span) -> bool:
    """Tell whether `shape` matches a node, or statements in a row, that fill `span`.

    Comments at either end do not count: whose they are changes with the code around.
    """
    span = _without_comments(tree, span)
    if span.start == span.end:
        return not shape.text.strip()
    node = tree.leaf_at(span.start)
    while node is not None and node.start == span.start:
        found = match_at(shape, node)
        if found is None and shape.without is not None:
            found = match_at(shape.without, node)
        if found is not None and _without_comments(tree, found.span) == span:
            return True
        node = node.parent
    return False


def _without_comments(tree: Tree, span: Span) -> Span:
    """Cut comments and space off both ends of `span`: a comment that was moved may stand there."""
    data, (start, end) = tree.source.data, span
    while start < end:
        if data[end - 1 : end].isspace():
            end -= 1
        elif (leaf := tree.leaf_at(end - 1)) is not None and leaf.is_comment:
            end = max(leaf.start, start)
        else:
            break
    while start < end:
        if data[start : start + 1].isspace():
            start += 1
        elif (leaf := tree.leaf_at(start)) is not None and leaf.is_comment:
            start = min(leaf.end, end)
        else:
            break
    return Span(start, end)
