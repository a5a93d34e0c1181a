"""A sample of the standard library through survey, preview, apply and undo, as the whole is."""

import subprocess
import sys
from pathlib import Path


def test_a_sample_of_the_standard_library_survives() -> None:
    script = Path(__file__).parents[1] / "benchmarks" / "library_run.py"
    done = subprocess.run(
        [sys.executable, str(script), "--sample", "40"], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stdout + done.stderr
    assert "files that do not compile any more: 0" in done.stdout
