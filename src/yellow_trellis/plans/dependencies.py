"""Fixes that spoil each other's shape although they write other bytes: the earlier one wins.

A template is aligned with the code it replaces, so a fix relies on tokens that it does not write.
Another fix may write just those. No byte is written twice then, and only the new text shows it.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import defaultdict
from collections.abc import Iterator, Sequence

from msgspec import Struct, field

from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.write_op import Primitive
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node


class Settled(Struct):
    """The rest of some fixes of which several are misshapen together."""

    kept: list[Candidate]
    alone: list[Candidate] = field(default_factory=list)
    """Those whose shape is not there whatever others do."""
    yielding: list[tuple[Candidate, Candidate]] = field(default_factory=list)
    """Those that yield, each with the one before it that they stand in the way of."""


def settled(chosen: list[Candidate], wrong: set[int]) -> Settled:
    """Return what of `chosen`, which are in order of priority, goes together.

    Arguments: `wrong` are the numbers of those whose shape is not there. One with rivals, which
    write what it relies on, and its rivals exclude each other; one without is taken out where
    nothing else is. So with any wrong at all, fewer are left.
    """
    writes = sorted((p for c in chosen for p in c.writes), key=lambda p: p.start)
    starts = [write.start for write in writes]
    longest = max((write.end - write.start for write in writes), default=0)
    by_number = {c.number: c for c in chosen}
    against: defaultdict[int, set[int]] = defaultdict(set)
    for c in chosen:
        if c.number in wrong:
            extent = c.fix.extent
            first = bisect_left(starts, extent.start - longest)
            near = writes[first : bisect_right(starts, extent.end)]
            for rival in _rivals(c, near):
                if not _carries(by_number[rival], extent):
                    against[c.number].add(rival)
                    against[rival].add(c.number)
    done = Settled([])
    accepted: dict[int, Candidate] = {}
    for c in chosen:
        rivals = against.get(c.number, set())
        winner = next((accepted[number] for number in sorted(rivals) if number in accepted), None)
        if winner is not None:
            done.yielding.append((c, winner))
        elif c.number in wrong and not rivals:
            done.alone.append(c)
        else:
            accepted[c.number] = c
    if done.yielding:  # it may have been for them that one without rivals is misshapen
        gone = {c.number for c, _ in done.yielding}
        return Settled([c for c in chosen if c.number not in gone], [], done.yielding)
    done.kept = list(accepted.values())
    return done


def _rivals(c: Candidate, near: Sequence[Primitive]) -> Iterator[int]:
    """Yield the numbers of fixes that write in the extent of a fix, but not in what its holes took.

    Arguments: `near` is all that is written at or around the extent.
    """
    extent = c.fix.extent
    holes = _holes(c)
    for write in near:
        if write.fix == c.number:
            continue
        span = write.anchor if write.inserts else write.span
        if write.inserts:
            touches = extent.start < write.start < extent.end
        else:
            touches = write.start < extent.end and extent.start < write.end
        if touches and not any(hole.holds(span) for hole in holes):
            yield write.fix


def _carries(c: Candidate, extent: Span) -> bool:
    """Return whether a fix takes all of an extent along, wherever it puts it."""
    return any(hole.holds(extent) for hole in (*_holes(c), *c.moves))


def _holes(c: Candidate) -> list[Span]:
    """Return the spans of what the holes of a fix's pattern took: others may write there."""
    match = c.finding.match
    results = []
    for take in match.takes.values() if match is not None else ():
        run = (take,) if isinstance(take, Node) else take
        if run:
            results.append(Span(run[0].start, run[-1].end))
    return results


def touch(candidate: Candidate, second: Candidate) -> bool:
    """Return whether two fixes are about code in common, or about code side by side."""
    a, b = candidate.fix.extent, second.fix.extent
    return a.start <= b.end and b.start <= a.end


def first_touching(
    candidates: list[Candidate], rivals: list[Candidate], chosen: list[Candidate]
) -> dict[int, Candidate]:
    """Return, by number of one of `candidates`, the first of `rivals` before it that touches it.

    Arguments: `chosen` are all fixes, in order of priority.
    """
    order = {c.number: at for at, c in enumerate(chosen)}
    by_start = sorted(rivals, key=lambda c: c.fix.extent.start)
    starts = [c.fix.extent.start for c in by_start]
    longest = max((c.fix.extent.end - c.fix.extent.start for c in rivals), default=0)
    results: dict[int, Candidate] = {}
    for candidate in candidates:
        extent = candidate.fix.extent
        first = bisect_left(starts, extent.start - longest)
        near = by_start[first : bisect_right(starts, extent.end)]
        before = [
            c
            for c in near
            if order[c.number] < order[candidate.number] and touch(c, candidate)
        ]
        if before:
            results[candidate.number] = min(before, key=lambda c: order[c.number])
    return results
