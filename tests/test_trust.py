"""What a configuration may have run: nothing, before the user has trusted its folder."""

import json
import os
import subprocess
import sys
from pathlib import Path

import msgspec
import pytest

from tests.conftest import called
from yellow_trellis import RuleError, load_rules
from yellow_trellis.project.trust import set_trusted
from yellow_trellis.runs.transaction.journal import JournalEntry

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
    set_trusted(base, None)
    (base / "trellis.toml").write_text(f'rules = ["{rules}"]\npaths = ["a.py"]\n')
    told = ytr(*call.split())
    assert told.status == 2 and not (base / "ran").exists(), told.err
    assert "ytr trust" in told.err or "data" in told.err


def test_trust_is_said_once_and_taken_back(base: Path, ytr) -> None:
    set_trusted(base, None)
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
    set_trusted(base, None)
    (base / "trellis.toml").write_text('rules = ["plain.toml", "python-names"]\n')
    assert ytr("survey", "a.py").status == 1


@pytest.mark.parametrize("ruleset", ["builds.toml", "folder.toml"])
def test_a_ruleset_is_data_and_runs_no_python(base: Path, ruleset: str) -> None:
    with pytest.raises(RuleError, match="a ruleset is data"):
        load_rules([base / ruleset])
    assert not (base / "ran").exists()
    assert [one.name for one in load_rules([base / "builds.toml", base / "evil.py"])] == ["evil"]


def test_a_trusted_ruleset_says_which_rules_of_its_programs_count(
    base: Path, home: Path
) -> None:
    ruleset = "builds.toml"
    second = "second = Rule('second', summary='s', find='f(@{x})')\n"
    (base / "evil.py").write_text(EVIL + second)
    (base / ruleset).write_text((base / ruleset).read_text("utf-8") + 'only = ["second"]\n')
    (base / "trellis.toml").write_text(f'rules = ["{ruleset}"]\npaths = ["a.py"]\n')
    assert "ytr trust" in refused(base, "survey")
    assert not (base / "ran").exists()
    assert called(base, "trust").status == 0
    told = called(base, "survey").out
    assert "second" in told
    assert "evil" not in told
    (base / "evil.py").write_text(EVIL + second + "# changed\n")
    assert "evil.py has changed" in refused(base, "survey")
    for names in ([ruleset, "evil.py"], ["evil.py", ruleset]):
        assert [one.name for one in load_rules(base / name for name in names)] == ["second"]


def test_a_command_that_a_configuration_names_is_not_run(base: Path, ytr) -> None:
    set_trusted(base, None)
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


def test_a_list_of_folders_that_is_damaged_trusts_nobody(base: Path, home: Path) -> None:
    (base / "trellis.toml").write_text('rules = ["evil.py"]\n')
    for text in ("{", '{"a": 1}', '{"a": {"b": 1}}', "[1]", "[" * 100_000, "\x00"):
        (home / "yellow-trellis/trusted.json").write_text(text)
        told = called(base, "survey", "a.py")
        assert told.status == 2 and "trusted.json" in told.err and not (base / "ran").exists()


# ------------------------------------------------------------------ contents


def refused(folder: Path, *words: str) -> str:
    """Return what a command says that must not run code; nothing is trusted again before."""
    (folder / "ran").unlink(missing_ok=True)
    told = called(folder, *words)
    assert told.status == 2 and not (folder / "ran").exists(), told.out + told.err
    return told.err


def is_run(folder: Path, *words: str) -> bool:
    (folder / "ran").unlink(missing_ok=True)
    called(folder, *words)
    return (folder / "ran").exists()


BELOW = EVIL.replace('with_name("ran")', 'parents[1].joinpath("ran")')
CHANGES = {
    "the rule file": ("rules/evil.py", BELOW + "# more\n"),
    "what it imports": ("rules/helper.py", "x = 2\n"),
    "what that imports": ("inner/deep.py", "z = 3\n"),
    "a package around it": ("inner/__init__.py", "w = 1\n"),
    "another rule file": ("rules/second.py", BELOW),
    "a module before another": ("rules/inner/__init__.py", "deep = 1\n"),
}


@pytest.mark.parametrize("change", CHANGES)
def test_trust_is_of_contents_and_is_asked_for_again(base: Path, home: Path, change: str) -> None:
    (base / "rules").mkdir()
    (base / "inner").mkdir()
    head = "try:\n    import helper\nexcept ImportError:\n    pass\n"
    (base / "rules/evil.py").write_text(head + BELOW)
    (base / "rules/helper.py").write_text("from inner import deep\n")
    (base / "inner/__init__.py").write_text("")
    (base / "inner/deep.py").write_text("z = 1\n")
    (base / "trellis.toml").write_text('rules = ["rules"]\npaths = ["a.py"]\n')
    assert called(base, "trust").status == 0 and is_run(base, "survey")
    name, text = CHANGES[change]
    (base / name).parent.mkdir(exist_ok=True)
    (base / name).write_text(text)
    told = refused(base, "survey")
    assert name in told and "what you trusted" in told and "ytr trust" in told
    again = called(base, "trust").out
    assert name in again and is_run(base, "survey")
    (base / "a.py").write_text("f(2)\n")  # what is no code that runs may change
    (base / "trellis.toml").write_text('rules = ["rules"]\npaths = ["a.py"]\nfail-at = "error"\n')
    assert is_run(base, "survey")


def test_another_project_in_the_place_of_a_trusted_one_is_not_trusted(
    base: Path, home: Path
) -> None:
    (base / "trellis.toml").write_text('rules = ["evil.py"]\n')
    called(base, "trust")
    (base / "other.py").write_text(EVIL)
    (base / "trellis.toml").write_text('rules = ["other.py"]\n')
    assert "other.py is new" in refused(base, "survey", "a.py")


def test_another_command_and_another_script_are_not_trusted(base: Path, home: Path) -> None:
    (base / "check.py").write_text(f"open({str(base / 'ran')!r}, 'w')\n")
    text = 'rules = ["plain.toml"]\n[check-syntax]\npython = \'{} check.py\'\n'
    (base / "trellis.toml").write_text(text.format(sys.executable))
    called(base, "trust")
    (base / "check.py").write_text(f"open({str(base / 'ran')!r}, 'w')  # another\n")
    assert "check.py has changed" in refused(base, "apply", "a.py")
    called(base, "trust")
    (base / "trellis.toml").write_text(text.format(sys.executable + " -I"))
    assert "check-syntax for python" in refused(base, "apply", "a.py")


def test_a_folder_that_was_trusted_by_its_path_alone_is_asked_about(base: Path, home: Path) -> None:
    (base / "trellis.toml").write_text('rules = ["evil.py"]\n')
    (home / "yellow-trellis/trusted.json").write_text(f'["{base}"]')
    assert "evil.py is new" in refused(base, "survey", "a.py")


@pytest.mark.parametrize("name", ["", ".", "here"])
def test_a_home_that_is_relative_is_none(
    base: Path, home: Path, monkeypatch: pytest.MonkeyPatch, name: str
) -> None:
    (base / "trellis.toml").write_text('rules = ["evil.py"]\n')
    file = base / name / ".config/yellow-trellis/trusted.json"
    file.parent.mkdir(parents=True)
    called(base, "trust")
    file.write_text((home / "yellow-trellis/trusted.json").read_text("utf-8"))
    monkeypatch.delenv("XDG_CONFIG_HOME")
    monkeypatch.setenv("HOME", name)
    assert "ytr trust" in refused(base, "survey", "a.py")


def test_pytest_runs_no_rules_that_are_not_trusted(base: Path, home: Path) -> None:
    set_trusted(base, None)
    (base / "trellis.toml").write_text('rules = ["evil.py"]\n')
    call = [sys.executable, "-m", "pytest", "--trellis-examples", "-p", "no:cacheprovider"]
    done = subprocess.run(call, cwd=base, capture_output=True, text=True)
    assert done.returncode == 4 and "ytr trust" in done.stderr + done.stdout
    assert not (base / "ran").exists()


# ------------------------------------------------------------------ outside


WRITING = [
    ("apply",), ("apply", "--leave", "x"), ("seek", "f(@{x})", "--put", "g(@{x})", "--write"),
    ("baseline",), ("survey", "--record"), ("hook", "run"),
]


@pytest.mark.parametrize("way", ["..", "absolute", "a link", "a link to above", "inside a link"])
@pytest.mark.parametrize("words", WRITING, ids=" ".join)
def test_a_configuration_leads_to_nothing_outside_of_its_folder(
    tmp_path: Path, ytr, way: str, words: tuple[str, ...]
) -> None:
    outside, inside = tmp_path / "outside", tmp_path / "inside"
    outside.mkdir()
    inside.mkdir()
    (outside / "a.py").write_text("f(1)\n")
    (inside / "r.toml").write_text(RULE)
    (inside / "link").symlink_to(tmp_path if way == "a link to above" else outside)
    path = {
        "..": "../outside", "absolute": str(outside), "a link": "link", "a link to above": "link",
        "inside a link": "link/a.py",
    }[way]
    (inside / "trellis.toml").write_text(f'rules = ["r.toml"]\npaths = ["{path}"]\n')
    before = {str(p) for p in tmp_path.rglob("*")}
    told = ytr(*words, where=inside)
    assert told.status == 2 and "`paths`" in told.err
    assert {str(p) for p in tmp_path.rglob("*")} == before
    assert (outside / "a.py").read_text("utf-8") == "f(1)\n"


def test_a_folder_does_not_take_the_place_of_an_installed_pack(
    base: Path, tmp_path_factory, monkeypatch: pytest.MonkeyPatch
) -> None:
    site = tmp_path_factory.mktemp("site")
    info = site / "alder_rules-1.0.dist-info"
    info.mkdir()
    (info / "METADATA").write_text("Metadata-Version: 2.1\nName: alder-rules\nVersion: 1.0\n")
    (info / "entry_points.txt").write_text("[yellow_trellis.packs]\nalder = alder_pack\n")
    (site / "alder_pack").mkdir()
    (site / "alder_pack/__init__.py").write_text("")
    (site / "alder_pack/pack.toml").write_text('summary = "s"\n')
    (site / "alder_pack/r.toml").write_text(RULE)
    monkeypatch.syspath_prepend(str(site))
    monkeypatch.chdir(base)
    (base / "alder").mkdir()
    (base / "alder/r.py").write_text(EVIL)
    with pytest.raises(RuleError, match="both a pack"):
        load_rules(["alder"])
    assert not (base / "alder/ran").exists()
    assert [rule.name for rule in load_rules(["./alder"])] == ["evil"]


def test_a_journal_that_claims_any_size_is_told_of(base: Path, ytr) -> None:
    ytr("apply", "--rules", "plain.toml", "a.py")
    runs = base / ".yellow-trellis/runs"
    (run,) = runs.iterdir()
    row = json.loads((run / "files.jsonl").read_text("utf-8").partition(" ")[2])
    entry = msgspec.convert({**row, "size": 15 * 1024**3}, JournalEntry)
    (run / "files.jsonl").write_text(entry.written() + "\n")
    os.truncate(run / "texts.bin", 16 * 1024**3)  # it takes no room on the disk
    told = ytr("undo")
    assert told.status == 3 and "claims" in told.err
    for number in range(2, 5_000):
        (runs / f"{run.name[:-3]}{number:03}").mkdir()
    assert ytr("undo", "--list", "--format", "json").json["runs"]
