"""Options that many commands share: they mean the same in each."""

from __future__ import annotations

import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.conftest import Answer
from yellow_trellis.cli.app import COMMANDS

Call = Callable[..., Answer]
RULES = ("-r", "rules")


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    rule = '[[rule]]\nname = "{0}"\nsummary = "{0}."\nfind = "{1}(@{{x}})"\nput = "k(@{{x}})"\ntags = ["{2}"]\n'
    (tmp_path / "rules").mkdir()
    text = rule.format("call-f", "f", "old") + rule.format("call-g", "g", "new")
    (tmp_path / "rules/r.toml").write_text(text)
    (tmp_path / "code").mkdir()
    (tmp_path / "code/a.py").write_text("f(1)\nx = g(f(2)) + 1\n")
    (tmp_path / "code/b.py").write_text("g(3)\n")
    return tmp_path


def found(told: Answer) -> list[str]:
    return [f"{one['rule']} {one['path']}" for one in told.json["findings"]]


def test_rules_and_files_are_chosen(folder: Path, ytr: Call) -> None:
    def survey(*words: str) -> list[str]:
        return found(ytr("survey", *RULES, "code", "--format", "json", *words))

    assert len(survey()) == 4
    assert survey("--without", "call-f") == ["call-g code/a.py", "call-g code/b.py"]
    assert survey("--tag", "old") == survey("--only", "call-f") == ["call-f code/a.py"] * 2
    assert survey("--skip", "a.py") == ["call-g code/b.py"]
    for words, told in (
        (("--without", "coll-f"), "did you mean `call-f`"),
        (("--tag", "olds"), "did you mean `old`"),
        (("--tag", "old", "--without", "call-f"), "no rule is left"),
    ):
        answer = ytr("survey", *RULES, "code", *words)
        assert answer.status == 2 and told in answer.err
    assert "call-g" not in ytr("preview", *RULES, "code", "--without", "call-g").out
    assert ytr("rules", *RULES, "--only", "call-g", "--format", "json").json["rules"][0]["name"] == "call-g"


def test_another_configuration_or_none(folder: Path, ytr: Call) -> None:
    (folder / "trellis.toml").write_text('rules = ["rules"]\npaths = ["code/b.py"]\n')
    (folder / "ci.toml").write_text('rules = ["rules"]\npaths = ["code"]\nlevels = { call-f = "error" }\n')
    assert found(ytr("survey", "--format", "json")) == ["call-g code/b.py"]
    assert len(found(ytr("survey", "--format", "json", "--config", "ci.toml"))) == 4
    assert "no rules are named" in ytr("survey", "--no-config").err
    assert ytr("survey", "--no-config", "--config", "ci.toml").status == 2
    told = ytr("survey", "--config", "ci.toml", "--verbose").err
    assert "configuration: ci.toml" in told and "2 rules from rules/r.toml" in told
    fits = ytr("why", "call-g", "code/b.py:1")
    assert fits.status == 0 and "They fit." in fits.out  # the rule of the configuration


def test_how_much_is_shown_and_where(folder: Path, ytr: Call) -> None:
    quiet = ytr("survey", *RULES, "code", "--quiet")
    assert (quiet.out, quiet.err) == ("Fails: 4 findings at `warning` or above.\n", "")
    assert "\x1b[" in ytr("survey", *RULES, "code", "--color", "always").out
    plain = ytr("survey", *RULES, "code", "--color", "never").out
    assert "code/a.py:2:5  x = g(f(2)) + 1\n" + " " * 21 + "^^^^^^^\n" in plain
    told = ytr("seek", "f(@{x})", "code", "--output", "nowhere/out.txt")
    assert told.status == 2 and "there is no folder" in told.err
    ytr("tree", "code/b.py", "--output", "out.txt")
    assert "call" in (folder / "out.txt").read_text("utf-8")
    before = (folder / "out.txt").read_text("utf-8")
    assert ytr("survey", *RULES, "--only", "nothing", "--output", "out.txt").status == 2
    assert (folder / "out.txt").read_text("utf-8") == before


def test_standard_input_stands_for_a_file(folder: Path, ytr: Call) -> None:
    text = b"f(4)\r\ng(5)\r\n"
    told = ytr("survey", *RULES, "--stdin-name", "code/new.py", "--format", "lines", given=text)
    assert told.out.startswith("code/new.py:1:1: warning: call-f. [call-f]\n")
    assert ytr("apply", *RULES, "--stdin-name", "code/a.py", given=text).raw == b"k(4)\r\nk(5)\r\n"
    assert (folder / "code/a.py").read_text("utf-8").startswith("f(1)") and not (folder / "code/new.py").exists()
    told = ytr("survey", *RULES, "code", "--stdin-name", "code/a.py", given=text)
    assert told.status == 2 and "leave out PATHS" in told.err


def test_a_search_tells_the_language_and_writes_once(folder: Path, ytr: Call) -> None:
    (folder / "web").mkdir()
    (folder / "web/a.js").write_text("pay(1);\n")
    assert "1 match" in ytr("seek", "pay(@{x})", "web").out
    told = ytr("seek", "g(@{x})", "--put", "h(@{x})", "code", "--write").out
    assert "wrote code/a.py" in told and (folder / "code/b.py").read_text("utf-8") == "h(3)\n"
    assert "(seek): 2 files restored" in ytr("undo", "code").out
    assert (folder / "code/b.py").read_text("utf-8") == "g(3)\n"
    clash = ytr("seek", "@{a} + @{b}", "--put", "add(@{b})", "code", "--write", "--strict")
    assert clash.status in (0, 1)
    assert ytr("seek", "g(@{x})", "code", "--write").status == 2


def test_a_preview_shows_conflicts_and_stops_at_a_sensible_length(trams: Path, ytr: Call) -> None:
    told = ytr("preview", *RULES, "alder")
    assert told.out.count("\n") < 600 and "--all shows them" in told.out and "conflicts" in told.out
    everything = ytr("preview", *RULES, "alder", "--all", "--strict")
    assert everything.out.count("\n") > 2 * told.out.count("\n") and everything.status == 1
    assert "not shown" not in everything.out
    assert "deferred: an earlier rule went first" in told.out


def test_the_counts_of_conflicts_agree(trams: Path, ytr: Call) -> None:
    clash = (*RULES, "--only", "name-the-fare", "--only", "fare-by-card", "alder")
    survey = ytr("survey", *clash, "--format", "json").json["conflicts"]
    clashes = ytr("clashes", *clash, "--format", "json").json["conflicts"]
    preview = ytr("preview", *clash, "--format", "json").json["conflicts"]

    def between(conflicts: list[dict]) -> int:
        return sum(len(one["parties"]) == 2 for one in conflicts)

    assert between(survey) == between(clashes) == between(preview) > 10


def test_every_command_has_help_with_an_example(ytr: Call) -> None:
    for name in COMMANDS:
        told = ytr("help", name)
        assert told.status == 0 and "Example: ytr" in told.out, name
    assert ytr("help").out == ytr("--help").out
    told = ytr("help", "survay")
    assert told.status == 2 and "did you mean `survey`" in told.err


def test_shells_complete_commands_options_and_choices(tmp_path: Path, ytr: Call) -> None:
    (tmp_path / "c").write_text(ytr("completion", "bash").out)

    def completed(*words: str) -> list[str]:
        line = " ".join(f"'{word}'" for word in words)
        script = f"source ./c; COMP_WORDS=({line}); COMP_CWORD={len(words) - 1}; _ytr; echo ${{COMPREPLY[@]}}"
        done = subprocess.run(["bash", "-c", script], cwd=tmp_path, capture_output=True, text=True)
        assert done.returncode == 0, done.stderr
        return done.stdout.split()

    assert completed("ytr", "sur") == ["survey"]
    assert "--new-only" in completed("ytr", "survey", "--new")
    assert completed("ytr", "survey", "--format", "sa") == ["sarif"]
    assert {"install", "remove"} <= set(completed("ytr", "hook", ""))
    assert "complete -c ytr" in ytr("completion", "fish").out
    assert ytr("completion", "zsh").out.startswith("#compdef ytr\n")
