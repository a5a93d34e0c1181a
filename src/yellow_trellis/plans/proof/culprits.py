"""Search for the fixes that spoil a text: those at the place first, else by bisection."""

from __future__ import annotations

from collections.abc import Callable

from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.proof.checker import Attempt, TextFault
from yellow_trellis.source import Span

Try = Callable[[list[Candidate]], Attempt]
"""Makes the text of some fixes and checks it."""

_MOST_TURNS = 100
"""How often a fault is followed to another place before the fixes are halved."""


def sound_part(chosen: list[Candidate], failed: Attempt, attempt: Try) -> list[Candidate]:
    """Return a part of `chosen`, in order, that makes a text without a fault as a whole.

    No fix that was left out could be put back. A text that is spoilt in one place costs one more
    attempt, as the fix in that place is to blame.
    Arguments: `failed` is the attempt with all of `chosen`.
    """
    remaining, suspects = chosen, set[int]()
    certain = True
    for _ in range(_MOST_TURNS):
        assert failed.fault is not None
        near = _suspects(remaining, failed, failed.fault)
        if not near:
            break
        certain = certain and all(len(group) == 1 for group in near)
        suspects |= {number for group in near for number in group}
        remaining = [c for c in chosen if c.number not in suspects]
        failed = attempt(remaining)
        if failed.fault is None:
            if certain:
                return remaining
            return _put_back(remaining, [c for c in chosen if c.number in suspects], attempt)
    return _put_back([], chosen, attempt)


def _suspects(chosen: list[Candidate], failed: Attempt, fault: TextFault) -> list[set[int]]:
    """Return, for each place where a fault shows, the fixes that may have caused it.

    They are those in whose code the place lies, or of these the innermost where the place is that
    of what a fix has written; else those on its line; else the last before it.
    """
    extents = failed.draft.extents
    spans = [(span, c.number) for c in chosen for span in extents.get(c.number, ())]
    groups: list[set[int]] = []
    for place in fault.places:
        if fault.is_exact and (inner := _innermost(spans, place)):
            groups.append(inner)
            continue
        lines = failed.tree.source.lines
        for around in (Span(place, place), Span(lines.start(place), lines.end(place))):
            start, end = around
            group = {number for span, number in spans if span.start <= end and start <= span.end}
            if group:
                break
        else:
            before = [(span.start, number) for span, number in spans if span.start <= place]
            group = {max(before)[1]} if before else set()
        if group:
            groups.append(group)
    return groups


def _innermost(spans: list[tuple[Span, int]], place: int) -> set[int]:
    """Return the fixes whose code is the smallest that holds the byte `place`."""
    around = [
        (span.end - span.start, number)
        for span, number in spans
        if span.start <= place < span.end or span.start == place == span.end
    ]
    least = min(around, default=None)
    return set() if least is None else {number for size, number in around if size == least[0]}


def _put_back(base: list[Candidate], group: list[Candidate], attempt: Try) -> list[Candidate]:
    """Return `base` with as much of `group` as makes a text without fault, found by halves."""
    together = base + group
    if attempt(together).fault is None:
        return together
    if len(group) == 1:
        return base
    half = len(group) // 2
    return _put_back(_put_back(base, group[:half], attempt), group[half:], attempt)
