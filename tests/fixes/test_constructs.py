"""One rewrite for every construct that a pattern can name."""

import pytest

from tests.conftest import reworked, rules_of, text_of, tree_of
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

REWRITES = [
    ("f(*@{a}, **@{k})", "g(*@{k}, **@{a})", "f(*x, **y)", "g(*y, **x)"),
    ("f(@{a*}, k=@{v})", "g(@{v}, @{a*})", "f(1, *b, k=2)", "g(2, 1, *b)"),
    (
        "def f(@{a}, @{b}=1): @{c+}",
        "def f(@{b}, @{a}=1): @{c+}",
        "def f(x, y=1): z",
        None,
    ),
    (
        "def f(@{a*}, /, @{b*}): @{c+}",
        "def f(@{a*}, @{b*}): @{c+}",
        "def f(x, /, y): z",
        "def f(x, y): z",
    ),
    (
        "def f(@{p*}) -> @{r}: @{c+}",
        "def f(@{p*}): @{c+}",
        "def f(x: int) -> int: z",
        "def f(x: int): z",
    ),
    ("async def @{n}(@{p*}): @{b+}", "def @{n}(@{p*}): @{b+}", "async def f(a): b", "def f(a): b"),
    (
        "@@{d}\ndef old(): @{b+}",
        "@@{d}\ndef new(): @{b+}",
        "@a(1)  # why\ndef old():\n    b\n",
        "@a(1)  # why\ndef new():\n    b\n",
    ),
    ("import old as @{n}", "import new as @{n}", "import old as x", "import new as x"),
    (
        "from old import @{n+}",
        "from new import @{n+}",
        "from old import (\n    a,\n    b as c,\n)",
        "from new import (\n    a,\n    b as c,\n)",
    ),
    ("{'k': @{v}, @{r*}}", "{@{r*}, 'k': @{v}}", "{'k': 1, **a, 'b': 2}", "{**a, 'b': 2, 'k': 1}"),
    ("{@{a}, @{b}}", "{@{b}, @{a}}", "x = {1, 2}", None),
    ("@{x}[@{a}:@{b}]", "cut(@{x}, @{a}, @{b})", "y = x[1:n + 1]", "y = cut(x, 1, n + 1)"),
    ("@{a} < @{b} < @{c}", "@{a} < @{b} and @{b} < @{c}", "ok = 1 < x < 2", "ok = 1 < x and x < 2"),
    ("@{a} and not @{a}", "False", "ok = x and not x", "ok = False"),
    (
        "with open(@{p}) as @{f}: @{b+}",
        "with path(@{p}).open() as @{f}: @{b+}",
        "with open(p) as f:\n    f.read()  # all\n",
        "with path(p).open() as f:\n    f.read()  # all\n",
    ),
    ("except @{e}: @{b+}", "except (@{e}, Late): @{b+}", "try:\n    a\nexcept E:\n    b\n", None),
    (
        "match @{x}:\n    case 0: @{b+}",
        "if @{x} == 0: @{b+}",
        "match a:\n    case 0:\n        b\n        c\n",
        "if a == 0:\n    b\n    c\n",
    ),
    ("f'{@{x}!r}'", "repr(@{x})", "y = f'{a + b!r}'", "y = repr(a + b)"),
    (
        "def f[@{T}](@{p*}): @{b+}",
        "def g[@{T}](@{p*}): @{b+}",
        "def f[A](x: A): pass",
        "def g[A](x: A): pass",
    ),
    (
        "[@{e} for @{v} in @{i}]",
        "list(@{e} for @{v} in @{i})",
        "x = [a for a in b]",
        "x = list(a for a in b)",
    ),
    ("[@{e} @{c+}]", "{@{e} @{c+}}", "x = [a for a in b if c]", "x = {a for a in b if c}"),
    ("@{a}, @{b} = @{c}", "@{b}, @{a} = flip(@{c})", "x, y = z", None),
    ("@{a} = @{b} = @{c}", "@{b} = @{a} = @{c}", "x = y = z", None),
    ("@{a}: int = @{v}", "@{a}: Count = @{v}", "x: int = 1", "x: Count = 1"),
    ("@{a} = @{a} + @{b}", "@{a} += @{b}", "x.y = x.y + 1", "x.y += 1"),
    ("lambda: @{f}()", "@{f}", "on(lambda: go(), 1)", "on(go, 1)"),
    ("raise @{e}(@{a*})", "raise @{e}(@{a*}) from None", "raise E(1)", "raise E(1) from None"),
    ("assert @{x}, @{m}", "check(@{x}, @{m})", "assert a == b, 'no'", "check(a == b, 'no')"),
    ("@{a} if @{c} else @{a}", "@{a}", "x = (f(1) if c else f(1)) + 1", "x = (f(1)) + 1"),
    ("print @{x}", "print(@{x})", "print a", "print(a)"),
    (
        "if @{c}: @{b+}\nelif @{d}: @{e+}",
        "if @{c}: @{b+}\nelif not @{d}: @{e+}",
        "if a:\n    b\nelif c:\n    d\n",
        None,
    ),
    (
        "for @{i} in range(len(@{x})): @{b+}",
        "for @{i}, _ in enumerate(@{x}): @{b+}",
        "for i in range(len(x)):\n    i\n",
        "for i, _ in enumerate(x):\n    i\n",
    ),
    ("while True: @{b+}", "while 1: @{b+}", "while True:\n    a\n", "while 1:\n    a\n"),
    ("del @{x}", "drop(@{x})", "del a[1]", "drop(a[1])"),
    ("global @{n+}", "del @{n+}", "global a, b", "del a, b"),
    ("(@{n} := @{v})", "@{v}", "x = (n := 1)", "x = (1)"),
    (
        "await @{x}",
        "run(@{x})",
        "async def f():\n    await g(1)\n",
        "async def f():\n    run(g(1))\n",
    ),
    ("yield from @{x}", "yield @{x}", "def f():\n    yield from a\n", "def f():\n    yield a\n"),
    (
        "class A(@{b*}, metaclass=M): @{c+}",
        "class A(@{b*}): @{c+}",
        "class A(B, metaclass=M): pass",
        "class A(B): pass",
    ),
    ("open('@{p}')", "Path('@{p}').open()", 'f = open("a b")', 'f = Path("a b").open()'),
    ("f({@{a}, @{b*}})", "g({@{b*}, @{a}})", "f({1, 2, *c})", "g({2, *c, 1})"),
    (
        "@{a} and @{b} and @{c}",
        "all_of(@{a}, @{b}, @{c})",
        "ok = x and (y or z) and w",
        "ok = all_of(x, (y or z), w)",
    ),
    (
        "with @{a}, @{b}: @{c+}",
        "with both(@{a}, @{b}): @{c+}",
        "with x(), y:\n    z\n",
        "with both(x(), y):\n    z\n",
    ),
    (
        "def f(@{a}, *, @{b}): @{c+}",
        "def g(@{a}, @{b}): @{c+}",
        "def f(x, *, y): z",
        "def g(x, y): z",
    ),
    ("type @{n} = int", "type @{n} = str", "type A = int", "type A = str"),
    (
        "def f(@{p*}):\n    @{b+}",
        "def g(@{p*}):\n    @{b+}\n\ndef h(@{p*}):\n    return g(1)",
        "def f(a, b=1):\n    return a\n",
        "def g(a, b=1):\n    return a\n\ndef h(a, b=1):\n    return g(1)\n",
    ),
]


@pytest.mark.parametrize(("language", "find", "put", "before", "after"), [
    (
        *("cpp", "void f() { @{b*} }", "void g() { @{b*} }"),
        "void f() {\n    a();\n    struct P { int x; };\n}\n",
        "void g() {\n    a();\n    struct P { int x; };\n}\n",
    ),
    (
        *("javascript", "class A { @{m*} }", "class B { @{m*} }"),
        *("class A {\n  x = 1;\n  y = 2;\n}\n", "class B {\n  x = 1;\n  y = 2;\n}\n"),
    ),
    (
        *("javascript", "class A { @{m*} }", "class A { id = 0; @{m*} }"),
        *("class A { x = 1; y() {} }\n", "class A { id = 0; x = 1; y() {} }\n"),
    ),
])
def test_what_ends_a_statement_goes_where_it_goes(
    language: str, find: str, put: str, before: str, after: str
) -> None:
    ruleset = rules_of((find, put), language=language)
    tree = tree_of(before, language)
    plan = make_plan(tree, ruleset.look(tree)[0])
    assert prove(plan).tree.source.data.decode() == after, plan.outcomes


@pytest.mark.parametrize(("find", "put", "before", "after"), REWRITES)
def test_every_construct_can_be_rewritten(
    find: str, put: str, before: str, after: str | None
) -> None:
    done = reworked(before, (find, put))
    if after is None:  # the result matches again: without an end, nothing may be written
        assert text_of(done) == before
        assert [conflict.kind for conflict in done.conflicts] == ["see-saw"]
    else:
        assert text_of(done) == after
        assert not done.conflicts
