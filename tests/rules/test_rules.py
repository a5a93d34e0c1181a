"""Rules declared and in code, their files, their examples, and what a mistake in them says."""

from pathlib import Path

import pytest

from tests.conftest import DEMO, rules_of, tree_of
from yellow_trellis import Example, Rule, RuleError, Ruleset, fix, load_rules, rule
from yellow_trellis.authoring.example_runner import prove_rule
from yellow_trellis.plans import rework
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.run_options import RunOptions


def test_a_declared_rule_tells_what_its_holes_took() -> None:
    stamp = Rule(
        "stamp-to-tick",
        summary="stamp goes away",
        message="@{zone} is asked for by place",
        find="stamp(@{zone}, @{rest*: keyword_argument})",
        put="tick(zone=@{zone}, @{rest*})",
    )
    (found,) = stamp.compiled.look(tree_of("stamp(\n  HOME)"))
    assert (found.rule, found.message, found.holes) == (
        "stamp-to-tick",
        "HOME is asked for by place",
        [("zone", "HOME"), ("rest", "")],
    )


def test_a_rule_in_code_offers_fixes_to_choose_from() -> None:
    @rule("no-print", summary="Programs log.", find="print(@{what})")
    def no_print(match, code):
        assert code.contains(None, "import @{_}")
        yield code.finding(
            match.node_of("what"),
            "this is printed",
            [
                fix("Take it out", safety="review").remove(match.node.parent),
                fix("Log it").replace(match.node, "log(", match.node_of("what"), ")"),
            ],
        )

    tree = tree_of("import log\nprint(f(1))\n")
    (found,) = no_print.compiled.look(tree)
    assert [offer.safety for offer in found.fixes] == ["review", "safe"]
    ruleset = Ruleset.of([no_print])
    for with_review, wanted in ((False, b"import log\nlog(f(1))\n"), (True, b"import log\n")):
        done = rework(tree, lambda now: ruleset.look(now)[0], with_review=with_review)
        assert done.tree.source.data == wanted


@pytest.mark.parametrize(
    ("edit", "before", "after"),
    [
        (lambda n, f: f.before(n, "one()", order=1), "if a:\n    b\n", "if a:\n    one()\n    b\n"),
        (lambda n, f: f.after(n, "one()"), "if a:\n    b  # b\n", "if a:\n    b  # b\n    one()\n"),
        (lambda n, f: f.after(n, "one()"), "if a: b\n", "if a: b; one()\n"),
        (lambda n, f: f.replace(n, "try:\n    x\nfinally:\n    y"), "if a:\n  b\n", None),
        (lambda n, f: f.remove(n), "if a:\n    b\n", "if a:\n    pass\n"),
        (lambda n, f: f.remove(n), "if a:\n    b\n    c\n", "if a:\n    c\n"),
        (lambda n, f: f.remove(n), "if a:\n    b; c\n", "if a:\n    c\n"),
        (lambda n, f: f.wrap(n.core, "(", ")"), "if a:\n    b\n", "if a:\n    (b)\n"),
    ],
)
def test_builders_over_a_statement(edit, before: str, after: str | None) -> None:
    @rule("edit-it", summary="edit", find="if a: @{body+}")
    def edit_it(match, code):
        yield code.finding(match, fixes=[edit(match.run_of("body")[0], fix("Edit"))])

    tree = tree_of(before)
    findings = Ruleset.of([edit_it]).look(tree)[0]
    from yellow_trellis.plans import make_plan

    text = make_plan(tree, findings).render().data.decode()
    assert text == (after or "if a:\n  try:\n      x\n  finally:\n      y\n")


def test_swap_and_items_of_lists() -> None:
    @rule("swap-ends", summary="swap", find="f(@{first}, @{_*}, @{last})")
    def swap_ends(match, code):
        yield code.finding(
            match, fixes=[fix("Swap").swap(match.node_of("first"), match.node_of("last"))]
        )

    @rule("no-true", summary="no True", kinds=["true"])
    def no_true(node, code):
        yield code.finding(node, fixes=[fix("Take it out").remove(node)])

    from yellow_trellis.plans import make_plan

    tree = tree_of("f(1, True, 3); g(True); h(a, True)\n")
    findings = Ruleset.of([swap_ends, no_true]).look(tree)[0]
    assert make_plan(tree, findings).render().data == b"f(3, 1); g(); h(a)\n"


def test_a_rule_that_raises_costs_only_itself() -> None:
    @rule("fails", summary="fails", find="f(@{x})")
    def fails(match, code):
        raise RuntimeError("out of steam")
        yield

    good = Rule("good", summary="good", find="f(@{x})")
    findings, failures = Ruleset.of([fails, good]).look(tree_of("f(1)"))
    assert [found.rule for found in findings] == ["good"]
    assert failures[0].rule == "fails"
    assert "RuntimeError: out of steam (" in failures[0].reason


@pytest.mark.parametrize(
    ("more", "reason"),
    [
        ({"find": "f("}, "does not parse"),
        ({}, "it finds nothing"),
        ({"find": "f(1)", "kinds": ["call"]}, "both `find` and `kinds`"),
        ({"kinds": ["call"]}, "needs a function"),
        ({"find": "f(1)", "level": "fatal"}, "no level 'fatal'"),
        ({"find": "f(1)", "safety": "sure"}, "not 'sure'"),
        ({"find": "f(1)", "language": "cobol"}, "no language is called 'cobol'"),
        ({"kinds": ["cal"], "function": list}, "no kind or family `cal`"),
    ],
)
def test_a_wrong_rule_says_where_and_why(more: dict, reason: str) -> None:
    with pytest.raises(RuleError, match=reason) as wrong:
        Rule("wrong", summary="wrong", **more).prepare()
    assert "test_rules.py:" in str(wrong.value)


def test_names_are_unique_and_well_formed() -> None:
    with pytest.raises(RuleError, match="joined by hyphens"):
        Rule("Not_Good", summary="x", find="f(1)")
    twice = [Rule("same", summary="x", find="f(1)") for _ in range(2)]
    with pytest.raises(RuleError, match="has the name of another"):
        Ruleset.of(twice)
    with pytest.raises(RuleError, match="did you mean rule-1"):
        rules_of(("f(1)", None), ("g(1)", None)).only(["rule-11"])


def test_rule_files(tmp_path: Path) -> None:
    def write(name: str, text: str) -> Path:
        (tmp_path / name).write_text(text)
        return tmp_path / name

    good = "from yellow_trellis import Rule\nr = Rule('r', summary='r', find='f(1)')\n"
    first = write("a.py", good)
    write("b.py", good.replace("'r'", "'s'"))
    write("_helper.py", "raise SystemError\n")
    assert [one.name for one in load_rules([tmp_path])] == ["r", "s"]
    assert load_rules([first])[0].place == f"{first}:2"
    for name, text, reason in [
        ("c.py", "x = = 1\n", r"c.py:1: the rule file is no valid Python"),
        ("c.py", "\n\n1 / 0\n", r"c.py:3: .* ZeroDivisionError"),
        ("c.py", "x = 1\n", "defines no rule"),
        ("c.txt", "", r"`\*.py` and `\*.toml`"),
    ]:
        with pytest.raises(RuleError, match=reason):
            load_rules([write(name, text)])
    with pytest.raises(RuleError, match="no such rule file"):
        load_rules([tmp_path / "nowhere.py"])


def test_examples_are_proved() -> None:
    def verdict(example: Example, put: str | None = "g(@{x})") -> str:
        made = Rule("r", summary="r", find="f(@{x})", put=put, examples=[example])
        return prove_rule(made)[0].reason

    assert verdict(Example("f(1)", becomes="g(1)")) == ""
    assert verdict(Example("f(1)"), None) == ""
    assert verdict(Example("h(1)", stays=True)) == ""
    assert verdict(Example("y = f(1)", becomes="y = g(1)", given="import m")) == ""
    assert "something else" in verdict(Example("f(1)", becomes="g(2)"))
    assert "finds nothing" in verdict(Example("h(1)", becomes="g(1)"))
    assert "leave alone" in verdict(Example("f(1)", stays=True))
    assert "does not parse" in verdict(Example("f(", becomes="g("))
    with pytest.raises(RuleError, match="both stay and become"):
        Example("f(1)", becomes="g(1)", stays=True)


DEMO_RULES = load_rules([DEMO / "rules"])


@pytest.mark.parametrize("one", DEMO_RULES, ids=lambda one: one.name)
def test_the_examples_of_the_demo_hold(one: Rule) -> None:
    verdicts = prove_rule(one)
    assert verdicts
    assert [v.reason for v in verdicts if not v.passed] == []


def test_many_rules_find_together_what_each_finds_alone_in_every_round() -> None:
    pairs = [(f"f{at}(@{{x}})", f"f{at + 1}(@{{x}})") for at in range(17)]
    rules = rules_of(*pairs)
    code = "f0(1)\nf7(2)\nf14(f16(3))\n"
    found = rules.look(tree_of(code))[0]
    alone = [one for each in rules for one in Ruleset.of([each]).look(tree_of(code))[0]]
    assert sorted(f.span for f in found) == sorted(f.span for f in alone) and len(found) == 4
    report = process_file(code.encode(), "a.py", "python", rules_of(*reversed(pairs)), RunOptions(mode="rework"))
    assert report.change is not None and report.rounds > 1
    assert report.change.raw == b"f17(1)\nf17(2)\nf17(f17(3))\n"


@pytest.mark.parametrize(("wins", "ring"), [
    ({"a": ["a"]}, "a -> a"), ({"a": ["b"], "b": ["a"]}, "a -> b -> a"),
    ({"a": ["b"], "b": ["c"], "c": ["b"]}, "b -> c -> b"), ({"a": ["b", "c"], "b": ["c"]}, ""),
    ({"a": ["elsewhere"]}, ""),
])
def test_rules_that_win_over_each_other_in_a_ring_are_refused(wins: dict, ring: str) -> None:
    rules = [
        Rule(name, summary="s", find=f"{name}(@{{x}})", put="g(@{x})", wins_over=wins.get(name, ()))
        for name in "abc"
    ]
    if ring:
        with pytest.raises(RuleError, match=ring):
            Ruleset.of(rules)
    else:
        assert len(Ruleset.of(rules)) == 3
