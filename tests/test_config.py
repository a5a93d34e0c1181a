"""The configuration: found, read, held to its rules, and named where it speaks."""

import re
from pathlib import Path

import pytest

from yellow_trellis.findings.finding import LEVELS, UNASKED
from yellow_trellis.project.settings import (
    FAILING,
    KEYS,
    PART_KEYS,
    ConfigError,
    Settings,
    settings_for,
)
from yellow_trellis.rules import RuleError, Setting
from yellow_trellis.rules.files.loader import RULESET_KEYS
from yellow_trellis.rules.files.packs import CARD_KEYS
from yellow_trellis.rules.files.toml_rules import OPTION_KEYS
from yellow_trellis.runs.rule_source import RulesSpec

PAGE = Path(__file__).parents[1] / "docs/configuration.md"


def settings(folder: Path, text: str, name: str = "trellis.toml") -> Settings:
    (folder / name).write_text(text)
    return settings_for(folder)


def test_the_nearest_file_speaks_and_the_search_ends_at_the_repository(tmp_path: Path) -> None:
    inner = tmp_path / "a/b"
    inner.mkdir(parents=True)
    assert settings_for(inner).file is None or not settings_for(inner).file.is_relative_to(tmp_path)
    settings(
        tmp_path, '[tool.other]\nx = 1\n[tool.yellow-trellis]\nrules = ["r"]\n', "pyproject.toml"
    )
    assert settings_for(inner).rules == ("r",)
    (tmp_path / "a/pyproject.toml").write_text("[project]\nname = 'a'\n")
    assert settings_for(inner).folder == tmp_path
    settings(tmp_path, 'rules = ["own"]\n')
    assert settings_for(inner).rules == ("own",)
    (inner / ".git").mkdir()
    assert settings_for(inner).file is None


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("rule = []\n", "1:1: the configuration has no key `rule`: did you mean `rules`?"),
        ("paths = 'a'\n", "1:1: `paths` must be a list of strings"),
        ("\n\nfail-at = 'fatal'\n", "3:1: `fail-at` is one of error, warning, note, never"),
        ("[levels]\nx = 'of'\n", "2:1: the level of `x` is one of error, warning, note, off"),
        ("at-most = -1\n", "1:1: `at-most` is not below 0"),
        ("at-most = 1.5\n", "1:1: `at-most` must be a whole number"),
        ("unasked = 'some'\n", "1:1: `unasked` is one of nothing, safe, all"),
        ("[unasked-of]\nx = 'no'\n", "2:1: what of `x` is fixed unasked is one of nothing, safe"),
        ("[options]\nx = 3\n", "2:1: the options of `x` are a table, such as"),
        ("[[parts]]\npath = []\n", "2:1: a part of the configuration has no key `path`: did you"),
        ("[[parts]]\nlevels = {}\n", "1:1: a part of the configuration says which `paths`"),
        ("rules = [\n", "invalid TOML"),
    ],
)
def test_a_wrong_configuration_is_told_at_its_place(tmp_path: Path, text: str, told: str) -> None:
    with pytest.raises(ConfigError, match=re.escape(told)):
        settings(tmp_path, text)
    if not text.startswith("rules = ["):
        shared = "[project]\nname = 'x'\n[tool.yellow-trellis]\n" + text
        for word in ("levels", "unasked-of", "options", "parts"):
            shared = shared.replace(f"[{word}]", f"[tool.yellow-trellis.{word}]")
        (tmp_path / "trellis.toml").unlink()
        with pytest.raises(ConfigError, match=re.escape(told.split(": ", 1)[1])):
            settings(tmp_path, shared, "pyproject.toml")


def test_levels_and_parts_say_where_they_are_said(tmp_path: Path) -> None:
    read = settings(
        tmp_path,
        "[levels]\none = 'error'\n\n[[parts]]\npaths = ['tests/']\nlevels = { one = 'off' }\n\n"
        "[[parts]]\npaths = ['*_old.py']\nlevels = { one = 'note' }\n",
    )
    (tmp_path / "r.toml").write_text('[[rule]]\nname = "one"\nsummary = "s"\nfind = "f(@{x})"\n')
    parts = tuple((part.paths, part.said) for part in read.parts)
    spec = RulesSpec((str(tmp_path / "r.toml"),), (), read.said, parts, str(tmp_path))

    def governed(path: str) -> tuple[str, str]:
        rule = next(r for r in spec.rules(str(tmp_path / path)) if r.name == "one")
        return rule.level, rule.governed_by().removeprefix(f"{tmp_path / 'trellis.toml'}:")

    assert governed("a.py") == ("error", "2:1")
    assert governed("tests/a.py") == ("off", "6:12")
    assert governed("tests/a_old.py") == ("note", "10:12")
    assert next(iter(spec.ruleset())).level == "error"
    wrong = spec._replace(said=(Setting("on", "level", "off", place="t.toml:1:1"),))
    with pytest.raises(RuleError, match=r"t.toml:1:1: no rule is called `on`: did you mean `one`"):
        wrong.ruleset()


def test_every_key_is_in_the_reference_and_nothing_else() -> None:
    rows = re.findall(r"^\| `([\w-]+)` \| (.+?) \|", PAGE.read_text("utf-8"), re.MULTILINE)
    assert dict(rows[: len(KEYS)]) == KEYS
    assert dict(rows[len(KEYS) :]) == PART_KEYS
    for word in (*LEVELS, *FAILING, *UNASKED):
        assert f"`{word}`" in PAGE.read_text("utf-8")


def test_the_commands_follow_the_configuration(ytr, trams: Path) -> None:
    assert "make a configuration with `ytr init`" in " ".join(ytr("survey").err.split())
    assert "Wrote trellis.toml: 117 files in alder, parts and rules." in ytr("init").out
    assert "there is a configuration already" in ytr("init").err
    everything = ytr("survey", "--format", "json").json["summary"]
    assert (everything["findings"], everything["files"]) == (578, 102)
    text = (trams / "trellis.toml").read_text("utf-8")
    text = text.replace("skip = []", 'skip = ["alder/lines/"]').replace('warning"\n', 'never"\n')
    text += '[[parts]]\npaths = ["alder/tests/"]\nlevels = { absent-from = "off" }\n'
    text = text.replace('# say-what-is-caught = "error"', 'say-what-is-caught = "off"\nask-the-table = "error"')
    (trams / "trellis.toml").write_text(text)
    done = ytr("survey", "--format", "json")
    findings = done.json["findings"]
    assert done.status == 0 and findings
    assert "say-what-is-caught" not in {f["rule"] for f in findings}
    assert {f["level"] for f in findings if f["rule"] == "ask-the-table"} == {"error"}
    assert not any("lines" in f["path"] for f in findings)
    assert not any("tests" in f["path"] for f in findings if f["rule"] == "absent-from")
    assert any(f["rule"] == "absent-from" for f in findings)
    assert ytr("survey", "--only", "absent-from", "alder/tests").out.startswith("Nothing found")
    assert ytr("rules", "absent-from", "--why", "--in", "alder/tests/test_depot.py").out.startswith(
        "absent-from is off in alder/tests/test_depot.py: trellis.toml:"
    )
    assert "rules/b_plain_code.py:" in ytr("rules", "absent-from", "--why").out
    inside = ytr("survey", "--format", "json", "--workers", "2", where=trams / "alder").json
    assert len(inside["findings"]) == len(findings)
    assert "skipped, says trellis.toml" in ytr("survey", "--explain", "alder/lines/line_01.py").out


MISTAKE = re.compile(r"^\| `(?P<config>[^`]+)` \| `(?P<told>[\w.]+: ?.+)` \|$", re.MULTILINE)


def test_every_mistake_in_the_reference_is_told_so(ytr, trams: Path) -> None:
    rows = list(MISTAKE.finditer(PAGE.read_text("utf-8")))
    assert len(rows) == 19
    for row in rows:
        needed = "" if row["config"].startswith("rule") else 'rules = ["rules"]'
        (trams / "trellis.toml").write_text(f"{row['config']}\n{needed}\n")
        answer = ytr("survey", "--only", "say-what-is-caught", "alder/depot")
        assert answer.status == 2
        told = answer.err.strip().removeprefix("ytr: ").removeprefix(f"{trams}/")
        assert told.startswith(row["told"].removesuffix("...")), row["config"]


def configured(trams: Path, text: str) -> None:
    (trams / "trellis.toml").write_text('rules = ["rules"]\npaths = ["alder"]\n' + text)


def test_what_is_fixed_unasked_is_as_the_configuration_says(ytr, trams: Path) -> None:
    def fates(*words: str) -> dict[str, dict[str, str]]:
        told = ytr("preview", "--format", "json", *words).json["fates"]
        rules = {one["rule"] for one in told}
        states = {
            rule: {one["state"]: one["reason"] for one in told if one["rule"] == rule}
            for rule in rules
        }
        return {rule: its for rule, its in states.items() if rule in ("ask-the-table", "empty-by-itself")}

    only = ("--only", "ask-the-table", "--only", "empty-by-itself")
    configured(trams, "")
    usual = fates(*only)
    assert set(usual["ask-the-table"]) <= {"applied", "merged", "composed"}
    assert usual["empty-by-itself"] == {"left": "its fix asks for review"}
    configured(trams, 'unasked = "nothing"\n[unasked-of]\nempty-by-itself = "all"\n')
    turned = fates(*only)
    assert turned["ask-the-table"] == {"left": "its rule is to be applied only when asked"}
    assert "left" not in turned["empty-by-itself"]
    assert "left" not in fates("--with-review", *only)["ask-the-table"]
    told = ytr("rules", "ask-the-table", "--why").out
    assert "its fixes are applied only when asked: trellis.toml:3" in told


def test_what_a_survey_is_held_to(ytr, trams: Path) -> None:
    def survey(*words: str) -> tuple[int, str]:
        done = ytr("survey", "alder/reports", *words)
        return done.status, done.out.splitlines()[-1]

    configured(trams, "")
    assert survey()[0] == 1
    assert survey("--at-most", "14") == (
        0,
        "Passes: 14 findings at `warning` or above, 14 allowed.",
    )
    assert survey("--at-most", "13")[0] == 1
    assert survey("--fail-at", "error")[1] == "Fails: 1 finding at `error` or above."
    assert survey("--only", "absent-from", "--fail-at", "error")[0] == 0
    assert survey("--only", "absent-from", "--fail-at", "error", "--warnings-as-errors")[0] == 1
    passes = survey("--fixable-passes")
    assert passes == (0, "Passes: no finding at `warning` or above without a fix.")
    configured(trams, 'warnings-as-errors = true\nfail-at = "error"\nat-most = 2\n')
    done = ytr("survey", "--only", "absent-from", "--format", "json", "--why", "alder/reports").json
    (one,) = done["findings"]
    assert (one["level"], one["level_from"].endswith("trellis.toml:3:1")) == ("error", True)
    assert done["summary"]["passes"] and done["summary"]["failing"] == 1


def test_the_catalogue_is_filtered_and_written(ytr, trams: Path) -> None:
    configured(trams, '[levels]\nask-the-table = "off"\n[options.say-what-is-caught]\ncatch = "OSError"\n')

    def names(*words: str) -> list[str]:
        return [one["name"] for one in ytr("rules", "--format", "json", *words).json["rules"]]

    assert len(names()) == 16 and "ask-the-table" not in names()
    assert names("--level", "off") == ["ask-the-table"]
    assert names("--about", "None asks") == ["one-none"]
    assert names("--tag", "clock") == ["stamp-to-tick"]
    assert set(names("--level", "error", "--fixable")) == {"say-what-is-caught", "show-every-aspect"}
    assert names("--pack", "python-names") == []
    assert 'option catch = "OSError"' in ytr("rules", "say-what-is-caught").out
    assert "No rule matches these filters." in ytr("rules", "--about", "zeppelin").out
    assert "Wrote 17 pages" in ytr("rules", "--pages", "pages").out
    page = (trams / "pages/stamp-to-tick.md").read_text("utf-8")
    assert "## Changes" in page and "tick(zone=CITY)" in page and "## Leaves alone" in page
    index = (trams / "pages/index.md").read_text("utf-8")
    assert len(re.findall(r"^\| \[[\w-]+\]\(([\w-]+\.md)\)", index, re.MULTILINE)) == 16
    (trams / "bad.toml").write_text(
        '[[rule]]\nname = "bad"\nsummary = "s"\nfind = "f()"\nexamples = [{ code = "g()" }]\n'
    )
    refused = ytr("rules", "-r", "bad.toml", "--pages", "none")
    assert "examples of `bad` fail, and no page is written" in refused.err
    assert not (trams / "none").exists()
    assert ytr("rules", "--packs").out.startswith("python-names  code  yellow-trellis ")


def test_the_keys_of_rulesets_packs_and_options_are_in_their_reference() -> None:
    text = (PAGE.parent / "sharing.md").read_text("utf-8")
    for what, keys in (
        ("an option", OPTION_KEYS),
        ("a ruleset", RULESET_KEYS),
        ("a pack", CARD_KEYS),
    ):
        table = text.split(f"| key of {what} | must be | |\n")[1].split("\n\n")[0]
        assert dict(re.findall(r"^\| `([\w-]+)` \| (.+?) \|", table, re.MULTILINE)) == keys
