"""What the packages offer is there, and a search loads no more than it needs."""

import subprocess
import sys
from importlib import import_module
from pathlib import Path

import pytest

import yellow_trellis
from yellow_trellis import TrellisError

HERE = Path(yellow_trellis.__file__).parent
FACES = [".".join(stub.parent.relative_to(HERE.parent).parts) for stub in HERE.rglob("*.pyi")]


@pytest.mark.parametrize("name", FACES)
def test_all_that_a_package_offers_is_there(name: str) -> None:
    package = import_module(name)
    assert len(package.__all__) > 3
    assert sorted(package.__all__) == dir(package)
    for offered in package.__all__:
        value = getattr(package, offered)
        assert type(value).__name__ != "module", offered


def test_each_name_that_the_library_offers_can_be_used_in_typed_code(tmp_path: Path) -> None:
    api = pytest.importorskip("mypy.api")
    lines = ["import yellow_trellis as y"]
    for number, name in enumerate(sorted(yellow_trellis.__all__)):
        value = getattr(yellow_trellis, name)
        is_type = isinstance(value, type) or name[:1].isupper()
        lines.append(f"def f{number}(x: y.{name}) -> None: ..." if is_type else f"v{number} = y.{name}")
    program = tmp_path / "program.py"
    program.write_text("\n".join(lines) + "\n", "utf-8")
    options = ["--config-file", str(Path(__file__).parents[1] / "pyproject.toml")]
    shown, errors, status = api.run([*options, str(program)])
    assert status == 0, shown + errors


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
        "import sys; from pathlib import Path; from yellow_trellis import RunOptions, run\n"
        "from yellow_trellis.runs.rule_source import PatternSpec\n"
        "found = run([Path(sys.argv[1])], PatternSpec('@<a.stamp>()', None, 'python'), RunOptions(workers=1))\n"
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
