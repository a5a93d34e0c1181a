"""The verbs of fixes in code: comments, separators, indentation and blank lines stay right."""

from __future__ import annotations

import pytest

from tests.conftest import reworked, text_of, tree_of
from yellow_trellis import FixBuilder, Ruleset, fix, rule
from yellow_trellis.edits.lists import items_of
from yellow_trellis.plans import rework


def after(code: str, make, kinds=("module",), **more) -> str:
    """Apply the fix that `make(node, code)` builds for each node of `kinds`, once."""
    done_for: set[str] = set()

    @rule("r", summary="s", kinds=list(kinds), **more)
    def check(node, code):
        if node.text in done_for:
            return
        done_for.add(node.text)
        made = make(node, code)
        done_for.add("done")
        if made is not None:
            yield code.finding(node, fixes=[made])

    def once(tree):
        return [] if "done" in done_for else Ruleset.of([check]).look(tree)[0]

    done = rework(tree_of(code), once)
    assert not done.conflicts, done.conflicts
    return text_of(done)


def first(node, *kinds):
    """Return the first node of one of `kinds` below `node`."""
    return next(n for n in node.walk() if n.kind in kinds)


def all_of(node, *kinds):
    return [n for n in node.walk() if n.kind in kinds]


def f() -> FixBuilder:
    return fix("f")


DEF = "def f(a):\n    # start\n    one()  # 1\n    two()\n"
# Each: what it shows, the code, what is done to the module, the code after.
CASES = {
    "a pair without its last item is still a tuple": (
        "x = (a, b)\n", lambda m, c: f().remove(items_of(first(m, "tuple"))[1]), "x = (a,)\n",
    ),
    "a pair without its first item is still a tuple": (
        "x = (a, b)\n", lambda m, c: f().remove(items_of(first(m, "tuple"))[0]), "x = (b,)\n",
    ),
    "a list of two is one of one": (
        "x = [a, b]\n", lambda m, c: f().remove(items_of(first(m, "list"))[0]), "x = [b]\n",
    ),
    "first in a body, before its comments": (
        DEF, lambda m, c: f().first_in(first(m, "function_definition"), "new()"),
        "def f(a):\n    new()\n    # start\n    one()  # 1\n    two()\n",
    ),
    "first behind a docstring, one blank line": (
        'def f():\n    """Doc."""\n    one()\n',
        lambda m, c: f().first_in(first(m, "block"), "new()", blank_after=1),
        'def f():\n    """Doc."""\n    new()\n\n    one()\n',
    ),
    "a blank line that is there is not wished for twice": (
        'def f():\n    """Doc."""\n\n    one()\n',
        lambda m, c: f().first_in(first(m, "block"), "new()", blank_after=1),
        'def f():\n    """Doc."""\n    new()\n\n    one()\n',
    ),
    "first on one line": (
        "def f(): one()\n", lambda m, c: f().first_in(first(m, "function_definition"), "new()"),
        "def f(): new(); one()\n",
    ),
    "last in a body": (
        DEF, lambda m, c: f().last_in(first(m, "block"), "new()", blank_before=1),
        DEF + "\n    new()\n",
    ),
    "before a statement whose comment stands further out": (
        "def f():\n    one()\n##    two()\n    three()\n",
        lambda m, c: f().before(first(m, "block").items[1], "new()"),
        "def f():\n    one()\n    new()\n##    two()\n    three()\n",
    ),
    "last on one line, before its comment": (
        "class A: one()  # why\n", lambda m, c: f().last_in(m.items[0], "new()"),
        "class A: one(); new()  # why\n",
    ),
    "after one of two on a line, before their comment": (
        "one(); two()  # why\n", lambda m, c: f().after(m.items[1], "new()"),
        "one(); two(); new()  # why\n",
    ),
    "several lines, tabs": (
        "class A:\n\tdef f(self):\n\t\tone()\n",
        lambda m, c: f().last_in(first(m, "class_definition"), "def g(self):\n\tpass"),
        "class A:\n\tdef f(self):\n\t\tone()\n\tdef g(self):\n\t\tpass\n",
    ),
    "append to arguments": ("f(a, b)\n", lambda m, c: f().append_to(first(m, "argument_list"), "c=1"), "f(a, b, c=1)\n"),
    "append to none": ("f()\n", lambda m, c: f().append_to(first(m, "argument_list"), "c"), "f(c)\n"),
    "append behind a comma": ("x = [a, b,]\n", lambda m, c: f().append_to(first(m, "list"), "c"), "x = [a, b, c,]\n"),
    "append a line": (
        "f(\n    a,\n    b,  # last\n)\n", lambda m, c: f().append_to(first(m, "argument_list"), "c"),
        "f(\n    a,\n    b,  # last\n    c,\n)\n",
    ),
    "append a line without a last comma": (
        "f(\n    a,\n    b\n)\n", lambda m, c: f().append_to(first(m, "argument_list"), "c"),
        "f(\n    a,\n    b,\n    c\n)\n",
    ),
    "append to parameters, before what must stand last": (
        "def f(a, **k): pass\n", lambda m, c: f().append_to(first(m, "parameters"), "b"),
        "def f(a, b, **k): pass\n",
    ),
    "remove an item": ("f(a, b, c)\n", lambda m, c: f().remove(all_of(m, "identifier")[2]), "f(a, c)\n"),
    "remove a decorator": (
        "@one\n@two(3)\ndef f(): pass\n", lambda m, c: f().remove(first(m, "decorator")), "@two(3)\ndef f(): pass\n"
    ),
    "remove a parameter": ("def f(a, b=1): pass\n", lambda m, c: f().remove(first(m, "default_parameter")), "def f(a): pass\n"),
    "remove a branch": (
        "if a:\n    one()\nelif b:\n    two()\nelse:\n    three()\n",
        lambda m, c: f().remove(first(m, "elif_clause")),
        "if a:\n    one()\nelse:\n    three()\n",
    ),
    "remove the only statement": ("if a:\n    one()\n", lambda m, c: f().remove(first(m, "call")), "if a:\n    pass\n"),
    "swap with comments": (
        "f(\n    a,  # of a\n    b,\n    # of c\n    c,  # too\n)\n",
        lambda m, c: f().swap(*[items_of(first(m, "argument_list"))[i] for i in (0, 2)]),
        "f(\n    # of c\n    c,  # too\n    b,\n    a,  # of a\n)\n",
    ),
    "swap the ends of a list without a last comma": (
        "f(\n    a,  # of a\n    b  # of b\n)\n",
        lambda m, c: f().swap(*items_of(first(m, "argument_list"))),
        "f(\n    b,  # of b\n    a  # of a\n)\n",
    ),
    "sort items, each with its comments": (
        "x = [\n    # the third\n    'c',\n    'a',  # the first\n    'b',\n]\n",
        lambda m, c: f().sort(items_of(first(m, "list")), key=lambda n: n.text),
        "x = [\n    'a',  # the first\n    'b',\n    # the third\n    'c',\n]\n",
    ),
    "sort on one line": ("x = {b, c, a}\n", lambda m, c: f().sort(items_of(first(m, "set")), key=lambda n: n.text), "x = {a, b, c}\n"),
    "sort statements": (
        "b = 1\n# why a\na = 2  # yes\nc = 3\n",
        lambda m, c: f().sort(m.items, key=lambda n: n.text),
        "# why a\na = 2  # yes\nb = 1\nc = 3\n",
    ),
    "move a definition with what is its own": (
        "import os\n\n\n# of f\n@deco\ndef f():\n    pass\n\n\ndef g():\n    pass\n",
        lambda m, c: f().move(first(m, "function_definition"), after=m.items[-1]),
        "import os\n\n\ndef g():\n    pass\n\n\n# of f\n@deco\ndef f():\n    pass\n",
    ),
    "move a statement into a body, the other depth": (
        "x = g(\n    1)  # one\nif a:\n    two()\n",
        lambda m, c: f().move(m.items[0], before=first(m, "block").items[0]),
        "if a:\n    x = g(\n        1)  # one\n    two()\n",
    ),
    "unwrap a block": (
        "if True:  # always\n    # one\n    one('''\n  text''')\n\n    two()\nthree()\n",
        lambda m, c: fix("f", drops_comments=True).unwrap(m.items[0], *first(m, "block").items),
        "# one\none('''\n  text''')\n\ntwo()\nthree()\n",
    ),
    "unwrap an expression": (
        "x = list(sorted(y))\n", lambda m, c: f().unwrap(first(m, "call"), all_of(m, "call")[1]), "x = sorted(y)\n"
    ),
    "split": (
        "if a:\n    x = y = 1  # both\n",
        lambda m, c: f().split(first(m, "expression_statement"), "x = 1", ("y = ", first(m, "integer"))),
        "if a:\n    x = 1\n    y = 1  # both\n",
    ),
    "join": ("x = []\nx.append(1)\ny = x\n", lambda m, c: f().join(m.items[:2], "x = [", first(m, "integer"), "]"), "x = [1]\ny = x\n"),
    "over lines": (
        "if a:\n    f(a, b=1)\n", lambda m, c: f().over_lines(first(m, "argument_list")),
        "if a:\n    f(\n        a,\n        b=1,\n    )\n",
    ),
    "on one line": (
        "f(\n    a,\n    b=1,\n)\n", lambda m, c: f().on_one_line(first(m, "argument_list")), "f(a, b=1)\n"
    ),
    "a tuple of one keeps its comma": (
        "x = (\n    a,\n)\n", lambda m, c: f().on_one_line(first(m, "tuple")), "x = (a,)\n"
    ),
    "windows lines": (
        "def f():\r\n    one()\r\n", lambda m, c: f().last_in(m.items[0], "new()"), "def f():\r\n    one()\r\n    new()\r\n"
    ),
}  # rows


@pytest.mark.parametrize("case", CASES)
def test_a_verb_leaves_the_rest_as_it_is(case: str) -> None:
    code, make, wanted = CASES[case]
    assert after(code, make) == wanted


@pytest.mark.parametrize(
    ("make", "reason"),
    [
        (lambda m, c: f().append_to(m.items[0], "x"), "is no list in brackets"),
        (lambda m, c: f().first_in(m.items[0], "x"), "has no body"),
        (lambda m, c: f().over_lines(first(m, "list")), "a list in a string"),
    ],
)
def test_a_verb_that_cannot_be_done_makes_a_fix_that_says_why(make, reason: str) -> None:
    root = tree_of("x = f'{[1, 2]}'\n").root
    assert reason in make(root, None).made(root.span).fault


def test_a_move_asks_for_one_place() -> None:
    with pytest.raises(ValueError, match="`before` or `after`"):
        f().move(tree_of("x = 1\n").root.items[0])


@pytest.mark.parametrize("head", ['    """Doc."""\n', "", "    # first\n"])
def test_twelve_insertions_by_three_rules_land_in_order_in_one_round(head: str) -> None:
    code = f"def run(a):\n{head}    go(a)\n"
    rules = []
    for number in range(3):

        @rule(f"rule-{number}", summary="s", kinds=["function_definition"])
        def check(node, code, number=number):
            if "step_" in node.text:
                return
            for step in range(4):
                order = step * 3 + number
                made = fix(f"Step {order}").first_in(
                    node, f"step_{order:02}()", order=order, blank_after=1
                )
                yield code.finding(node, fixes=[made])

        rules.append(check)
    done = rework(tree_of(code), lambda tree: Ruleset.of(rules).look(tree)[0])
    lines = "".join(f"    step_{n:02}()\n" for n in range(12))
    doc, comment = (head, "") if '"' in head else ("", head)
    assert text_of(done) == f"def run(a):\n{doc}{lines}\n{comment}    go(a)\n"
    assert not done.conflicts and [len(r.rules) for r in done.rounds] == [3, 0]
    assert len(done.outcomes) == 12


def test_insertions_with_and_without_an_order_meet_at_the_start_of_a_body() -> None:
    code = "def f():\n    return 1\n"

    def make(module, _):
        body = first(module, "block")
        made = fix("f").first_in(body, "one()", order=1).before(body.items[0], "near()")
        return made.first_in(body, "two()", order=2)

    assert after(code, make) == "def f():\n    one()\n    two()\n    near()\n    return 1\n"


def test_arguments_swapped_over_eight_lines_keep_their_comments() -> None:
    code = "halt(\n" + "".join(f"    {n},  # of {n}\n" for n in "abcdef") + ")\n"
    got = after(
        code, lambda m, c: f().sort(items_of(first(m, "argument_list")), key=lambda n: -ord(n.text))
    )
    assert got == "halt(\n" + "".join(f"    {n},  # of {n}\n" for n in "fedcba") + ")\n"


# Each: the code, a pattern, a template that keeps a line end where none may be.
LINE_ENDS = {
    "throw": ("javascript", "{\n  fail(\n    a + 1);\n}\n", "fail(@{x});", "throw @{x};"),
    "++": ("javascript", "f(\n  x // c\n);\n", "f(@{x});", "@{x}++;"),
    "--": ("typescript", "f(\n  x // c\n);\n", "f(@{x});", "@{x}--;"),
    "=>": ("javascript", "y = f(a // c\n, b);\n", "f(@{x}, @{y})", "@{x} => @{y}"),
    "as": ("typescript", "y = f(a // c\n, b);\n", "f(@{x}, @{y})", "@{x} as T"),
    "satisfies": ("typescript", "y = f(a // c\n, b);\n", "f(@{x}, @{y})", "@{x} satisfies T"),
    "yield": ("javascript", "function* g() {\n  f(\n    a);\n}\n", "f(@{x});", "yield @{x};"),
    "return": ("javascript", "function g() {\n  f(\n    a);\n}\n", "f(@{x});", "return @{x};"),
}


@pytest.mark.parametrize("word", LINE_ENDS)
def test_no_line_ends_where_the_language_ends_a_statement(word: str) -> None:
    language, code, find, put = LINE_ENDS[word]
    new = text_of(reworked(code, (find, put), name=language))
    if new == code:
        return  # refused
    before, _, behind = new.partition(word)
    gap = behind.split("a")[0] if word in ("throw", "yield", "return") else before.split("x")[-1]
    assert word in new and "\n" not in gap, new
