"""Comments that leave a place alone, with their reasons."""

import pytest

from tests.conftest import rules_of, tree_of
from yellow_trellis import Ruleset, examine
from yellow_trellis.rules import doubts

RULES = rules_of(("f(@{x})", "g(@{x})"), ("@{a} == None", "@{a} is None"))


@pytest.mark.parametrize(
    ("code", "left"),
    [
        ("f(1)  # trellis: leave rule-0 -- the old gate\nf(2)\n", [1]),
        ("f(1)  # trellis: leave rule-1 -- not this\n", []),
        ("f(a == None)  # trellis: leave rule-1, rule-0\n", [1, 1]),
        ("# trellis: leave rule-0 -- below\nf(1)\nf(2)\n", [2]),
        (
            "# trellis: leave rule-0\n\n# more to say\n@dec\ndef d():\n    f(1)\n    f(2)\nf(3)\n",
            [6, 7],
        ),
        ("class A:\n    # trellis: leave rule-0\n    x = f(1)\n    y = f(2)\n", [3]),
        ("if a:\n    f(1)\n    # trellis: leave rule-0\nf(2)\n", [4]),
        ("f(1)\n# trellis: leave rule-0 in this file -- tables of the old press\nf(2)\n", [1, 3]),
        ("f(\n  1,  # trellis: leave rule-0\n)\n", []),
        ("x = '# trellis: leave rule-0'; f(1)\n", []),
        ("f(1)  #trellis:leave rule-0--why\n", [1]),
        ("f(1)\n# trellis: leave rule-0\n", []),
    ],
)
def test_what_a_comment_leaves(code: str, left: list[int]) -> None:
    found, _ = RULES.look(tree_of(code))
    lines = tree_of(code).source.lines
    assert [lines.number(f.span.start) for f in found if f.left] == left
    assert all(not f.fixes for f in found if f.left)


def test_the_states_add_up_and_the_reason_is_told() -> None:
    raw = b"f(f(1))  # trellis: leave rule-0 -- the old gate\nf(2)\n" * 3
    done = examine(raw, "a.py", "python", RULES, mode="rework")
    assert done.change is not None and done.change.raw == raw.replace(b"f(2)", b"g(2)")
    assert (len(done.findings), done.excused) == (3, 6)
    left = [fate for fate in done.fates if fate.state == "left"]
    assert {fate.reason for fate in left} == {
        f"the comment at {line}:10 leaves it: the old gate" for line in (1, 3, 5)
    }
    assert examine(raw, "a.py", "python", RULES).excused == 6


def test_other_languages_have_other_comments() -> None:
    rules = rules_of(("f(@{x})", None), language="javascript")
    code = b"f(1); // trellis: leave rule-0 -- why\nf(2); /* trellis: leave rule-0 */\nf(3);\n"
    assert examine(code, "a.js", "javascript", rules).excused == 2


def test_what_cannot_be_read_and_what_is_misspelled_is_told() -> None:
    code = (
        "# trellis: leav rule-0\nf(1)  # trellis: leave rul-0 -- x\n"
        "f(1)  # trellis: leave other\n# see trellis: the library\n"
    )
    assert doubts(tree_of(code), Ruleset.of(RULES).known) == [
        "1:1: write it as `trellis: leave RULE -- reason`: # trellis: leav rule-0",
        "2:7: no rule is called `rul-0`: did you mean `rule-0`?",
    ]
