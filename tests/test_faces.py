"""What the packages offer is there, and a search loads no more than it needs."""

import subprocess
import sys
from importlib import import_module

import pytest

FACES = ["", *(".engine", ".facts", ".fixes", ".languages", ".patterns", ".plans", ".rules")]


@pytest.mark.parametrize("name", FACES)
def test_all_that_a_package_offers_is_there(name: str) -> None:
    package = import_module("yellow_trellis" + name)
    for offered in package.__all__:
        value = getattr(package, offered)
        assert type(value).__name__ != "module", offered


def test_a_search_loads_neither_facts_nor_plans_nor_fixes() -> None:
    program = (
        "import sys; from pathlib import Path; from yellow_trellis import run\n"
        "from yellow_trellis.engine import PatternSpec\n"
        "run([Path(sys.argv[1])], PatternSpec('f(@{x})', None, 'python'))\n"
        "print(*sorted(m for m in sys.modules if m.startswith('yellow_trellis')))"
    )
    done = subprocess.run(
        [sys.executable, "-c", program, __file__], capture_output=True, text=True, check=True
    )
    loaded = done.stdout.split()
    for heavy in ("facts.facts", "plans.plan", "fixes.filling", "engine.codebase", "rules.load"):
        assert f"yellow_trellis.{heavy}" not in loaded
