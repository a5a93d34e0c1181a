"""A way out for a fix that the proof refuses: where its text parts from its template, what helps.

What can be tried is tried: a way out that has not been seen to work is told as a choice of the
author, never as a cure.
"""

from __future__ import annotations

import textwrap
from collections.abc import Iterator

from msgspec.structs import replace

from yellow_trellis.edits.neighbours import is_statement
from yellow_trellis.patterns.mismatch import explain
from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.conflict import EXPLAINED, WAYS_OUT, Kind
from yellow_trellis.plans.proof.checker import Attempt, Checker
from yellow_trellis.source import Span


def wrong_shape(failed: Attempt, candidate: Candidate) -> tuple[Kind, str]:
    """Return why a fix does not make the tree that it says, with the lines that came of it."""
    lines = failed.tree.source.lines
    spans = [region.new for region in failed.draft.regions if region.fix == candidate.number]
    reason = EXPLAINED["wrong shape"]
    if not spans:
        return "wrong shape", reason
    start, end = lines.start(min(spans).start), lines.end(max(span.end for span in spans))
    content = textwrap.dedent(failed.tree.source.text(Span(start, end))).strip()
    parting = next(_parting(failed, candidate), "")
    return "wrong shape", f"{reason}{parting}, and would read `{content}`"


def _parting(failed: Attempt, candidate: Candidate) -> Iterator[str]:
    """Yield for each template of a fix where the new text parts from it."""
    templates = {template.span: template.shape for template in candidate.fix.puts}
    source = failed.tree.source
    for region in failed.draft.regions:
        shape = templates.get(region.old) if region.fix == candidate.number else None
        if shape is None or not shape.roots or not source.text(region.new).strip():
            continue
        place = source.place(region.new.start)
        try:
            result = explain(shape, failed.tree, place.line, place.column)
        except ValueError:  # no code starts where it stands
            continue
        if result.match is None and result.reason:
            story = result.reason.partition(": `@{")[0]  # there is no use for another hole
            story = story.replace("the pattern", "the template").replace("the code", "the text")
            yield f" (in the new text at {result.place}: {story})"


def way_out(kind: Kind, candidate: Candidate, checker: Checker) -> str:
    """Return what would make a refused fix right, or what its author can choose instead."""
    if candidate.fix.width is not None:
        fix = replace(candidate.fix, width=None)
        attempt = checker.attempt([Candidate(candidate.finding, fix, candidate.number, None)])
        if not attempt.wrong and attempt.fault is None:
            return "it is right without `width`"
    if kind == "wrong shape" and _shares_line(candidate, checker):
        return "put each statement there on a line of its own first"
    return WAYS_OUT[kind]


def _shares_line(candidate: Candidate, checker: Checker) -> bool:
    """Return whether the statement of a fix stands in one line with others."""
    node = checker.before.leaf_at(candidate.fix.extent[0])
    while node is not None and not is_statement(node):
        node = node.parent
    if node is None or node.parent is None:
        return False
    first, last = node.place.line, node.tree.source.place(node.end).line
    near = (item for item in node.parent.items if item is not node and is_statement(item))
    return any(item.place.line in (first, last) for item in near)
