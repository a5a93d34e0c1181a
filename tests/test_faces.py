"""What the packages offer is there, and a search loads no more than it needs."""

import subprocess
import sys
from importlib import import_module

import pytest

import yellow_trellis
from yellow_trellis import TrellisError

PACKAGES = (".fixes", ".languages", ".patterns", ".plans", ".rules", ".semantics", ".syntax")
FACES = ["", *PACKAGES]


@pytest.mark.parametrize("name", FACES)
def test_all_that_a_package_offers_is_there(name: str) -> None:
    package = import_module("yellow_trellis" + name)
    for offered in package.__all__:
        value = getattr(package, offered)
        assert type(value).__name__ != "module", offered


def test_a_search_loads_neither_facts_nor_plans_nor_fixes() -> None:
    program = (
        "import sys; from pathlib import Path; from yellow_trellis import run\n"
        "from yellow_trellis.runs.rule_source import PatternSpec\n"
        "run([Path(sys.argv[1])], PatternSpec('f(@{x})', None, 'python'))\n"
        "print(*sorted(m for m in sys.modules if m.startswith('yellow_trellis')))"
    )
    done = subprocess.run(
        [sys.executable, "-c", program, __file__], capture_output=True, text=True, check=True
    )
    loaded = done.stdout.split()
    for heavy in ("semantics.semantic_model", "plans.plan", "fixes.template_rewrite", "project.project", "rules.files.loader"):
        assert f"yellow_trellis.{heavy}" not in loaded


def test_a_run_that_asks_for_meanings_ends_in_silence(tmp_path) -> None:
    (tmp_path / "a.py").write_text("def stamp(): pass\n")
    (tmp_path / "b.py").write_text("from a import stamp\n\nstamp()\n")
    program = (
        "import sys; from pathlib import Path; from yellow_trellis import run\n"
        "from yellow_trellis.runs.rule_source import PatternSpec\n"
        "found = run([Path(sys.argv[1])], PatternSpec('@<a.stamp>()', None, 'python'), workers=1)\n"
        "print(len(found.findings))"
    )
    words = [sys.executable, "-c", program, str(tmp_path)]
    done = subprocess.run(words, capture_output=True, text=True, check=True)
    assert (done.stdout, done.stderr) == ("1\n", "")


def test_each_error_is_called_one_and_is_of_one_base() -> None:
    things = {name: getattr(yellow_trellis, name) for name in yellow_trellis.__all__}
    errors = {
        name: thing
        for name, thing in things.items()
        if isinstance(thing, type) and issubclass(thing, BaseException)
    }
    assert len(errors) > 10
    assert not [name for name in errors if not name.endswith("Error")]
    assert not [name for name, thing in errors.items() if not issubclass(thing, TrellisError)]
