"""Conflicts by brute force: pairs of fixes, one after the other in both orders.

YTR_CASES=60000 is the long run, of some 20,000 pairs that touch.
"""

from __future__ import annotations

import os
from collections import Counter

from tests.laws.pairs import pair_of

CASES = int(os.environ.get("YTR_CASES", "1500"))
_MOST_NEEDLESS = 0.005
"""The share of touching pairs that may be told although both orders make the same."""


def test_a_conflict_is_told_where_the_order_matters_and_nowhere_else() -> None:
    counts: Counter[str] = Counter()
    needless = []
    for seed in range(CASES):
        pair = pair_of(seed)
        assert pair.verdict != "missed", pair.told
        if pair.touches:
            counts[pair.verdict] += 1
            needless += [pair.told] if pair.verdict == "told without need" else []
    total = sum(counts.values())
    assert total > CASES / 10
    assert counts["told"]
    assert len(needless) <= max(_MOST_NEEDLESS * total, 3), "\n\n".join(needless)
