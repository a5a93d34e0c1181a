"""Fixes compose or conflict: never in silence, never depending on the order they came in."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import dataclass

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import reworked, rules_of, text_of, tree_of
from yellow_trellis import Finding, Rule, Ruleset, Span
from yellow_trellis.edits import Edit, New, Slice
from yellow_trellis.fixes import Fix
from yellow_trellis.plans import make_plan, rework
from yellow_trellis.plans.proof.validation import prove


def finding(rank: int, extent: tuple[int, int], *edits: Edit, drops: bool = False) -> Finding:
    fix = Fix(f"fix {rank}", edits, Span(*extent), drops_comments=drops)
    return Finding(f"rule-{rank}", "warning", Span(*extent), "found", (fix,), rank)


def replace(rank: int, start: int, end: int, *pieces) -> Finding:
    made = tuple(New(p) if isinstance(p, str) else Slice(Span(*p)) for p in pieces)
    return finding(rank, (start, end), Edit(Span(start, end), made))


def composed(code: str, *findings: Finding) -> tuple[str, list[str], list[str]]:
    plan = make_plan(tree_of(code), list(findings))
    kinds = [conflict.kind for conflict in plan.conflicts]
    states = {o.finding.rule: o.state for o in plan.outcomes}
    return plan.render().data.decode(), kinds, [states[f.rule] for f in findings]


def test_neighbours_and_nested_fixes_compose() -> None:
    code = "outer(inner, other)"
    swap = finding(
        0,
        (0, 19),
        Edit(Span(6, 11), (Slice(Span(13, 18)),)),
        Edit(Span(13, 18), (Slice(Span(6, 11)),)),
    )
    inside = replace(1, 6, 11, "in_", (6, 11))
    rename = replace(2, 0, 5, "OUTER")
    text, kinds, states = composed(code, swap, inside, rename)
    assert (text, kinds) == ("OUTER(other, in_inner)", [])
    assert states == ["composed"] * 3


def test_a_duplicated_slice_carries_the_fix_inside_twice() -> None:
    text, kinds, _ = composed(
        "f(xy)", replace(0, 0, 5, (2, 4), " + ", (2, 4)), replace(1, 2, 4, "z")
    )
    assert (text, kinds) == ("z + z", [])


def test_identical_fixes_merge_with_credit_to_each() -> None:
    text, kinds, states = composed("abc", replace(0, 0, 3, "x"), replace(1, 0, 3, "x"))
    assert (text, kinds, states) == ("x", [], ["applied", "merged"])


@pytest.mark.parametrize(
    ("kind", "one", "other"),
    [
        ("overlap", replace(0, 0, 5, "x"), replace(1, 0, 5, "y")),
        ("overlap", replace(0, 0, 4, "x"), replace(1, 2, 6, "y")),
        ("lost work", replace(0, 0, 8), replace(1, 2, 4, "y")),
        ("lost work", replace(0, 2, 4, "y"), replace(1, 0, 8)),
        (
            "lost work",
            replace(0, 0, 8, "gone"),
            finding(1, (2, 4), Edit.after(Span(2, 4), New("!"))),
        ),
        (
            "tie",
            finding(0, (0, 4), Edit.after(Span(0, 4), New("x"))),
            finding(1, (0, 4), Edit.after(Span(0, 4), New("y"))),
        ),
        (
            "tie",
            finding(0, (0, 4), Edit.after(Span(0, 4), New("x"), order=1)),
            finding(1, (0, 4), Edit.after(Span(0, 4), New("y"), order=1)),
        ),
    ],
)
def test_each_conflict_has_its_name_and_both_parties(
    kind: str, one: Finding, other: Finding
) -> None:
    for findings in ([one, other], [other, one]):
        plan = make_plan(tree_of("abcdefgh"), findings)
        (conflict,) = plan.conflicts
        assert conflict.kind == kind
        assert (conflict.party.rule, conflict.other.rule) == ("rule-0", "rule-1")
        assert {o.finding.rule: o.state for o in plan.outcomes} == {
            "rule-0": "applied",
            "rule-1": "deferred",
        }


def test_insertions_at_one_point_stand_in_their_order() -> None:
    at = Span(0, 4)
    made = [
        finding(n, (0, 4), Edit.after(at, New(text), order=o))
        for n, text, o in (
            (0, "c", 3),
            (1, "a", 1),
            (2, "b", 2),
            (3, "b", 2),
        )
    ]
    text, kinds, _ = composed("head; tail", *made)
    assert (text, kinds) == ("headabc; tail", [])


def test_an_insertion_stands_beside_what_it_clings_to() -> None:
    code = "f(x)"
    after_x = finding(0, (2, 3), Edit.after(Span(2, 3), New("+1")))
    before_end = finding(1, (0, 4), Edit.before(Span(3, 4), New(", y")))
    around = finding(2, (0, 4), Edit.after(Span(0, 4), New(";")))
    assert composed(code, before_end, after_x, around)[0] == "f(x+1, y);"


def test_a_comment_in_replaced_code_refuses_the_fix() -> None:
    code = "f(a,  # why\n  b)"
    lost = replace(0, 0, 16, "g()")
    text, kinds, states = composed(code, lost)
    assert (text, kinds, states) == (code, ["comment loss"], ["refused"])
    kept = replace(0, 0, 16, "g(", (2, 15), ")")
    assert composed(code, kept)[0] == "g(a,  # why\n  b)"


def test_what_would_run_into_a_comment_is_refused() -> None:
    code = "f()  # why\ng()\n"
    behind = finding(0, (0, 10), Edit.after(Span(0, 10), New("; h()")))
    joined = finding(1, (11, 14), Edit(Span(10, 11), (New(" "),)))
    for one in (behind, joined):
        proven = prove(make_plan(tree_of(code), [one]))
        assert proven.tree.source.data.decode() == code
        assert [c.kind for c in proven.plan.conflicts] == ["comment loss"]


def test_broken_code_is_not_touched() -> None:
    code = "f(1)\nx = = f(2)\nf(3)\n"
    assert text_of(reworked(code, ("f(@{x})", "g(@{x})"))) == "g(1)\nx = = f(2)\ng(3)\n"


def test_the_earlier_rule_wins_and_the_other_is_looked_at_again() -> None:
    done = reworked("f(a, b)", ("f(@{x}, @{y})", "g(@{y}, @{x})"), ("f(@{x}, @{y})", "h(@{x})"))
    assert text_of(done) == "g(b, a)"
    (conflict,) = done.conflicts
    assert (conflict.party.rule, conflict.other.rule) == ("rule-0", "rule-1")
    assert [(n, o.finding.rule, o.state) for n, o in done.outcomes] == [
        (1, "rule-1", "deferred"),
        (1, "rule-0", "applied"),
    ]


def test_a_see_saw_is_named_and_the_rest_goes_on() -> None:
    done = reworked(
        "a(1); c(1)", ("a(@{x})", "b(@{x})"), ("b(@{x})", "a(@{x})"), ("c(@{x})", "d(@{x})")
    )
    assert text_of(done) == "a(1); d(1)"
    (conflict,) = done.conflicts
    assert conflict.kind == "see-saw"
    assert "rule-0 and rule-1" in conflict.reason


def test_a_rule_that_feeds_itself_is_stopped() -> None:
    done = reworked("w(1)", ("w(@{x})", "w(w(@{x}))"))
    assert text_of(done) == "w(1)"
    assert done.conflicts[0].kind == "see-saw"


def test_new_text_of_another_shape_is_taken_out_and_the_rest_goes_on() -> None:
    done = reworked("f(1); g(2)", ("f(@{x})", "if @{x}: pass"), ("g(@{x})", "h(@{x})"))
    assert text_of(done) == "f(1); h(2)"
    assert done.conflicts[0].kind in ("broken syntax", "wrong shape")
    assert "if 1: pass" in done.conflicts[0].reason


# ---------------------------------------------------------------- properties

SPACE = st.sampled_from(["", " ", "  ", "\n   ", " # note\n"])


@st.composite
def calls(draw: st.DrawFn, depth: int = 4) -> tuple[str, str]:
    """Return code of nested calls, and what swapping every `old` in it must give."""
    kind = draw(st.sampled_from(["name", "old", "old", "keep"])) if depth else "name"
    if kind == "name":
        name = draw(st.sampled_from(["a", "bb", "c.d", "(e)", "'f'"]))
        return name, name
    (one, one_new), (two, two_new) = draw(calls(depth - 1)), draw(calls(depth - 1))
    gap = draw(st.sampled_from(["", " ", "\n   "]))
    if kind == "keep":
        return f"keep({gap}{one}, {two})", f"keep({gap}{one_new}, {two_new})"
    return f"old({gap}{one}, {two})", f"new({gap}{two_new}, {one_new})"


@given(calls())
def test_composing_is_rendering_inside_out(pair: tuple[str, str]) -> None:
    code, wanted = pair
    done = reworked(f"x = ({code})", ("old(@{a}, @{b})", "new(@{b}, @{a})"))
    assert "".join(text_of(done).split()) == "".join(f"x = ({wanted})".split())
    assert len(done.rounds) == 1 + ("old" in code)


@st.composite
def random_findings(draw: st.DrawFn) -> tuple[str, list[Finding]]:
    """Return a line of names, and fixes over random spans of it with random kept slices."""
    code = "abcdefghijklmnopqrst"
    found = []
    for rank in range(draw(st.integers(1, 6))):
        start = draw(st.integers(0, 18))
        end = draw(st.integers(start + 1, 20))
        if draw(st.booleans()):
            anchor = Span(start, end)
            order = draw(st.sampled_from([None, 1, 2]))
            found.append(finding(rank, anchor, Edit.after(anchor, New(f"<{rank}>"), order=order)))
            continue
        pieces: list[object] = [f"[{rank}:"]
        if draw(st.booleans()):
            inner = draw(st.integers(start, end - 1))
            pieces.append((inner, draw(st.integers(inner + 1, end))))
        found.append(replace(rank, start, end, *pieces, "]"))
    return code, found


@given(random_findings(), st.integers(0, 99))
def test_the_order_of_findings_does_not_matter(made: tuple[str, list[Finding]], seed: int) -> None:
    code, findings = made
    text, kinds, states = composed(code, *findings)
    mixed = findings[:]
    random.Random(seed).shuffle(mixed)
    again, kinds_again, _ = composed(code, *mixed)
    assert (text, sorted(kinds)) == (again, sorted(kinds_again))
    assert all(state in ("applied", "composed", "merged", "deferred") for state in states)


@given(random_findings())
def test_bytes_outside_the_written_spans_never_change(made: tuple[str, list[Finding]]) -> None:
    """Taking the new text out again, what is left are bytes of the original in their order."""
    code, findings = made
    plan = make_plan(tree_of(code), findings)
    text = plan.render().data.decode()
    written = {at for c in plan.accepted for w in c.writes for at in range(w.start, w.end)} - {
        at for c in plan.accepted for held in c.moves for at in range(*held)
    }
    left = "".join(char for char in text if char.isalpha())
    assert left == "".join(char for at, char in enumerate(code) if at not in written)


@given(random_findings())
def test_a_reported_conflict_is_a_real_one(made: tuple[str, list[Finding]]) -> None:
    """A pair that conflicts shares a written byte, a point, or what an insertion clings to."""
    code, findings = made
    plan = make_plan(tree_of(code), findings)
    for conflict in plan.conflicts:
        one, other = conflict.party.span, conflict.other.span
        assert one.start <= other.end and other.start <= one.end


@dataclass
class Box:
    """A stretch of code in brackets, with boxes in it, and at most one fix that rewrites it."""

    start: int
    end: int
    inner: list[Box]
    parts: list[str | int] | None = None
    """What the fix puts: new text, or the number of a box inside, kept or moved there."""
    rank: int = -1

    def all(self) -> Iterator[Box]:
        yield self
        for box in self.inner:
            yield from box.all()


@st.composite
def boxes(draw: st.DrawFn) -> tuple[str, Box]:
    """Return code of nested brackets as a tree, and fixes on some of its boxes.

    A fix keeps, moves, swaps, repeats or drops what is inside, at any depth.
    """
    text: list[str] = []

    def box(depth: int) -> Box:
        start = len(text)
        text.append("(")
        inner = []
        for _ in range(draw(st.integers(0, 3)) if depth else 0):
            text.append(draw(st.sampled_from("abc")))
            inner.append(box(depth - 1))
            text.append("+")
        text.append(draw(st.sampled_from("xyz")))
        text.append(")")
        made = Box(start, len(text), inner)
        if draw(st.booleans()):
            numbers = st.sampled_from(range(len(inner))) if inner else st.nothing()
            made.parts = draw(st.lists(st.sampled_from(["<", ">", "-"]) | numbers, max_size=4))
            if not made.parts:
                made.parts = ["!"]
        return made

    root = box(3)
    ranks = iter(draw(st.permutations(range(40))))
    for each in root.all():
        each.rank = next(ranks)
    return "".join(text), root


def fixes_of(root: Box) -> dict[int, Finding]:
    """Return the findings of a tree of boxes by rank."""
    found = {}
    for box in root.all():
        if box.parts is None:
            continue
        pieces = [
            part if isinstance(part, str) else (box.inner[part].start, box.inner[part].end)
            for part in box.parts
        ]
        found[box.rank] = replace(box.rank, box.start, box.end, *pieces)
    return found


def inside_out(code: str, box: Box, ranks: set[int]) -> str:
    """Return what the fixes with these ranks make of a box, the innermost first."""
    inner = [inside_out(code, each, ranks) for each in box.inner]
    if box.parts is not None and box.rank in ranks:
        return "".join(p if isinstance(p, str) else inner[p] for p in box.parts)
    out, at = "", box.start
    for each, made in zip(box.inner, inner, strict=True):
        out += code[at : each.start] + made
        at = each.end
    return out + code[at : box.end]


def drops(root: Box, one: int, other: int) -> bool:
    """Return whether one of two fixes drops the code that the other is on."""
    boxes = {box.rank: box for box in root.all()}
    outer, inner = boxes[one], boxes[other]
    if inner.start <= outer.start and outer.end <= inner.end:
        outer, inner = inner, outer
    kept = [outer.inner[part] for part in outer.parts or () if isinstance(part, int)]
    held = any(box.start <= inner.start and inner.end <= box.end for box in kept)
    return outer.start <= inner.start and inner.end <= outer.end and not held


@given(boxes(), st.randoms())
def test_any_tree_of_fixes_is_rendered_inside_out(made: tuple[str, Box], dice) -> None:
    code, root = made
    found = fixes_of(root)
    mixed = list(found.values())
    dice.shuffle(mixed)
    plan = make_plan(tree_of(code), mixed)
    accepted = {c.finding.rank for c in plan.accepted}
    assert plan.render().data.decode() == inside_out(code, root, accepted)
    # any part of what composes gives what it gives alone
    part = {rank for rank in accepted if dice.random() < 0.5}
    again = make_plan(tree_of(code), [found[rank] for rank in part])
    assert not again.conflicts
    assert again.render().data.decode() == inside_out(code, root, part)


@given(boxes())
def test_a_conflict_is_told_exactly_where_one_fix_drops_what_another_edits(made) -> None:
    code, root = made
    found = fixes_of(root)
    plan = make_plan(tree_of(code), list(found.values()))
    accepted = {c.finding.rank for c in plan.accepted}
    assert not any(drops(root, a, b) for a in accepted for b in accepted if a != b)
    for outcome in plan.outcomes:
        if outcome.state == "deferred":
            rank = outcome.finding.rank
            winner = int(outcome.by.removeprefix("rule-"))
            assert winner in accepted and winner < rank and drops(root, winner, rank)
    assert {o.state for o in plan.outcomes} <= {"applied", "composed", "deferred"}
    assert len(plan.outcomes) == len(found)


def test_ruleset_order_decides_whatever_the_ranks_of_findings_look_like() -> None:
    ruleset = rules_of(("f(@{x})", "g(@{x})"), ("f(@{x})", "h(@{x})"))
    tree = tree_of("f(1); f(2)")
    findings, failures = ruleset.look(tree)
    assert not failures
    assert make_plan(tree, findings[::-1]).render().data == b"g(1); g(2)"


ONCE = [
    ("f(@{a}, @{b})", "f(@{b}, @{a})", "x = f(1, 2)\ny = f(1, f(2, g(3)))\n",
     "x = f(2, 1)\ny = f(f(g(3), 2), 1)\n"),
    ("g(@{a})", "w(g(@{a}))", "g(1)\ng(g(2))\n", "w(g(1))\nw(g(w(g(2))))\n"),
    ("open_door(@{t})", "ring(@{t})\nopen_door(@{t})", "open_door(1)\nif a:\n    open_door(2)\n",
     "ring(1)\nopen_door(1)\nif a:\n    ring(2)\n    open_door(2)\n"),
    ("@{a} == @{b}", "@{b} == @{a}", "x = a == 1\n", "x = 1 == a\n"),
]


@pytest.mark.parametrize(("find", "put", "code", "result"), ONCE)
def test_a_rule_that_says_once_leaves_its_own_results_alone(
    find: str, put: str, code: str, result: str
) -> None:
    tree = tree_of(code)
    for once in (True, False):
        rules = Ruleset((Rule("again", summary="x", find=find, put=put, once=once),))
        done = rework(tree, lambda now, rules=rules: rules.look(now)[0])
        assert text_of(done) == (result if once else code)
        assert [conflict.kind for conflict in done.conflicts] == ([] if once else ["see-saw"])
        if not once:
            assert "again finds what it has written itself" in done.conflicts[0].reason
            assert "`once = true`" in done.conflicts[0].reason


def test_a_fix_of_a_rule_that_says_once_is_not_lost_beside_others() -> None:
    rules = Ruleset((
        Rule("swap", summary="x", find="f(@{a}, @{b})", put="f(@{b}, @{a})", once=True),
        Rule("drop", summary="x", find="f(h(@{a}), @{b})", put="f(@{a}, @{b})", wins_over=("swap",)),
        Rule("call", summary="x", find="k(@{a})", put="f(@{a}, 0)"),
    ))
    done = rework(tree_of("f(h(7), 2)\nf(3, 4)\nk(5)\n"), lambda now: rules.look(now)[0])
    assert text_of(done) == "f(2, 7)\nf(4, 3)\nf(5, 0)\n"
