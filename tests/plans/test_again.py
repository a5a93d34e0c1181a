"""Rounds look again only at what has changed, and tell the same as if they looked at all of it."""

from collections import Counter

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.conftest import tree_of
from yellow_trellis import Rule, Ruleset, within
from yellow_trellis.plans.incremental import changed
from yellow_trellis.plans.outcome import Outcome
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.scan import local_rules

RULES = Ruleset.of(
    [
        Rule("f-to-g", summary="s", find="f(@{x})", put="g(@{x})"),
        Rule("g-to-h", summary="s", find="g(@{x})", put="h(@{x})"),
        Rule("h-alone", summary="s", find="h(h(@{x}))"),
        Rule("k-drops", summary="s", find="k(@{x}, @{y})", put="k(@{x})"),
        Rule("in-class", summary="s", find="a", put="b", where=[within("class @{_}: @{_*}")]),
        Rule("for-review", summary="s", find="r(@{x})", put="s(@{x})", safety="review"),
    ]
)
LINES = (
    *(
        "f(a)",
        "g(f(a))",
        "h(g(a))",
        "h(h(a))",
        "k(f(a), b)",
        "k(a,  # why\n  b)",
        "r(a)",
        "r(f(a))",
    ),
    *("x = a", "pass", "k(g(f(b)), f(a))", "r(f(a))"),
)


def whole(ruleset: Ruleset) -> Ruleset:
    """Return the same rules, each looking at all of a file."""
    return replace(ruleset, rules=tuple(_looking_far(one) for one in ruleset))


def _looking_far(one: Rule) -> Rule:
    return replace(one, where=(*one.where, lambda match: True))


def told(code: str, ruleset: Ruleset) -> tuple[object, ...]:
    done = process_file(code.encode(), "a.py", "python", ruleset, RunOptions(mode="rework"))
    fates = Counter((one.rule, one.state, one.reason) for one in done.fates)
    kinds = Counter((one.kind, one.party.rule, one.party.code) for one in done.conflicts)
    return done.change and done.change.raw, fates, kinds


blocks = st.lists(st.sampled_from(LINES), min_size=1, max_size=3)


@given(st.lists(st.tuples(st.sampled_from(["", "def d():", "class C:"]), blocks), max_size=6))
def test_what_is_carried_over_is_what_would_be_found_again(parts) -> None:
    code = ""
    for head, lines in parts:
        indent = "    " if head else ""
        body = "\n".join(lines).replace("\n", f"\n{indent}")
        code += f"{head}\n{indent}{body}\n" if head else f"{body}\n"
    language = tree_of("").language
    assert len(local_rules(RULES, language)) == len(RULES)
    assert not local_rules(whole(RULES), language)
    assert told(code, RULES) == told(code, whole(RULES))


def test_only_what_changed_or_was_put_off_is_looked_at() -> None:
    before = tree_of("f(1)\n\ndef d():\n    return r(2)\n\ng(3)\ng(3)\nr(4)\n")
    after = tree_of("g(1)\n\ndef d():\n    return r(2)\n\ng(3)\ng(3)\ng(3)\nr(4)\n")
    findings = RULES.look(before)[0]
    states = {"f-to-g": "applied", "g-to-h": "left", "for-review": "left"}
    outcomes = [Outcome(one, states[one.rule], before.source) for one in findings]
    outcomes[-1].state = "deferred"
    local = frozenset(["f-to-g", "g-to-h", "for-review"])
    new = changed(1, before, outcomes, [], {}, after, local)
    texts = [after.source.text(span).strip() for span in new.within["g-to-h"]]
    # the first is new, so is the third `g(3)`, and the last was put off
    assert texts == ["g(1)", "g(3)", "r(4)"]
    carried = [one for parts in new.carried.values() for part in parts for one in part.outcomes]
    assert Counter(one.finding.rule for _, one in carried) == {"g-to-h": 2, "for-review": 1}
