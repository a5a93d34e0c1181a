"""The laws of fixes, on random code with random rules and verbs, judged without our own matcher.

YTR_CASES=100000 is the long run: so many cases of each kind.
"""

from __future__ import annotations

import os
from collections import Counter

import pytest

from tests.laws.judge import fault_of_rules, fault_of_verbs

CASES = int(os.environ.get("YTR_CASES", "800"))
_PARTS = 8


@pytest.mark.parametrize("part", range(_PARTS))
def test_no_fix_of_a_template_makes_what_it_does_not_say(part: int) -> None:
    states: Counter[str] = Counter()
    for seed in range(part, CASES, _PARTS):
        state, wrong = fault_of_rules(seed)
        assert not wrong, wrong
        states[state] += 1
    assert states["applied"] > 2 * states["refused"] > 0  # or next to nothing is tried


@pytest.mark.parametrize("part", range(_PARTS))
def test_no_verb_loses_or_doubles_anything(part: int) -> None:
    states: Counter[str] = Counter()
    for seed in range(part, CASES, _PARTS):
        state, wrong = fault_of_verbs(seed)
        assert not wrong, wrong
        states[state] += 1
    assert states["applied"] > states["refused"] > 0
