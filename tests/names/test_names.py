"""Names and imports, judged by running random programs before and after.

YTR_CASES=20000 is the long run: so many programs for each kind of change.
"""

from __future__ import annotations

import os
import subprocess
import sys
from collections import Counter
from pathlib import Path

import pytest

from tests.names.judge import KINDS, judged

CASES = int(os.environ.get("YTR_CASES", "240"))
_PARTS = 4
ROOT = Path(__file__).resolve().parents[2]


@pytest.mark.parametrize("part", range(_PARTS))
@pytest.mark.parametrize("kind", KINDS)
def test_a_program_does_the_same_or_the_change_is_refused(kind: str, part: int) -> None:
    states: Counter[str] = Counter()
    ordinary: Counter[str] = Counter()
    for seed in range(part, CASES, _PARTS):
        case = judged(kind, seed)
        assert case.state != "wrong", case.told
        states[case.state] += 1
        ordinary[case.state] += case.is_ordinary
    assert states["same"] > states["refused"]  # or next to nothing is tried
    assert ordinary["refused"] <= max(3, ordinary["same"] / 20)


def test_the_same_is_done_whatever_the_order_of_sets() -> None:
    code = (
        "from tests.names.judge import judged; import hashlib\n"
        "told = [judged(kind, seed).told for kind in ('rename', 'rewrite') for seed in range(20)]\n"
        "print(hashlib.sha256(repr(told).encode()).hexdigest())\n"
    )
    told = {
        subprocess.run(
            [sys.executable, "-c", code],
            cwd=ROOT,
            env={**os.environ, "PYTHONHASHSEED": str(seed)},
            capture_output=True,
            text=True,
            check=True,
        ).stdout
        for seed in range(2)
    }
    assert len(told) == 1
