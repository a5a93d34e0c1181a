"""Random input of all kinds; `benchmarks/fuzzers.py` tries far more of it."""

import os
import sys
from pathlib import Path

import pytest

from tests.fuzz.journals import fault_of_journal
from tests.fuzz.settings import fault_of_settings
from tests.fuzz.sources import fault_of_source

CASES = int(os.environ.get("YTR_EXAMPLES", "100"))


@pytest.mark.skipif(sys.platform == "win32", reason="needs links")
@pytest.mark.parametrize("fault_of", [fault_of_journal, fault_of_settings, fault_of_source])
def test_nothing_is_torn_written_outside_or_raised(tmp_path: Path, fault_of) -> None:
    for seed in range(CASES):
        assert fault_of(seed, tmp_path / "case") == ""
