"""A template changes only what differs: tokens, space, comments and depth stay."""

import pytest

from tests.conftest import reworked, text_of

CASES = {
    "rename and swap, nested, in one go": (
        ("old(@{a}, @{b})", "new(@{b}, @{a})"),
        "old(old(1, 2), old(3, 4))",
        "new(new(4, 3), new(2, 1))",
    ),
    "comments stay beside their arguments": (
        ("old(@{a}, @{b})", "new(@{b}, @{a})"),
        "old(\n    one,  # the first\n    # about two\n    two,  # the second\n)",
        "new(\n    # about two\n    two,  # the second\n    one,  # the first\n)",
    ),
    "a comment that moves to the end gets its own line end": (
        ("old(@{a}, @{b})", "new(@{b}, @{a})"),
        "x = old(a,  # a\n        b)",
        "x = new(b,\n        a  # a\n)",
    ),
    "a last comma and line breaks stay": (
        ("f(@{a}, True)", "f(@{a})"),
        "f(\n    1,\n    True,\n)",
        "f(\n    1,\n)",
    ),
    "an item joins a list of one item a line": (
        ("f(@{a})", "g(@{a}, k=1)"),
        "f(\n    1,\n)",
        "g(\n    1,\n    k=1,\n)",
    ),
    "nothing left, nothing dangling": (("f(@{x})", "g()"), "f(\n    1,\n)", "g()"),
    "an empty hole takes its comma along": (
        ("f(@{a}, @{r*})", "g(x=@{a}, @{r*})"),
        "f(1); f(1, b=2)",
        "g(x=1); g(x=1, b=2)",
    ),
    "holes for none before others": (
        ("f(@{r*}, last)", "g(@{r*}, last, 1)"),
        "f(last); f(0, last)",
        "g(last, 1); g(0, last, 1)",
    ),
    "brackets where they are needed": (
        ("len(@{x}) == 0", "not @{x}"),
        "ok = len(a or b) == 0 and (len(c) == 0) + 1",
        "ok = not (a or b) and (not c) + 1",
    ),
    "brackets around what a stronger place takes": (
        ("halt(@{t})", "@{t}.halt()"),
        "halt(a or b); halt(a.b); halt(f(1)); halt(-a)",
        "(a or b).halt(); a.b.halt(); f(1).halt(); (-a).halt()",
    ),
    "brackets around what the code around holds": (
        ("both(@{a}, @{b})", "@{a} and @{b}"),
        "x = not both(a, b)\ny = both(a, b) + 1\nz = both(a, b)",
        "x = not (a and b)\ny = (a and b) + 1\nz = a and b",
    ),
    "brackets instead of those that made line breaks free": (
        ("foo(@{x})", "@{x}"),
        "z = foo(a\n        + b)",
        "z = (a\n        + b)",
    ),
    "line breaks go with their brackets": (
        ("equal(@{a}, @{b})", "assert @{a} == @{b}"),
        "equal(\n    x,\n    y)",
        "assert x == y",
    ),
    "other spellings stay as they are": (
        ("f('a', @{x})", "g('a', @{x})"),
        'f("a", 1)',
        'g("a", 1)',
    ),
    "branches change places with their comments": (
        (
            "if not @{c}:\n    @{a+}\nelse:\n    @{b+}",
            "if @{c}:\n    @{b+}\nelse:\n    @{a+}",
        ),
        "if not x:\n    one()  # 1\n\n    two()\nelse:\n    # three\n    three()",
        "if x:\n    # three\n    three()\nelse:\n    one()  # 1\n\n    two()",
    ),
    "deeper code is indented, its texts are not": (
        ("a()\n@{w+}\nb()", "with c:\n    @{w+}"),
        "def f():\n  a()\n  # why\n  x = '''1\n  2'''\n  if y:\n    z()\n  b()",
        "def f():\n  with c:\n    # why\n    x = '''1\n  2'''\n    if y:\n      z()",
    ),
    "one statement becomes two": (
        ("x = foo(@{a})", "y = bar(@{a})\nz = baz(@{a})"),
        "if q:\n\tx = foo(1)\n",
        "if q:\n\ty = bar(1)\n\tz = baz(1)\n",
    ),
    "a statement goes, a body is never empty": (
        ("log(@{_*})", ""),
        "log(1)\nif a:\n    log(2)\nif b:\n    log(3)\n    c\n",
        "if a:\n    pass\nif b:\n    c\n",
    ),
    "line endings are the file's": (
        ("x = foo(@{a})", "y = bar(@{a})\nz = baz(@{a})"),
        "if q:\r\n    x = foo(1)\r\n",
        "if q:\r\n    y = bar(1)\r\n    z = baz(1)\r\n",
    ),
}


@pytest.mark.parametrize(("rule", "before", "after"), CASES.values(), ids=CASES)
def test_fill(rule: tuple[str, str], before: str, after: str) -> None:
    done = reworked(before, rule)
    assert text_of(done) == after
    assert not done.conflicts


def test_one_round_is_enough_for_nested_fixes() -> None:
    done = reworked("old(old(old(1, 2), 3), old(4, 5))", ("old(@{a}, @{b})", "new(@{b}, @{a})"))
    assert text_of(done) == "new(new(5, 4), new(3, new(2, 1)))"
    assert [bool(turn.rules) for turn in done.rounds] == [True, False]


@pytest.mark.parametrize(
    ("rule", "code"),
    [
        (("f(@{a}, True)", "f(@{a})"), "f(\n    1,\n    True,  # the word of the day\n)"),
        (("foo(@{a})", "@{a}"), "x = foo(  # why\n    a)"),
        (("log(@{_*})", ""), "# said once\nlog(1)\nx = 1\n"),
    ],
)
def test_a_comment_without_a_place_refuses_the_fix(rule: tuple[str, str], code: str) -> None:
    done = reworked(code, rule)
    assert text_of(done) == code
    assert [c.kind for c in done.conflicts] == ["comment loss"]
    assert text_of(reworked(code, rule, drops_comments=True)) != code


@pytest.mark.parametrize(
    ("find", "put", "reason"),
    [
        ("f(@{a})", "g(@{b})", "the hole `b`, which the pattern does not have"),
        ("f(@{a*})", "g(@{a})", "another number of nodes"),
        ("f(@{_})", "g(@{_})", "nothing is remembered"),
        ("f(@{a})", "g(@{a}", "does not parse"),
    ],
)
def test_a_wrong_template_is_refused_with_its_rule(find: str, put: str, reason: str) -> None:
    with pytest.raises(ValueError, match=reason) as wrong:
        reworked("x", (find, put))
    assert "rule-0" in str(wrong.value)


PARTS = {
    "argument": (("zone=@{z}", "area=@{z}"), "f(1, zone = a or b)", "f(1, area = a or b)"),
    "parameter": (
        ("@{n}: int = @{v}", "@{n}: Count = @{v}"),
        "def f(a: int = 1, b=2): pass",
        "def f(a: Count = 1, b=2): pass",
    ),
    "an except clause": (
        ("except @{e}: @{b+}", "except @{e} as error: @{b+}"),
        "try:\n    a\nexcept E:  # why\n    b",
        "try:\n    a\nexcept E as error:  # why\n    b",
    ),
    "a decorator": (
        ("@old(@{x})", "@new(@{x}, 1)"),
        "@old(2)  # why\ndef f(): pass",
        "@new(2, 1)  # why\ndef f(): pass",
    ),
    "any number of decorators": (
        ("@@{d*}\ndef f(@{p*}): @{b+}", "@@{d*}\n@new\ndef g(@{p*}): @{b+}"),
        "@a  # a\n@b(1)\ndef f(x):\n    y\n\n\ndef f(): z\n",
        "@a  # a\n@b(1)\n@new\ndef g(x):\n    y\n\n\n@new\ndef g(): z\n",
    ),
    "a branch": (
        ("elif @{c} == 0: @{b+}", "elif not @{c}: @{b+}"),
        "if a:\n    b\nelif (c + d) == 0:\n    e\n    f",
        "if a:\n    b\nelif not (c + d):\n    e\n    f",
    ),
}


@pytest.mark.parametrize("name", PARTS)
def test_parts_are_rewritten_in_place(name: str) -> None:
    rule, before, after = PARTS[name]
    part = name if name in ("argument", "parameter") else None
    assert text_of(reworked(before, rule, part=part)) == after


def test_a_width_breaks_the_list_that_a_fix_made_too_long() -> None:
    pair = ("f(@{a}, @{b})", "quite_a_long_name(first=@{a}, second=@{b})")
    code = "if x:\n    y = f(alpha, g(beta, gamma))  # why\nz = f(1, 2)\nkeep = [1, 2, 3, 4, 5, 6, 7, 8, 9]\n"
    done = reworked(code, pair, width=34)
    assert text_of(done) == (
        "if x:\n    y = quite_a_long_name(\n        first=alpha,\n"
        "        second=g(beta, gamma),\n    )  # why\n"
        "z = quite_a_long_name(\n    first=1,\n    second=2,\n)\nkeep = [1, 2, 3, 4, 5, 6, 7, 8, 9]\n"
    )
    assert not done.conflicts
    assert text_of(reworked("z = f(1, 2)\n", pair, width=80)) == (
        "z = quite_a_long_name(first=1, second=2)\n"
    )


def test_a_width_breaks_neither_brackets_that_group_nor_lists_in_strings() -> None:
    pair = ("@{t} = f(@{x*})", "@{t} = g(@{x*}, more=1)")
    done = reworked("(a) = f(1, 2)\n", pair, width=20)
    assert text_of(done) == "(a) = g(\n    1,\n    2,\n    more=1,\n)\n"
    inside = ("f(@{x*})", "g(@{x*}, more=1)")
    done = reworked("x = f'{f(\"a long text to tell\")}'\n", inside, width=20)
    assert text_of(done) == "x = f'{g(\"a long text to tell\", more=1)}'\n"
