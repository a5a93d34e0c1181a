"""Which module a file is, in code bases with several folders that imports start from."""

from __future__ import annotations

from pathlib import Path

import pytest

from yellow_trellis import Rule, RuleError, Ruleset, RunOptions, run

DEF = "def stamp(): ...\n"
USE = "from alder.clock import stamp\nstamp()\n"


def found(root: Path, files: dict[str, str], name: str) -> set[str]:
    """Return the files in which a call of what is known as `name` is found."""
    for path, text in files.items():
        (root / path).parent.mkdir(parents=True, exist_ok=True)
        (root / path).write_text(text, "utf-8")
    rule = Rule("r", summary="s", find=f"@<{name}>(@{{_*}})")
    done = run([root], Ruleset.of([rule]), RunOptions(workers=1))
    return {str(Path(one.path).relative_to(root)) for one in done.findings}


TWO = {
    "north/alder/__init__.py": "",
    "north/alder/clock.py": DEF,
    "north/use.py": USE,
    "south/alder/__init__.py": "",
    "south/alder/clock.py": "from far import stamp\n",
    "south/alder/use.py": USE,
    "third.py": USE,
}


@pytest.mark.parametrize(
    ("files", "name", "where"),
    [
        ({"src/alder/__init__.py": "", "src/alder/clock.py": DEF, "use.py": USE}, "alder.clock.stamp", {"use.py"}),
        (
            {"packages/a/src/alder/__init__.py": "", "packages/a/src/alder/clock.py": DEF, "b/use.py": USE},
            "alder.clock.stamp",
            {"b/use.py"},
        ),
        # a package in a folder that imports name as one
        (
            {"rails/depot/__init__.py": "", "rails/depot/yard.py": DEF, "use.py": "from rails.depot import yard\nyard.stamp()\n"},
            "rails.depot.yard.stamp",
            {"use.py"},
        ),
        # and in one that no import names
        (
            {"rails/depot/__init__.py": "", "rails/depot/yard.py": DEF, "use.py": "from depot import yard\nyard.stamp()\n"},
            "depot.yard.stamp",
            {"use.py"},
        ),
        # the nearest of two; elsewhere it is not known
        (TWO, "far.stamp", {"south/alder/use.py"}),
        (TWO, "alder.clock.stamp", {"north/use.py", "south/alder/use.py"}),
        # tests in a folder that is called like what they test
        (
            {
                "src/alder/__init__.py": "", "src/alder/clock.py": DEF, "use.py": USE,
                "tests/alder/__init__.py": "", "tests/alder/test_clock.py": USE, "tests/alder/kit.py": "def f(): ...\n",
                "tests/alder/test_kit.py": "from alder.kit import f\nfrom alder import clock\nf()\nclock.stamp()\n",
            },
            "alder.clock.stamp",
            {"use.py", "tests/alder/test_clock.py", "tests/alder/test_kit.py"},
        ),
        # what is called like a module of the language
        ({"logging.py": "def info(x): ...\n", "use.py": "import logging\nlogging.info(1)\n"}, "logging.info", set()),
        # parts of one namespace in two roots
        (
            {
                "packages/a/src/acme/clock.py": DEF,
                "packages/b/src/acme/fares.py": "from acme.clock import stamp\nstamp()\n",
            },
            "acme.clock.stamp",
            {"packages/b/src/acme/fares.py"},
        ),
    ],
)  # rows
def test_a_name_means_what_imports_there_find(
    files: dict[str, str], name: str, where: set[str], tmp_path: Path
) -> None:
    assert found(tmp_path, files, name) == where


def test_what_there_are_two_of_is_not_renamed(tmp_path: Path) -> None:
    found(tmp_path, TWO, "alder.clock.stamp")
    rule = Rule("r", summary="s", rename="alder.clock.stamp", to="tick")
    with pytest.raises(RuleError, match="cannot be used here"):
        run([tmp_path], Ruleset.of([rule]), RunOptions(mode="rework", workers=1))


def test_the_code_base_is_found_upwards(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    files = {"alder/__init__.py": "", "alder/clock.py": DEF, "alder/night/use.py": USE}
    assert found(tmp_path, files, "alder.clock.stamp") == {"alder/night/use.py"}
    (tmp_path / "trellis.toml").write_text("")
    rule = Rule("r", summary="s", find="@<alder.clock.stamp>()")
    for folder in (tmp_path, tmp_path / "alder", tmp_path / "alder/night"):
        monkeypatch.chdir(folder)
        done = run(["."], Ruleset.of([rule]), RunOptions(workers=1))
        assert len(done.findings) == 1
