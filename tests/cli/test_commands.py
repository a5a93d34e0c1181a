"""The real command, on the demo and on mistakes."""

import json
import os
import shutil
import subprocess
import sys
import unicodedata
from pathlib import Path

import pytest

from yellow_trellis import __version__

RULES = ("--rules", "rules")


def bytes_of(folder: Path) -> dict[str, bytes]:
    """Return what the user's files hold; what the library keeps for itself is not among them."""
    files = (p for p in folder.rglob("*") if p.is_file() and ".yellow-trellis" not in p.parts)
    return {str(p): p.read_bytes() for p in files}


def test_version_and_help(ytr) -> None:
    assert ytr("--version").out == f"ytr {__version__}\n"
    text = ytr("--help").out
    commands = [
        "tree",
        "seek",
        "why",
        "survey",
        "preview",
        "clashes",
        "apply",
        "undo",
        "rules",
        "prove",
        "demo",
    ]
    for name in commands:
        assert f"\n  {name} " in text
        told = ytr(name, "--help")
        assert told.status == 0
        assert f"Example: ytr {name}" in " ".join(told.out.split())


def test_version_imports_no_parser(ytr) -> None:
    import sys

    code = (
        "import sys; sys.argv = ['ytr', '--version']; from yellow_trellis.cli import main; main();"
        "print(sorted({'argparse', 'rich', 'tree_sitter'} & set(sys.modules)))"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.splitlines()[1] == "[]"


def test_tree(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.js").write_text("f(1) // note\n")
    assert "call_expression" in ytr("tree", "a.js").out
    assert "comment  1:6-1:13  // note" in ytr("tree", "a.js").out
    told = ytr("tree", "--code", "x = stamp(HOME)", "--at", "1:11").out
    assert told == "identifier  1:11-1:15  HOME\n"
    assert ytr("tree", given=b"if a:\n  b\n").out.startswith("module  1:1-3:1\n  if_statement")
    assert "does not parse" in ytr("tree", "--code", "x = = 1").err
    read = ytr("tree", "--code", "a", "--format", "json").json
    assert (read["version"], read["tree"]["kind"]) == (1, "module")


def test_seek_shows_holes_and_tries_a_template(ytr, trams: Path) -> None:
    told = ytr("seek", "stamp(@{zone}, @{rest+})", "alder/depot").out
    assert "alder/depot/roster.py:55:20" in told and "self.end = stamp(DEPOT, exact=True)" in told
    assert "@{rest}  exact=True" in told
    before = bytes_of(trams)
    tried = ytr("seek", "less(@{a}, @{b})", "--put", "cut(@{b}, @{a})", "alder/reports").out
    assert "-    return less(less(less(" in tried
    assert '+    return cut(COSTS["power"], cut(COSTS["cleaning"], cut(COSTS["paper"], ' in tried
    assert bytes_of(trams) == before
    read = ytr("seek", "halt(@{tram})", "alder/depot", "--format", "json").json
    assert read["matches"][0]["holes"] == {"tram": "self.car"}
    assert ytr("seek", "nowhere(1)", "alder").out.startswith("No match in ")
    assert "98 files" in ytr("seek", "nowhere(1)", where=trams / "alder").out
    counted = ytr("seek", "fetchBoard(@{_*})", "--language", "javascript", "--count", "alder").out
    assert "board.js" in counted


def test_why(ytr, trams: Path) -> None:
    told = ytr("why", "stamp(@{zone})", "alder/depot/roster.py:55")
    assert told.status == 1
    assert "code     stamp(DEPOT, exact=True)  alder/depot/roster.py:55:20" in told.out
    assert "They part at 55:33: the call has the keyword argument `exact=True`" in told.out
    fits = ytr("why", "stamp-to-tick", "alder/depot/roster.py:55", *RULES)
    assert (fits.status, fits.out.splitlines()[-1]) == (0, "They fit.")
    (trams / "sick.toml").write_text(
        '[[rule]]\nname = "r"\nsummary = "r"\nfind = "halt(@{x})"\n'
        'where = [{ within = "class A: @{_*}" }, { hole = "x", kind = "call" }]\n'
    )
    unmet = ytr("why", "r", "alder/depot/roster.py:54", "--rules", "sick.toml").out
    assert "the rule asks for more, which is not met" in unmet
    assert "  within class A: @{_*}\n  @{x}: kind call\n" in unmet
    read = ytr("why", "halt(1)", "alder/depot/roster.py:54", "--format", "json").json
    assert (read["matches"], read["at"]) == (False, {"line": 54, "column": 18})
    for words, message in [
        (("f(1)", "alder/depot/roster.py"), "write FILE:LINE"),
        (("f(1)", "alder/depot/roster.py:2"), "no code on line 2"),
        (("f(1)", "nowhere.py:1"), "nowhere.py: there is no such file"),
        (("say-what-is-caught", "alder/depot/roster.py:1", *RULES), "has no pattern"),
        (("board-by-promise", "alder/depot/roster.py:1", *RULES), "is for javascript"),
    ]:
        wrong = ytr("why", *words)
        assert (wrong.status, message in " ".join(wrong.err.split())) == (2, True)


def test_survey_text_and_json(ytr, trams: Path) -> None:
    told = ytr("survey", *RULES, "alder")
    assert told.status == 1
    assert "say-what-is-caught  error  " in told.out
    assert "places, " in told.out
    assert "more places: --all shows them" in told.out
    read = ytr("survey", *RULES, "--format", "json", "alder").json
    assert read["version"] == 1
    assert read["summary"]["findings"] == len(read["findings"]) > 500
    first = read["findings"][0]
    assert set(first) == {"rule", "level", "path", "start", "end", "message", "fixes"}
    assert read["problems"] == []
    assert any(f["rule"] == "board-by-promise" for f in read["findings"])


def test_exit_status_follows_the_level(ytr, trams: Path) -> None:
    only = (*RULES, "--only", "no-table-import", "alder")
    assert ytr("survey", *only).status == 0
    assert ytr("survey", *only, "--fail-at", "note").status == 1
    assert ytr("survey", *RULES, "alder", "--fail-at", "never").status == 0


def test_preview_writes_nothing_and_its_patch_applies(ytr, trams: Path) -> None:
    before = bytes_of(trams)
    told = ytr("preview", *RULES, "alder").out
    assert "one-none  " in told
    assert "Nothing is written yet" in told
    patch = ytr("preview", *RULES, "--format", "patch", "alder").raw
    assert bytes_of(trams) == before
    if shutil.which("git") is None:
        pytest.skip("needs git to apply a patch")
    subprocess.run(["git", "init", "-q"], cwd=trams, check=True)
    call = ["git", "-c", "core.autocrlf=false", "apply", "--whitespace=nowarn", "-"]
    subprocess.run(call, cwd=trams, input=patch, check=True)
    patched = {k: v for k, v in bytes_of(trams).items() if "/.git/" not in k}
    for name, data in before.items():
        Path(name).write_bytes(data)
    assert "have uncommitted changes" in ytr("apply", *RULES, "alder").err
    assert bytes_of(trams / "alder").items() <= before.items()
    ytr("apply", *RULES, "alder", "--uncommitted")
    assert {k: v for k, v in bytes_of(trams / "alder").items()} == {
        k: v for k, v in patched.items() if k.startswith(str(trams / "alder"))
    }


def test_apply_twice_then_undo(ytr, trams: Path) -> None:
    before = bytes_of(trams / "alder")
    first = ytr("apply", *RULES, "alder", "--format", "json")
    assert first.status == 0
    summary = first.json["summary"]
    states = ("applied", "composed", "merged", "deferred", "refused", "left")
    assert summary["findings"] == sum(summary.get(state, 0) for state in states)
    for file in (trams / "alder").rglob("*.py"):
        compile(file.read_bytes(), str(file), "exec")
    assert ytr("apply", *RULES, "alder", "--format", "json").json["files"] == []
    told = ytr("undo")
    assert (told.status, "restored.\n" in told.out) == (0, True)
    assert bytes_of(trams / "alder") == before
    assert (ytr("undo").status, ytr("undo").out) == (2, "")


CLASH = ("--only", "name-the-fare", "--only", "fare-by-card")


def test_clashes_name_both_rules_and_both_places(ytr, trams: Path) -> None:
    told = ytr("clashes", *RULES, *CLASH, "alder/fares/quotes.py").out
    assert "first   name-the-fare  at 20:39  fare(zones, card)" in told
    assert "waits   fare-by-card   20:37 to 20:43  fare(zones, card)" in told
    read = ytr("clashes", *RULES, *CLASH, "alder", "--format", "json").json
    parties = {tuple(p["rule"] for p in c["parties"]) for c in read["conflicts"]}
    assert ("name-the-fare", "fare-by-card") in parties
    assert ytr("clashes", *RULES, *CLASH, "alder", "--strict").status == 1
    assert ytr("clashes", *RULES, "--only", "absent-from", "alder", "--strict").status == 0


def test_strict_apply_writes_nothing(ytr, trams: Path) -> None:
    before = bytes_of(trams / "alder")
    strict = ytr("apply", *RULES, *CLASH, "alder", "--strict")
    assert strict.status == 1
    assert "first   name-the-fare" in strict.out
    assert "waits   fare-by-card" in strict.out
    assert bytes_of(trams / "alder") == before
    told = ytr("apply", *RULES, *CLASH, "alder").out
    assert "the earlier rule went first" in told
    assert "first   name-the-fare  at 36:59  fare(zones, card)" in told
    assert "waits   fare-by-card   36:57 to 36:63" in told
    ytr("undo")
    loose = ytr("apply", *RULES, *CLASH, "alder", "--format", "json").json
    fates = {(f["rule"], f["state"]) for f in loose["fates"]}
    assert {("name-the-fare", "applied"), ("fare-by-card", "deferred")} <= fates
    text = (trams / "alder/fares/quotes.py").read_text("utf-8")
    assert "fare(zone=zones, card=card)" in text


def test_rules_and_prove(ytr, trams: Path) -> None:
    assert "stamp-to-tick" in ytr("rules", *RULES).out
    told = ytr("rules", "less-to-reduce", *RULES).out
    assert "less(less(cost, wear), grant)" in told
    assert ytr("rules", *RULES, "--format", "json").json["rules"][0]["name"] == "stamp-to-tick"
    assert ytr("prove", *RULES).out.splitlines()[-1] == "All 46 examples held."
    (trams / "bad.py").write_text(
        "from yellow_trellis import Example, Rule\n"
        "r = Rule('r', summary='r', find='f(1)', put='g(1)',\n"
        "         examples=[Example('f(1)', becomes='g(2)')])\n"
    )
    failed = ytr("prove", "--rules", "bad.py")
    assert failed.status == 1
    assert "wanted g(2)" in failed.out
    assert "got    g(1)" in failed.out
    (trams / "ring.toml").write_text(
        '[[rule]]\nname = "r"\nsummary = "s"\nfind = "f"\nwins_over = ["bell"]\n'
    )
    unknown = ytr("prove", "--rules", "ring.toml")
    assert "r wins over bell, and no rule here is called that" in unknown.out
    asked = ytr("prove", "--rules", "ring.toml", "--format", "json").json
    assert asked["rules"][0]["unknown_losers"] == ["bell"]


def test_the_demo_shows_it_all(ytr, tmp_path: Path) -> None:
    told = ytr("demo", "trams")
    assert told.status == 0, told.err
    for step in ("survey", "clashes", "preview", "apply"):
        assert f"$ ytr {step} " in told.out
    assert (tmp_path / "trams/alder/house/clock.py").exists()
    assert "Wrote " in told.out
    assert len(told.out.splitlines()) < 150
    assert "this folder exists already" in ytr("demo", "trams").err


def test_each_rule_for_a_part_of_the_demo_has_something_to_do(ytr, trams: Path) -> None:
    done = ytr("preview", "--rules", "parts/rules", "--with-review", "--format", "json", "parts")
    rules = {item["name"] for item in ytr("rules", "--rules", "parts/rules", "--format", "json").json["rules"]}
    applied = {item["rule"] for item in done.json["fates"] if item["state"] == "applied"}
    assert applied == rules


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (("survey", "alder"), "no rules are named"),
        (("survey", "--rules", "nowhere.py"), "nowhere.py: there is no such rule file"),
        (("survey", *RULES, "nowhere"), "nowhere: there is no such file or folder"),
        (("survey", *RULES, "--only", "stamp-to-tik"), "did you mean stamp-to-tick"),
        (("seek", "f("), "the pattern is not valid python code"),
        (("seek", "f(@{x})", "--put", "g(@{y})"), "the hole `y`, which the pattern does not have"),
        (("tree", "nowhere.py"), "nowhere.py: there is no such file"),
        (("tree", "README.md"), "in no language that is read here"),
        (("tree", "--code", "a", "--at", "9"), "there is no line 9"),
        (("rules", "nothing", *RULES), "no rule is called 'nothing'"),
        (("survey", "--rules", "broken.py"), "broken.py:2: the rule file is no valid Python"),
        (("survey", "--rules", "hole.py"), "hole.py:2: the rule 'r' cannot be used"),
        (("survye",), "there is no command survye: did you mean `survey`?"),
    ],
)
def test_a_mistake_gets_one_clear_message(ytr, trams: Path, words, message: str) -> None:
    (trams / "broken.py").write_text("\nx = = 1\n")
    (trams / "hole.py").write_text(
        "from yellow_trellis import Rule\nr = Rule('r', summary='r', find='f(1)', put='g(@{x})')\n"
    )
    told = ytr(*words)
    assert told.status == 2
    assert message in " ".join(told.err.split())
    assert told.out == ""


def test_problems_end_in_status_3_and_the_rest_goes_on(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("f(1)\n")
    (tmp_path / "b.py").write_bytes(b"# coding: nonsense\nf(1)\n")
    (tmp_path / "r.py").write_text(
        "from yellow_trellis import Rule, rule\n"
        "good = Rule('good', summary='g', find='f(@{x})', put='g(@{x})')\n"
        "@rule('bad', summary='b', find='f(@{x})')\n"
        "def bad(match, code):\n    raise KeyError(match.text)\n"
    )
    told = ytr("apply", "--rules", "r.py", "a.py", "b.py")
    assert told.status == 3
    assert "b.py: the file declares the encoding 'nonsense'" in told.err
    assert "a.py: the rule bad failed: KeyError" in told.err
    assert (tmp_path / "a.py").read_text("utf-8") == "g(1)\n"


def test_control_characters_are_made_visible(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.py").write_bytes(b"f('\x1b[31mred')\n")
    told = ytr("seek", "f(@{x})", "a.py")
    assert "\x1b" not in told.out
    assert "␛[31mred" in told.out
    assert json.loads(ytr("seek", "f(@{x})", "a.py", "--format", "json").out)


def test_names_by_meaning_from_the_command_line(ytr, trams: Path) -> None:
    told = ytr("seek", "@<alder.house.say.say>(@{level}, @{_*})", "alder/depot/roster.py").out
    assert '67:13  tell("info", "%s has not rested", driver.name)' in told
    why = ytr("why", "@<alder.house.clock.stamp>()", "alder/depot/workshop.py:55").out
    assert "the code has `say`, which is `alder.house.say.say`" in why


def test_the_code_still_works_after_all_rules(ytr, trams: Path) -> None:
    call = [sys.executable, "-B", "-m", "unittest", "discover", "-s", "alder/tests", "-t", "."]
    assert ytr("apply", *RULES, "alder").status == 0
    done = subprocess.run(call, cwd=trams, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def test_a_rename_that_cannot_be_is_told_once_and_changes_nothing(ytr, trams: Path) -> None:
    (trams / "r.toml").write_text(
        '[[rule]]\nname = "r"\nsummary = "s"\nrename = "alder.fares.quotes.fare"\nto = "price"\n'
    )
    with (trams / "alder/fares/quotes.py").open("a") as file:
        file.write("\n\nprice = fare\n")
    before = bytes_of(trams)
    told = ytr("apply", "--rules", "r.toml", "alder").out
    assert "and 18 more places  r: in no file, because of alder/fares/quotes.py:" in told
    assert "`price` is taken: it is bound at" in told
    assert bytes_of(trams) == before
    clashes = ytr("clashes", "--rules", "r.toml", "alder", "--strict")
    assert clashes.status == 1 and clashes.out.count("name clash  ") == 1


AWAKE = """[[rule]]
name = "r"
summary = "s"
rename = "alder.vehicles.base.Tram.awake"
to = "up"
"""


def test_what_may_be_renamed_is_shown_and_stops_it(ytr, trams: Path) -> None:
    (trams / "r.toml").write_text(AWAKE)
    before = bytes_of(trams)
    told = ytr("apply", "--rules", "r.toml", "alder").out
    assert "8 places for a person to look at:" in told and told.count("if not car.awake:") == 4
    assert "--with-review" in told and bytes_of(trams) == before
    told = ytr("apply", "--rules", "r.toml", "--with-review", "alder").out
    assert "1 applied, 8 left" in told
    assert "self.up" in (trams / "alder/vehicles/base.py").read_text("utf-8")


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("# coding: klingon\nfrom alder.house.clock import größe\n", "encoding 'klingon', which"),
        (unicodedata.normalize("NFD", "from alder.house.clock import größe\n"), "at 1:31 is 'gr"),
    ],
)
def test_a_file_that_cannot_be_read_as_python_reads_it_stops_a_rename(
    ytr, trams: Path, text: str, why: str
) -> None:
    (trams / "r.toml").write_text(
        '[[rule]]\nname = "r"\nsummary = "s"\nrename = "alder.house.clock.größe"\nto = "länge"\n'
    )
    with (trams / "alder/house/clock.py").open("a", encoding="utf-8") as clock:
        clock.write("\n\ndef größe():\n    return 1\n")
    (trams / "alder/more.py").write_text(text, "utf-8")
    before = bytes_of(trams)
    told = ytr("apply", "--rules", "r.toml", "alder").out
    assert "alder/more.py may use it and could not be looked at: " in told and why in told
    assert bytes_of(trams) == before


@pytest.mark.parametrize(
    ("file", "why"),
    [
        ("alder/out/more.py", "version control ignores it"),
        ("tools/rest.py", "it lies in none of the paths"),
        ("bin/start", "it lies in none of the paths"),
        ("alder/made.py", "it is skipped, generated or too large"),
    ],
)
def test_a_use_in_a_file_that_is_not_looked_at_stops_a_rename(
    ytr, trams: Path, file: str, why: str
) -> None:
    (trams / "r.toml").write_text(
        '[[rule]]\nname = "r"\nsummary = "s"\n'
        'rename = "alder.house.clock.is_service_day"\nto = "runs_on"\n'
    )
    (trams / "alder/.gitignore").write_text("out/\n")
    (trams / file).parent.mkdir(exist_ok=True)
    mark = "# generated, do not edit" if "made" in file else "#"
    (trams / file).write_text(
        f"#!/usr/bin/env python\n{mark}\n"
        "from alder.house.clock import is_service_day\nis_service_day(1)\n"
    )
    before = bytes_of(trams)
    told = ytr("apply", "--rules", "r.toml", "alder").out
    assert f"{file}:" in told and "uses it and is not looked at" in told and why in told
    assert bytes_of(trams) == before
    told = ytr("apply", "--rules", "r.toml", "--only-here", "alder").out
    assert "2 applied" in told


def test_what_is_not_there_cannot_be_renamed(ytr, trams: Path) -> None:
    for name, told in (
        ("alder.house.clock.is_servce_day", "did you mean `is_service_day`?"),
        ("alder.house.clock", "is a module: rename its file"),
        ("json.loads", "is not of this code base"),
    ):
        text = f'[[rule]]\nname = "r"\nsummary = "s"\nrename = "{name}"\nto = "runs_on"\n'
        (trams / "r.toml").write_text(text)
        done = ytr("preview", "--rules", "r.toml", "alder")
        assert done.status == 2 and told in done.err


def test_a_shipped_pack_is_named_like_a_file(ytr, trams: Path) -> None:
    assert "All 26 examples held." in ytr("prove", "--rules", "python-names").out
    assert (
        "did you mean the pack `python-names`?"
        in ytr("survey", "--rules", "python-nams", "alder").err
    )


def test_what_is_known_of_modules_is_kept_and_follows_changes(ytr, trams: Path) -> None:
    find = ("seek", "@<elsewhere.say>(@{_*})", "alder/depot/stores.py")
    assert "1 match" not in ytr(*find).out
    assert (trams / ".yellow-trellis/known.sqlite").is_file()
    (trams / "alder/house/say.py").write_text("from elsewhere import say\n")
    assert "1 match in 1 of 1 file" in ytr(*find).out
    (trams / ".yellow-trellis/known.sqlite").write_bytes(b"no store at all" * 100)
    assert "1 match in 1 of 1 file" in ytr(*find).out


def test_fixes_are_chosen_one_by_one(ytr, trams: Path) -> None:
    call = ("apply", *RULES, "--only", "say-what-is-caught", "--ask", "alder")
    told = ytr(*call, given=b"2\nmore\nskip\nwhat\nquit\n").out
    assert "+         except BaseException:" in told and "  2  Catch everything, and say so" in told
    assert "say one of" in told and "Wrote 1 file" in told
    assert ytr("undo").status == 0
    assert "Nothing to apply" in ytr(*call).out  # no answer at all is `quit`


def test_clashes_shows_pairs_ways_out_and_what_shows_by_trying(ytr, trams: Path) -> None:
    told = ytr("clashes", *RULES, "alder").out
    assert "name-the-fare    [4]    .   12" in told
    assert "wanted  fare(zone=zones, card=card)" in told and "wanted  card.fare(zones)" in told
    assert 'give it wins_over=["absent-from"]' in told
    names = ("name-the-fare", "fare-by-card", "ask-the-table", "absent-from")
    few = ("clashes", *RULES, "alder", "--try", *(word for name in names for word in ("--only", name)))
    told = ytr(*few).out
    assert "feeds          ask-the-table and absent-from" in told
    assert "order matters  name-the-fare and fare-by-card" in told
    read = ytr(*few, "--format", "json").json
    assert {"first": "name-the-fare", "other": "fare-by-card", "conflicts": 12} in read["pairs"]
    assert {t["kind"] for t in read["trials"]} == {"feeds", "order matters"}


def test_a_picture_of_the_conflicts(ytr, trams: Path) -> None:
    pytest.importorskip("matplotlib")
    assert ytr("clashes", *RULES, "alder", "--picture", "c.png").status == 0
    assert (trams / "c.png").read_bytes().startswith(b"\x89PNG")
    wrong = ytr("clashes", *RULES, "alder", "--picture", "c.unknown")
    assert wrong.status == 2 and "c.unknown: a picture is one of .png" in wrong.err


def test_a_survey_explains_itself(ytr, trams: Path) -> None:
    told = ytr("survey", *RULES, "alder", "--timings", "--no-cache").out
    assert "in the workers together:" in told and "slowest files:" in told
    (trams / "alder/.gitignore").write_text("*_old.py\n")
    (trams / "alder/depot_old.py").write_text("x = 1\n")
    explain = ("survey", *RULES, "alder", "--explain")
    told = ytr(*explain, "alder/depot_old.py").out
    assert "is not looked at: version control ignores it" in told and ".gitignore:1: *_old" in told
    told = ytr(*explain, "alder/house/clock.py").out
    assert "is looked at, as python" in told and "ask-the-table  no: there is no `has_key`" in told
    assert "there is no such file" in ytr(*explain, "alder/nowhere.py").err
    assert "since when" in ytr("survey", *RULES, "--changed-lines").err


def test_paths_from_standard_input(ytr, trams: Path) -> None:
    names = b"alder/house/clock.py\nREADME.md\nalder/house/table.py\n"
    told = ytr("survey", *RULES, "--names-from", "-", "--format", "json", given=names).json
    assert told["summary"]["files"] == 2
    assert "say for instance 800k" in ytr("survey", *RULES, "alder", "--largest", "big").err


def test_the_cache_is_shown_filled_and_cleared(ytr, trams: Path) -> None:
    assert ytr("cache").out == "Nothing is kept of `.`.\n"
    ytr("survey", *RULES, "alder")
    assert "reports of files in these runs" in ytr("cache").out
    assert ytr("cache", "--index").out.startswith("Indexed 117 files")
    assert ytr("cache", "--index").out == "The index is up to date.\n"
    assert ytr("cache", "--format", "json").json["words"] == 117
    assert ytr("cache", "--clear").out == "Cleared.\n"
    assert ytr("cache", "--format", "json").json["bytes"] == 0


def test_one_commit_for_each_rule(ytr, trams: Path) -> None:
    if shutil.which("git") is None:
        pytest.skip("needs git")
    for words in (
        ("init", "-q"),
        ("config", "user.name", "Ann"),
        ("config", "user.email", "ann@alder.example"),
        ("add", "."),
        ("commit", "-qm", "one"),
    ):
        subprocess.run(["git", *words], cwd=trams, check=True)
    only = ("--only", "say-what-is-caught", "--only", "ask-the-table")
    told = ytr("apply", *RULES, *only, "alder", "--commit").out
    assert "Made 2 commits." in told
    log = subprocess.run(
        ["git", "log", "--format=%s"], cwd=trams, check=True, capture_output=True
    ).stdout.decode()
    assert log.splitlines() == [
        "An except clause names what it catches",
        "Tables are asked with `in`",
        "one",
    ]
    assert "Nothing to apply." in ytr("apply", *RULES, *only, "alder", "--commit").out
    runs = ytr("undo", "--list", "--format", "json").json["runs"]
    assert [run["rules"] for run in runs] == [["say-what-is-caught"], ["ask-the-table"]]
    told = ytr("undo", "--rule", "say-what-is-caught", where=trams / "alder").out
    assert "(say-what-is-caught): 15 files restored." in told and "Commits are as they were" in told
    (trams / "alder/house/clock.py").write_text("x = stamp(1)\n")
    assert "uncommitted changes" in ytr("apply", *RULES, "alder").err


def test_names_and_code_with_bytes_that_are_not_utf8(ytr, tmp_path: Path) -> None:
    """They go through every command, and come back as they were."""
    rule = '[[rule]]\nname = "r"\nsummary = "s"\nmessage = "@{x}"\n'
    (tmp_path / "r.toml").write_text(rule + 'find = "f(@{x})"\nput = "g(@{x})"\n')
    folder = os.fsencode(tmp_path / "code")
    os.mkdir(folder)
    try:
        for name in (b"tram\xe9.py", b"tram.py"):
            Path(os.fsdecode(folder + b"/" + name)).write_bytes(b"f('caf\xe9')\n")
    except OSError:
        pytest.skip("the file system takes no such name")
    before = bytes_of(tmp_path)
    rules = ("-r", "r.toml", "code")
    for words in ((), (), ("--no-cache",), ("--workers", "2"), ("--record",)):
        shown = ytr("survey", *rules, *words).out
        assert "code/tram\\xe9.py:1:1" in shown and "2 findings" in shown, words
        assert "\n  'caf\\xe9'\n" in shown
    found = ytr("survey", *rules, "--format", "json").json["findings"]
    assert {os.fsencode(one["path"]) for one in found} == {b"code/tram\xe9.py", b"code/tram.py"}
    assert "code  " in ytr("report").out
    assert "Accepted 2 findings" in ytr("baseline", *rules).out
    assert "Nothing new" in ytr("survey", *rules, "--baseline", "trellis-baseline.json").out
    ytr("cache", "--index")
    assert "2 matches in 2 of 2 files" in ytr("seek", "f(@{x})", "code").out
    assert "code/tram\\xe9.py" in ytr("preview", *rules).out
    assert "Wrote 2 files" in ytr("apply", *rules).out
    assert "one is in code: `ytr undo code`" in ytr("undo").err
    assert "restored tram\\xe9.py" in ytr("undo", "code").out
    assert before.items() <= bytes_of(tmp_path).items()
