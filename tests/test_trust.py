"""What a configuration may have run: nothing, before the user has trusted its folder."""

import sys
from pathlib import Path

import pytest

from yellow_trellis import RuleError, load_rules
from yellow_trellis.project.trust import set_trusted

RULE = '[[rule]]\nname = "x"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'
EVIL = """import pathlib
pathlib.Path(__file__).with_name("ran").write_text("")
from yellow_trellis import Rule
evil = Rule("evil", summary="s", find="f(@{x})")
"""


@pytest.fixture
def base(tmp_path: Path) -> Path:
    (tmp_path / "a.py").write_text("f(1)\n")
    (tmp_path / "evil.py").write_text(EVIL)
    (tmp_path / "plain.toml").write_text(RULE)
    (tmp_path / "builds.toml").write_text('[ruleset]\nbuilds-on = ["evil.py"]\n')
    (tmp_path / "folder.toml").write_text('[ruleset]\nbuilds-on = ["."]\n')
    return tmp_path


@pytest.mark.parametrize("rules", ["evil.py", ".", "builds.toml", "folder.toml"])
@pytest.mark.parametrize(
    "call", ["survey", "preview", "apply", "clashes", "rules", "prove", "rules --pages out"]
)
def test_rules_in_python_that_a_configuration_names_are_not_run(
    base: Path, ytr, rules: str, call: str
) -> None:
    set_trusted(base, False)
    (base / "trellis.toml").write_text(f'rules = ["{rules}"]\npaths = ["a.py"]\n')
    told = ytr(*call.split())
    assert told.status == 2 and not (base / "ran").exists(), told.err
    assert "ytr trust" in told.err or "data" in told.err


def test_trust_is_said_once_and_taken_back(base: Path, ytr) -> None:
    set_trusted(base, False)
    (base / "trellis.toml").write_text('rules = ["evil.py"]\n')
    inner = base / "inner"
    inner.mkdir()
    assert ytr("survey", "a.py").status == 2
    assert "is trusted" in ytr("trust", where=inner).out  # that of the configuration around
    assert str(base) in ytr("trust", "--list").out
    assert ytr("survey", "a.py").status == 1 and (base / "ran").exists()
    assert ytr("survey", "../a.py", where=inner).status == 1
    ytr("trust", "--remove")
    assert ytr("survey", "a.py").status == 2
    assert "evil" in ytr("survey", "--rules", "evil.py", "a.py").out  # to name it is consent


def test_trust_of_a_folder_is_not_that_of_another(base: Path, ytr, tmp_path: Path) -> None:
    other = base / "other"
    other.mkdir()
    (other / "trellis.toml").write_text('rules = ["../evil.py"]\n')
    assert ytr("survey", where=other).status == 2 and not (base / "ran").exists()


def test_data_needs_no_trust(base: Path, ytr) -> None:
    set_trusted(base, False)
    (base / "trellis.toml").write_text('rules = ["plain.toml", "python-names"]\n')
    assert ytr("survey", "a.py").status == 1


@pytest.mark.parametrize("ruleset", ["builds.toml", "folder.toml"])
def test_a_ruleset_is_data_and_runs_no_python(base: Path, ruleset: str) -> None:
    with pytest.raises(RuleError, match="a ruleset is data"):
        load_rules([base / ruleset])
    assert not (base / "ran").exists()
    assert [one.name for one in load_rules([base / "builds.toml", base / "evil.py"])] == ["evil"]


def test_a_command_that_a_configuration_names_is_not_run(base: Path, ytr) -> None:
    set_trusted(base, False)
    program = base / "check.py"
    program.write_text(f"open({str(base / 'ran')!r}, 'w')\n")
    (base / "trellis.toml").write_text(
        f"rules = [\"plain.toml\"]\n[check-syntax]\npython = '{sys.executable} {program}'\n"
    )
    assert ytr("survey", "a.py").status == 1
    assert ytr("preview", "a.py").status == 0
    told = ytr("apply", "a.py")
    assert told.status == 2 and "ytr trust" in told.err and not (base / "ran").exists()
    assert (base / "a.py").read_text("utf-8") == "f(1)\n"
    ytr("trust")
    ytr("apply", "a.py")
    assert (base / "ran").exists()


def test_a_list_of_folders_that_is_damaged_trusts_nobody(base: Path, ytr, home: Path) -> None:
    (base / "trellis.toml").write_text('rules = ["evil.py"]\n')
    for text in ("{", '{"a": 1}', "[1]", "[" * 100_000, "\x00"):
        (home / "yellow-trellis/trusted.json").write_text(text)
        told = ytr("survey", "a.py")
        assert told.status == 2 and "trusted.json" in told.err and not (base / "ran").exists()
