"""Random input of all kinds; `benchmarks/fuzzers.py` tries far more of it."""

import os
import sys
from pathlib import Path

import pytest

from tests.fuzz.journals import fault_of_journal
from tests.fuzz.settings import fault_of_settings
from tests.fuzz.sources import fault_of_source
from yellow_trellis import Ruleset, load_rules
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.processes.deadlines import limited
from yellow_trellis.runs.run_options import RunOptions

CASES = int(os.environ.get("YTR_EXAMPLES", "100"))


@pytest.mark.skipif(sys.platform == "win32", reason="needs links")
@pytest.mark.parametrize("fault_of", [fault_of_journal, fault_of_settings, fault_of_source])
def test_nothing_is_torn_written_outside_or_raised(tmp_path: Path, fault_of) -> None:
    for seed in range(CASES):
        assert fault_of(seed, tmp_path / "case") == ""


BROKEN = [
    "import,\n",
    "from a import\n",
    "from a import b, , c\n",
    "import a,\nx(\n",
    "def f(:\n    from a import b\n    return (\n",
    "if x:\n    import a.\nelse\n    from . import (b\n",
    "x = [\nimport a\nfrom b import c, d\n",
    "try:\n    from a import b c\nexcept:\n  )\n",
    "(from a import b)\nstamp(1\n",
]


@pytest.mark.parametrize("code", BROKEN)
def test_imports_in_code_that_does_not_parse(code: str) -> None:
    rules = Ruleset.of(load_rules(["python-names"]))
    for text in (code, code + "b()\nc = d\n", "import b\n" + code):
        with limited(10):
            options = RunOptions(mode="rework", with_review=True)
            report = process_file(text.encode(), "a.py", "python", rules, options)
        assert all(problem.place for problem in report.problems)  # where it does not parse
