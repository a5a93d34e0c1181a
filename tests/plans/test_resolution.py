"""Who wins, what is asked, what a fix causes, and what only shows by trying."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import reworked, text_of, tree_of
from yellow_trellis import Rule, Ruleset, RunOptions, fix, rule, run
from yellow_trellis.plans import rework
from yellow_trellis.plans.pairwise import trials
from yellow_trellis.runs.fix_selection import Answer, Question


def declared(name: str, find: str, put: str, **more) -> Rule:
    return Rule(name, summary=name, find=find, put=put, **more)


def after(code: str, *rules: Rule):
    ruleset = Ruleset.of(rules)
    return rework(
        tree_of(code),
        lambda tree: ruleset.look(tree)[0],
        with_review=True,
        prefer=ruleset.preferences(),
    )


FIRST = declared("first", "f(@{x})", "g(@{x})")
OTHER = declared("other", "f(@{x: name})", "h(@{x})")
PREFERRED = declared("other", "f(@{x: name})", "h(@{x})", wins_over=["first"])


def test_a_preference_turns_one_pair_and_no_other() -> None:
    assert text_of(after("f(a); f(1)\n", FIRST, OTHER)) == "g(a); g(1)\n"
    done = after("f(a); f(1)\n", FIRST, PREFERRED)
    assert text_of(done) == "h(a); g(1)\n"
    (conflict,) = done.conflicts
    assert (conflict.party.rule, conflict.other.rule) == ("other", "first")
    assert (conflict.party.wanted, conflict.other.wanted) == ("h(a)", "g(a)")
    third = declared("third", "f(a)", "i()", wins_over=["other"])
    assert text_of(after("f(a); f(1)\n", FIRST, PREFERRED, third)) == "i(); g(1)\n"


def test_preferences_in_a_ring_end_with_one_winner() -> None:
    ruleset = Ruleset.of(declared(name, "f(a)", f"{name}()") for name in "abc")
    ring = frozenset({("a", "b"), ("b", "c"), ("c", "a")})
    done = rework(tree_of("f(a)\n"), lambda tree: ruleset.look(tree)[0], prefer=ring)
    assert text_of(done) in ("a()\n", "b()\n", "c()\n")


def test_what_a_fix_causes_is_told_from_what_was_there() -> None:
    feed = declared("feed", "old(@{x})", "mid(@{x})")
    eat = declared("eat", "mid(@{x})", "new(@{x})")
    done = after("old(1)\nmid(2)\n", feed, eat)
    assert text_of(done) == "new(1)\nnew(2)\n"
    told = [(o.finding.rule, n, o.knock_on) for n, o in done.outcomes]
    assert told == [("feed", 1, False), ("eat", 1, False), ("eat", 2, True)]
    waiting = after("f(a)\n", FIRST, OTHER)
    assert not any(o.knock_on for _, o in waiting.outcomes)


TRIED = {
    "order matters": ("f(a)\n", [("one", "f(@{x})", "g(@{x})"), ("two", "f(a)", "h()")]),
    "feeds": ("old(1)\n", [("one", "old(@{x})", "mid(@{x})"), ("two", "mid(@{x})", "new(@{x})")]),
    "undoes": ("a(1)\n", [("one", "a(@{x})", "b(@{x})"), ("two", "b(@{x})", "a(@{x})")]),
    "unfinished": ("f(0)\n", [("one", "f(@{x})", "f((@{x}) + 1)"), ("two", "never()", "ever()")]),
    "": ("f(1); g(2)\n", [("one", "f(@{x})", "ff(@{x})"), ("two", "g(@{x})", "gg(@{x})")]),
}


@pytest.mark.parametrize("kind", TRIED)
def test_what_only_shows_by_trying(kind: str) -> None:
    code, pairs = TRIED[kind]
    ruleset = Ruleset.of(declared(*pair) for pair in pairs)

    def look(tree, name):
        return (ruleset if name is None else ruleset.only([name])).look(tree)[0]

    found = trials(tree_of(code), look)
    assert [t.kind for t in found] == ([kind] if kind else [])
    if kind:
        second = "one" if kind == "unfinished" else "two"
        assert (found[0].first, found[0].second, str(found[0].place)) == ("one", second, "1:1")


@rule("two-ways", summary="two ways", find="old(@{x})")
def two_ways(match, code):
    yield code.finding(match, fixes=[
        fix("One").replace(match.node, "one(", match["x"], ")"),
        fix("Two", safety="review").replace(match.node, "two(", match["x"], ")"),
    ])  # rows


def test_a_program_answers_for_each_finding(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("old(1)\nold(2)\nold(3)\n")
    (tmp_path / "b.py").write_text("old(old(4))\nold(5)\n")
    asked: list[Question] = []
    answers = iter(
        [
            Answer("take"),
            Answer("skip"),
            Answer("take", 1),
            Answer("rule", 1),
        ]
    )

    def ask(question: Question) -> Answer:
        asked.append(question)
        return next(answers)

    found = run([tmp_path], Ruleset.of([two_ways]), RunOptions(mode="rework"), ask=ask)
    texts = [report.change.raw.decode() for report in found.reports]
    assert texts == ["one(1)\nold(2)\ntwo(3)\n", "two(two(4))\ntwo(5)\n"]
    assert [str(q.place) for q in asked] == ["1:1", "2:1", "3:1", "1:1"]
    assert [c.title for c in asked[0].choices] == ["One", "Two"]
    assert (asked[0].choices[1].before, asked[0].choices[1].after) == (("old(1)",), ("two(1)",))
    fates = [(f.state, f.reason) for r in found.reports for f in r.fates]
    assert fates.count(("left", "it was skipped")) == 1


def test_quitting_keeps_what_was_chosen(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("old(1)\nold(2)\nold(3)\n")
    answers = iter([Answer("take"), Answer("quit")])
    found = run([tmp_path], Ruleset.of([two_ways]), RunOptions(mode="rework"), ask=lambda q: next(answers))
    assert found.reports[0].change.raw == b"one(1)\nold(2)\nold(3)\n"


PUT = ("@{x}.f()", "g(@{x})", "f[@{x}]", "@{x} + 1", "[g, @{x}]", "g(f, @{x})", "")


@pytest.mark.parametrize("first", PUT)
@pytest.mark.parametrize("other", PUT)
@pytest.mark.parametrize("code", ["f(a)", "f(f(a))", "use(f(a), h(f(b.c)))"])
def test_the_earlier_rule_wins_also_where_no_byte_is_written_twice(first, other, code) -> None:
    """A fix relies on tokens it keeps: `@{x}.f()` on the `f` that `g(@{x})` writes."""
    pairs = (("f(@{x})", first), ("f(@{x})", other))
    done, alone = reworked(code + "\n", *pairs), reworked(code + "\n", pairs[0])
    ours, theirs = (
        [o.state for n, o in done.outcomes if n == 1 and o.finding.rule == name]
        for name in ("rule-0", "rule-1")
    )
    assert ours == [o.state for n, o in alone.outcomes if n == 1]
    assert first == other or set(theirs) == {"deferred"}
    assert text_of(done) == text_of(alone)
