"""What authors of rules have for their tests: helpers, laws, the examples as tests of pytest."""

import re
from pathlib import Path

import pytest

from yellow_trellis import Example, Rule, RuleError, count, fix, load_rules, rule, taken
from yellow_trellis.authoring.example_coverage import untouched
from yellow_trellis.authoring.example_runner import prove_rule
from yellow_trellis.testing.authors import becomes, clashes_with, find, stays
from yellow_trellis.testing.authors import fix as fixed

pytest_plugins = ["pytester"]

HALT = Rule("halt", summary="A tram halts.", find="halt(@{tram})", put="@{tram}.halt()")
OTHER = Rule("stop", summary="A tram stops.", find="halt(@{tram})", put="stop(@{tram})")


def test_the_helpers_say_what_a_rule_does() -> None:
    code = """
        for tram in trams:
            halt(tram)  # slowly
    """
    assert [one.message for one in find(HALT, code)] == ["A tram halts."]
    assert fixed([HALT], code) == "for tram in trams:\n    tram.halt()  # slowly\n"
    assert fixed(HALT, "halt(a)", given="import a") == "a.halt()\n"
    becomes(HALT, code, "for tram in trams:\n    tram.halt()  # slowly")
    stays(HALT, "stop(tram)")
    (conflict,) = clashes_with(HALT, OTHER, "halt(a)")
    assert (conflict.kind, conflict.party.rule) == ("overlap", "halt")
    assert not clashes_with(HALT, OTHER, "x = 1")


def test_what_does_not_hold_is_told_with_what_differs() -> None:
    with pytest.raises(AssertionError, match="halt: the rule finds something in code that it"):
        stays(HALT, "halt(a)")
    with pytest.raises(AssertionError) as wrong:
        becomes(HALT, "x = 1\nhalt(a)", "x = 1\na.halt(now)")
    assert str(wrong.value).splitlines()[1:] == [
        "       x = 1",
        "wanted a.halt(now)",
        "got    a.halt()",
    ]
    with pytest.raises(RuleError, match="the code does not parse as python"):
        find(HALT, "halt(")


def check_of(text: str):
    """Return a function that puts `text` instead of the argument of a match."""

    def check(match, code):
        yield code.finding(match, None, [fix("put", drops_comments=True).replace(match.node, text)])

    return check


def test_a_rule_that_loses_a_comment_is_found_out() -> None:
    examples = [Example("f(\n    1,\n)", becomes="g(1)")]
    one = Rule("law", summary="s", find="f(@{x})", function=check_of("g(1)"), examples=examples)
    (verdict,) = prove_rule(one)
    assert verdict.reason == "a law is broken: a comment on line 1 of the example is lost"


def test_what_does_not_compile_is_no_fix() -> None:
    examples = [Example("f(1)", becomes="return 1")]
    one = Rule("law", summary="s", find="f(@{x})", function=check_of("return 1"), examples=examples)
    (verdict,) = prove_rule(one)
    assert "the code stays as it is: the new text does not compile ('return'" in verdict.reason


def test_what_no_example_touches_is_told() -> None:
    @rule(
        "gate",
        summary="s",
        find="gate(@{which})",
        where=[taken("which", kind="literal"), count("which", most=1)],
        examples=[Example("gate(3)"), Example("gate(x)", stays=True)],
    )
    def gate(match, code):
        if match["which"].text == "3":
            yield code.finding(match)
        else:
            yield code.finding(match, "other")

    line = gate.function.__code__.co_firstlineno + 11
    assert untouched(gate) == [
        "no example fails to meet: @{which}: 0 at least, 1 at most",
        f"no example runs line {line} of test_authors.py",
    ]
    assert untouched(HALT) == []


RULES = """
[[rule]]
name = "halt"
summary = "A tram halts."
find = "halt(@{tram})"
put = "@{tram}.halt()"
tags = ["trams"]
examples = [{ code = "halt(a)", becomes = "a.halt()" }, { code = "halt(a, b)", stays = true }]
"""


def test_pytest_runs_every_example(pytester: pytest.Pytester) -> None:
    pytester.makefile(".toml", **{"rules/trams": RULES, "trellis": 'rules = ["rules"]\n'})
    assert pytester.runpytest().parseoutcomes() == {}  # nobody asked for them
    run = pytester.runpytest("--trellis-examples", "-v")
    run.assert_outcomes(passed=2)
    run.stdout.fnmatch_lines(
        ["rules/trams.toml::halt?1-becomes? PASSED*", "*halt?2-stays? PASSED*"]
    )
    pytester.runpytest("--trellis-examples", "-k", "trams and 1").assert_outcomes(
        passed=1, deselected=1
    )
    pytester.makepyfile(test_own="def test_own(): pass")
    pytester.makeini("[pytest]\ntestpaths = test_own.py\ntrellis_examples = true\n")
    pytester.runpytest().assert_outcomes(passed=3)
    pytester.runpytest("test_own.py").assert_outcomes(passed=1)


def test_a_failing_example_shows_what_differs_and_no_traceback(pytester: pytest.Pytester) -> None:
    pytester.makefile(".toml", trams=RULES.replace("a.halt()", "a.halted()"))
    pytester.makeini("[pytest]\ntrellis_examples = true\ntrellis_rules = trams.toml\n")
    run = pytester.runpytest()
    run.assert_outcomes(passed=1, failed=1)
    run.stdout.fnmatch_lines(["halt: the code becomes something else", "wanted a.halted()"])
    assert "Traceback" not in run.stdout.str()


@pytest.mark.parametrize(
    ("config", "told"),
    [
        ("", "no rules are configured: set `trellis_rules`, or make trellis.toml"),
        ("trellis_rules = none.toml", "none.toml: there is no such rule file, folder or pack"),
    ],
)
def test_a_wrong_set_up_is_one_message(pytester: pytest.Pytester, config: str, told: str) -> None:
    pytester.makeini(f"[pytest]\ntrellis_examples = true\n{config}\n")
    (pytester.path / ".git").mkdir()  # no configuration above counts
    run = pytester.runpytest()
    assert run.ret == pytest.ExitCode.USAGE_ERROR
    assert told in run.stderr.str() and "Traceback" not in run.stderr.str()


def test_a_new_rule_comes_from_real_code(ytr, trams: Path) -> None:
    made = ytr("new", "not-less", "--at", "alder/depot/yard.py:19:16", "--put", "x >= 1")
    assert made.out.startswith("Wrote rules/not-less.toml.\nIts example holds.")
    (one,) = load_rules([trams / "rules/not-less.toml"])
    assert one.find == "not len(@{self}.cars) < @{self}.room"
    assert one.examples == (
        Example("return not len(self.cars) < self.room", becomes="return x >= 1"),
    )
    assert "the file is there already" in ytr("new", "not-less", "--find", "f()").err
    whole = ytr("new", "a-class", "--at", "alder/depot/yard.py:18", "--into", "r.toml")
    assert "Its example holds." in whole.out
    (one,) = load_rules([trams / "r.toml"])
    assert re.match(r"def @\{\w+\}\(.*\):\n    @\{body\*\}", one.find or "")


@pytest.mark.parametrize(
    ("call", "told"),
    [
        (("Not-Less", "--find", "f()"), "'Not-Less' is no name for a rule"),
        (("x",), "say what the rule finds, by --find PATTERN or --at FILE:LINE"),
        (("x", "--find", "@{"), "ytr: a hole needs a name"),
        (("x", "--find", "no_such_thing()", "alder"), "the pattern matches nothing in 98 files"),
        (("x", "--at", "alder"), "'alder' is no place: say FILE:LINE"),
        (("x", "--at", "alder/app.txt:1"), "no language is known for such files"),
        (("x", "--at", "alder/depot/yard.py:9999"), "yard.py:9999: the file has"),
        (("pack",), "say how the pack is called"),
        (("pack", "A"), "say how the pack is called"),
    ],
)
def test_a_wrong_call_writes_nothing(ytr, trams: Path, call: tuple[str, ...], told: str) -> None:
    answer = ytr("new", *call)
    assert answer.status == 2 and told in " ".join(answer.err.split())
    assert not (trams / "rules/x.toml").exists()


def test_every_place_of_a_file_gives_a_rule_that_holds(ytr, trams: Path) -> None:
    lines = (trams / "alder/depot/roster.py").read_text("utf-8").splitlines()
    tried = [n for n, line in enumerate(lines, 1) if line.strip() and line.strip()[0].isalpha()]
    for number in tried[::9]:
        made = ytr(
            "new", "one", "--at", f"alder/depot/roster.py:{number}", "--into", f"{number}.toml"
        )
        assert "Its example holds." in made.out, (number, made.out, made.err)


def test_a_new_pack_has_tests_that_pass(ytr, pytester: pytest.Pytester, monkeypatch) -> None:
    made = ytr("new", "pack", "alder-rules", where=pytester.path)
    assert made.out.startswith("Wrote alder-rules: a rule, a ruleset and tests.")
    assert "it is there already" in ytr("new", "pack", "alder-rules", where=pytester.path).err
    folder = pytester.path / "alder-rules"
    monkeypatch.chdir(folder)
    monkeypatch.syspath_prepend(str(folder / "src"))
    pytester.runpytest(f"--rootdir={folder}").assert_outcomes(passed=5)
