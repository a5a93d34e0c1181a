"""Comments that leave a place alone, with their reasons."""

import pytest
from msgspec.structs import replace

from tests.conftest import rules_of, tree_of
from yellow_trellis import Rule, Ruleset
from yellow_trellis.rules import UNNEEDED, doubts, leave_rule
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.run_options import RunOptions

RULES = rules_of(("f(@{x})", "g(@{x})"), ("@{a} == None", "@{a} is None"))


@pytest.mark.parametrize(
    ("code", "left"),
    [
        ("f(1)  # trellis: leave rule-0 because the old gate\nf(2)\n", [1]),
        ("f(1)  # trellis: leave rule-1 because not this\n", []),
        ("f(a == None)  # trellis: leave rule-1, rule-0\n", [1, 1]),
        ("# trellis: leave rule-0 because below\nf(1)\nf(2)\n", [2]),
        (
            "# trellis: leave rule-0\n\n# more to say\n@dec\ndef d():\n    f(1)\n    f(2)\nf(3)\n",
            [6, 7],
        ),
        ("class A:\n    # trellis: leave rule-0\n    x = f(1)\n    y = f(2)\n", [3]),
        ("if a:\n    f(1)\n    # trellis: leave rule-0\nf(2)\n", [4]),
        ("f(1)\n# trellis: leave rule-0 in this file because tables of the old press\nf(2)\n", [1, 3]),
        ("f(\n  1,  # trellis: leave rule-0\n)\n", []),
        ("x = '# trellis: leave rule-0'; f(1)\n", []),
        ("f(1)  #trellis:leave rule-0 because why\n", [1]),
        ("f(1)\n# trellis: leave rule-0\n", []),
    ],
)
def test_what_a_comment_leaves(code: str, left: list[int]) -> None:
    found, _ = RULES.look(tree_of(code))
    lines = tree_of(code).source.lines
    assert [lines.number(f.span.start) for f in found if f.left] == left
    assert all(not f.fixes for f in found if f.left)


def test_the_states_add_up_and_the_reason_is_told() -> None:
    raw = b"f(f(1))  # trellis: leave rule-0 because the old gate\nf(2)\n" * 3
    done = process_file(raw, "a.py", "python", RULES, RunOptions(mode="rework"))
    assert done.change is not None and done.change.raw == raw.replace(b"f(2)", b"g(2)")
    assert (len(done.findings), done.excused) == (3, 6)
    left = [fate for fate in done.fates if fate.state == "left"]
    assert {fate.reason for fate in left} == {
        f"the comment at {line}:10 leaves it: the old gate" for line in (1, 3, 5)
    }
    assert process_file(raw, "a.py", "python", RULES).excused == 6


def test_other_languages_have_other_comments() -> None:
    rules = rules_of(("f(@{x})", None), language="javascript")
    code = b"f(1); // trellis: leave rule-0 because why\nf(2); /* trellis: leave rule-0 */\nf(3);\n"
    assert process_file(code, "a.js", "javascript", rules).excused == 2


def test_what_cannot_be_read_and_what_is_misspelled_is_told() -> None:
    code = (
        "# trellis: leav rule-0\nf(1)  # trellis: leave rul-0 because x\n"
        "f(1)  # trellis: leave other\n# see trellis: the library\n"
    )
    assert doubts(tree_of(code), Ruleset.of(RULES).known) == [
        "1:1: write it as `trellis: leave RULE because reason`: # trellis: leav rule-0",
        "2:7: no rule is called `rul-0`: did you mean `rule-0`?",
    ]


def rework_with(code: str, **more: object) -> str:
    """Apply the rules, and the one about comments, to some code."""
    ruleset = replace(Ruleset.of([*RULES, leave_rule()]), **more)
    done = process_file(code.encode(), "a.py", "python", ruleset, RunOptions(mode="rework"))
    assert not done.conflicts and not done.problems
    return done.change.raw.decode() if done.change is not None else code


@pytest.mark.parametrize(
    ("code", "becomes"),
    [
        ("f(1)  # trellis: leave rule-0 because why\n", None),
        ("h(1)  # trellis: leave rule-0 because why\n", "h(1)\n"),
        ("h(1)  # slow  # trellis: leave rule-0\n", "h(1)  # slow\n"),
        ("f(1)  # trellis: leave rule-1, rule-0 because w\n", "f(1)  # trellis: leave rule-0 because w\n"),
        ("if a:\n    # trellis: leave rule-0 because why\n    h(1)\n", "if a:\n    h(1)\n"),
        ("h(1)\n# trellis: leave rule-0 in this file\n", "h(1)\n"),
        ("h(1)  # trellis: leave other-rule because another tool wants it\n", None),
        ("f(1)\nh(2)  # trellis: leave rule-0\n", "g(1)\nh(2)\n"),
        ("h(1)  # trellis: leave rule-0", "h(1)"),
    ],
)
def test_a_comment_that_nothing_needs_goes(code: str, becomes: str | None) -> None:
    assert rework_with(code) == (code if becomes is None else becomes)


def test_a_rule_that_failed_or_was_not_asked_needs_its_comments() -> None:
    def wild(match: object) -> bool:
        raise ValueError("wild")

    broken = Rule("rule-0", summary="s", find="h(@{x})", where=[wild])
    code = b"h(1)  # trellis: leave rule-0, rule-1\n"
    ruleset = Ruleset.of([broken, *RULES.only(["rule-1"]), leave_rule()])
    found = process_file(code, "a.py", "python", ruleset).findings
    assert [one.message for one in found] == ["`rule-1` finds nothing here"]
    assert not process_file(code, "a.py", "python", ruleset.only([UNNEEDED])).findings


def test_a_reason_may_be_required() -> None:
    code = "f(1)  # trellis: leave rule-0\nf(2)  # trellis: leave rule-0 because why\n"
    done = process_file(code.encode(), "a.py", "python", replace(RULES, reasons=True))
    assert (len(done.findings), done.excused) == (1, 1)
    told = ("1:7: it has no effect without a reason: add `because` and why",)
    assert done.doubts == told
    assert not process_file(code.encode(), "a.py", "python", RULES).doubts


@pytest.mark.parametrize(
    ("code", "becomes"),
    [
        ("f(1)\n", "f(1)  # trellis: leave rule-0 because why\n"),
        ("f(1)  # slow\n", "f(1)  # slow  # trellis: leave rule-0 because why\n"),
        ("f(a == None)\r\n", "f(a == None)  # trellis: leave rule-0, rule-1 because why\r\n"),
        (
            "f(1)  # trellis: leave rule-1 because why\n",
            "f(1)  # trellis: leave rule-1, rule-0 because why\n",
        ),
        (
            "def d():\n    x = f('''a\n    b''')\n",
            "def d():\n    # trellis: leave rule-0 because why\n    x = f('''a\n    b''')\n",
        ),
        (
            "a = 1; x = f(1) \\\n    + 2\n",
            "# trellis: leave rule-0 because why\na = 1; x = f(1) \\\n    + 2\n",
        ),
        ("x = [\n    f(1),\n]", "x = [\n    f(1),  # trellis: leave rule-0 because why\n]"),
        ("f(1)  # trellis: leave rule-0 because it is\n", None),
    ],
)
def test_comments_are_written_for_what_there_is(code: str, becomes: str | None) -> None:
    made = rework_with(code, leaving="why")
    assert made == (code if becomes is None else becomes)
    if "\\" not in code:  # a comment above speaks for the statement below it alone
        found = process_file(made.encode(), "a.py", "python", RULES)
        assert not found.findings and found.excused
