"""Findings known from before, and how each is found again among those of now.

A baseline keeps them, and a revision that is compared with has them.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable
from typing import NamedTuple

from yellow_trellis.rules.fingerprint import Fingerprint


class KnownFinding(NamedTuple):
    """A finding known from before; in a baseline `path` starts from its folder, with slashes."""

    path: str
    rule: str
    mark: Fingerprint
    code: str
    """The first line of the code, for people."""


Key = Callable[[KnownFinding], Hashable]


def _own(scope: str) -> str:
    return scope.rpartition(".")[2]


def _alike(finding: KnownFinding, entry: KnownFinding) -> int:
    """Return how much of what stood around the known one is still there, in parts of a hundred."""
    ours, theirs = set(finding.mark.around), set(entry.mark.around)
    if ours == theirs:
        return 100
    if finding.mark.scope == entry.mark.scope and entry.mark.scope.endswith(":"):
        return 99  # a definition is known by its names
    near = len(theirs.intersection(finding.mark.wider or ours))
    return min(100 * near // max(len(theirs), 1), 99)


# How a finding is known again, the surest first: what must be equal, and how much of what stands
# around must be at least. At its own place none of it need be, as neighbours are edited too; in its
# own scope one neighbour is enough; what has moved needs half.
_STEPS: tuple[tuple[Key, int], ...] = (
    (lambda e: (e.path, e.rule, e.mark.scope, e.mark.code, e.mark.around), 100),
    (lambda e: (e.path, e.rule, e.mark.scope, e.mark.code, e.mark.steps), 0),
    (lambda e: (e.path, e.rule, e.mark.scope, e.mark.code), 1),
    (lambda e: (e.path, e.rule, _own(e.mark.scope), e.mark.code), 50),
    (lambda e: (e.rule, _own(e.mark.scope), e.mark.code), 50),
    (lambda e: (e.path, e.rule, e.mark.code), 50),
)


_MOST_PAIRS = 100_000
"""With more pairs to choose from, equal findings go together in their order."""


def matched(findings: list[KnownFinding], entries: list[KnownFinding]) -> dict[int, int]:
    """Return by the number of a finding that of the known one which it is; both from 0.

    No known one is taken twice, so that of equal findings as many are accepted as were. Where
    several could be meant, those whose surroundings are most alike go together.
    """
    pairs: dict[int, int] = {}
    remaining = set(range(len(entries)))
    for key, least in _STEPS:
        groups: defaultdict[Hashable, tuple[list[int], list[int]]] = defaultdict(lambda: ([], []))
        for number in sorted(remaining):
            groups[key(entries[number])][1].append(number)
        for at, entry in enumerate(findings):
            if at not in pairs and (group := groups.get(key(entry))) is not None:
                group[0].append(at)
        for ours, theirs in groups.values():
            for at, number in _paired(ours, theirs, findings, entries, least):
                pairs[at] = number
                remaining.discard(number)
    return pairs


def _paired(
    ours: list[int],
    theirs: list[int],
    findings: list[KnownFinding],
    entries: list[KnownFinding],
    least: int,
) -> list[tuple[int, int]]:
    """Return which of two groups of equal findings go together."""
    if least == 100 or len(ours) * len(theirs) > _MOST_PAIRS:
        couples = zip(ours, theirs, strict=False)
        return [(a, b) for a, b in couples if _alike(findings[a], entries[b]) >= least]
    options = [
        (-alike, abs(a - b), a, b)
        for a in ours
        for b in theirs
        if (alike := _alike(findings[a], entries[b])) >= least
    ]
    table: dict[int, int] = {}
    gone: set[int] = set()
    for _, _, a, b in sorted(options):
        if a not in table and b not in gone:
            table[a] = b
            gone.add(b)
    return list(table.items())
