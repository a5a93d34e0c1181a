"""Incremental rounds: only what a round has changed or deferred is searched again.

A rule that looks at nothing beyond a statement finds in an equal statement what it found there.
What became of that is carried over to the next round, and only the rest is searched.
"""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping
from typing import NamedTuple

from msgspec import Struct, field

from yellow_trellis.findings.finding import Finding
from yellow_trellis.plans.conflict import Conflict
from yellow_trellis.plans.outcome import Outcome
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

Within = Mapping[str, list[Span]]
"""By rule: the only spans in which it is to look."""


class Partial(NamedTuple):
    """The means to search a part of a file."""

    local: frozenset[str]
    """The rules that look at nothing beyond a statement at the top of the file."""
    look: Callable[[Tree, Within], list[Finding] | None]
    """Returns the findings in a tree; None where all of it must be looked at."""


class Carried(Struct):
    """The outcomes of the findings in one unchanged part, by round."""

    outcomes: list[tuple[int, Outcome]] = field(default_factory=list)
    conflicts: list[Conflict] = field(default_factory=list)


Parts = dict[bytes, list[Carried]]
"""By text: a list of the parts that have that text."""


class Changed(Struct):
    """The new parts of a text."""

    within: Within
    carried: Parts
    """What is not, with what became of it."""


def changed(
    number: int,
    before: Tree,
    outcomes: list[Outcome],
    conflicts: list[Conflict],
    carried: Parts,
    after: Tree,
    local: frozenset[str],
) -> Changed:
    """Compare the text of a round with the one that it made.

    Arguments: `number` is that of the round, `outcomes` and `conflicts` are what became of its
    findings, and `carried` what was not looked at in it; `local` are the rules that look at nothing
    beyond a statement at the top of the file.
    """
    parts: Parts = {}
    entry = _unchanged(number, before, outcomes, conflicts, carried, local)
    spans = []
    for span in units(after):
        text = after.source.data[span.start : span.end]
        if same := entry.get(text):
            parts.setdefault(text, []).append(same.pop())
        else:
            spans.append(span)
    return Changed(dict.fromkeys(local, spans), parts)


def _unchanged(
    number: int,
    before: Tree,
    outcomes: list[Outcome],
    conflicts: list[Conflict],
    carried: Parts,
    local: frozenset[str],
) -> Parts:
    """Return the parts of the text before, without those that have something put off in them."""
    data = before.source.data
    spans = list(units(before))
    starts = [span.start for span in spans]
    table: defaultdict[int, Carried] = defaultdict(Carried)
    open_: set[int] = set()
    for outcome in outcomes:
        if outcome.finding.rule not in local:
            continue
        at = bisect_right(starts, outcome.finding.span.start) - 1
        if outcome.state in ("left", "refused"):
            table[at].outcomes.append((number, outcome))
        else:
            open_.add(at)
    for conflict in conflicts:
        if conflict.party.rule not in local:
            continue
        at = bisect_right(starts, _place(conflict, outcomes)) - 1
        if conflict.kind == "name clash":  # it depends on names elsewhere in the file
            open_.add(at)
        elif conflict.other is None:
            table[at].conflicts.append(conflict)
    parts: Parts = {}
    for at, span in enumerate(spans):
        if at in open_:
            continue
        key = data[span.start : span.end]
        part = table.get(at) or Carried()
        if earlier := carried.get(key):
            old = earlier.pop()
            part = Carried([*old.outcomes, *part.outcomes], [*old.conflicts, *part.conflicts])
        parts.setdefault(key, []).append(part)
    return parts


def _place(conflict: Conflict, outcomes: list[Outcome]) -> int:
    """Return where the finding is that a conflict is about: its fix may reach further back."""
    party = conflict.party
    for outcome in outcomes:
        if outcome.finding.rule == party.rule and party.span.holds(outcome.finding.span):
            return outcome.finding.span.start
    return party.span.start


def units(tree: Tree) -> Iterator[Span]:
    """Yield the spans of what stands at the top of a file."""
    for raw in tree.raw_root.children:
        yield Span(raw.start_byte, raw.end_byte)
