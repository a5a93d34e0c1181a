"""Fixes that spoil each other's shape although they write other bytes: the earlier one wins.

A template is aligned with the code it replaces, so a fix relies on tokens that it does not write.
Another fix may write just those. No byte is written twice then, and only the new text shows it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from yellow_trellis.plans.plan import Candidate

Misshapen = Callable[[list[Candidate]], set[int]]
"""Returns the numbers of those fixes, of some that are made together, whose shape is not there."""


@dataclass
class Settled:
    """What is left of fixes some of which are misshapen together."""

    kept: list[Candidate]
    alone: list[Candidate] = field(default_factory=list)
    """Those whose shape is not there whatever others do."""
    yielding: list[tuple[Candidate, Candidate]] = field(default_factory=list)
    """Those that yield, each with the one before it that they stand in the way of."""


def settled(chosen: list[Candidate], wrong: set[int], misshapen: Misshapen) -> Settled:
    """Return what of `chosen`, which are in order of priority, can be made together.

    Where extents meet a misshapen fix, the fixes are taken in one by one, all such places side by
    side: there are as many attempts as there are fixes at the busiest place.
    """
    places = _places(chosen, wrong)
    involved = {c.number for place in places for c in place}
    done = Settled([c for c in chosen if c.number not in involved])
    kept: list[list[Candidate]] = [[] for _ in places]
    for turn in range(max(map(len, places), default=0)):
        tried = [(at, place[turn]) for at, place in enumerate(places) if turn < len(place)]
        together = [*done.kept, *(c for some in kept for c in some), *(c for _, c in tried)]
        spoilt = misshapen(together)
        for at, candidate in tried:
            if not spoilt.intersection(c.number for c in (*kept[at], candidate)):
                kept[at].append(candidate)
                continue
            rival = next((c for c in kept[at] if meet(c, candidate)), None)
            if rival is None:
                done.alone.append(candidate)
            else:
                done.yielding.append((candidate, rival))
    stays = {c.number for c in (*done.kept, *(c for some in kept for c in some))}
    done.kept = [c for c in chosen if c.number in stays]
    return done


def _places(chosen: Iterable[Candidate], wrong: set[int]) -> list[list[Candidate]]:
    """Return the fixes by place: those whose extents meet, wherever one is misshapen."""
    chosen = list(chosen)
    ranks = {c.number: rank for rank, c in enumerate(chosen)}
    found: list[list[Candidate]] = []
    end = -1
    for c in sorted(chosen, key=lambda c: c.fix.extent):
        if c.fix.extent.start >= end or not found:
            found.append([])
        found[-1].append(c)
        end = max(end, c.fix.extent.end)
    places = (some for some in found if any(c.number in wrong for c in some))
    return [sorted(some, key=lambda c: ranks[c.number]) for some in places]


def meet(one: Candidate, other: Candidate) -> bool:
    """Tell whether two fixes are about code in common."""
    a, b = one.fix.extent, other.fix.extent
    return a.start < b.end and b.start < a.end
