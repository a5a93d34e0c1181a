"""What a pattern matches, what its holes take, and what it must leave alone."""

import pytest

from tests.conftest import tree_of
from yellow_trellis import PatternError, compile_pattern
from yellow_trellis.languages import language
from yellow_trellis.patterns import seek
from yellow_trellis.patterns.search_plan import SearchPlan, search_plan
from yellow_trellis.syntax.queries import StructureQuery


def matches(pattern: str, code: str, name: str = "python") -> list[str]:
    compiled = compile_pattern(pattern, language(name))
    return [match.text for match in seek(compiled, tree_of(code, name))]


@pytest.mark.parametrize(
    ("pattern", "code", "found"),
    [
        ("f(@{x})", "f(1); f(1, 2); f(); g.f(3); f(k=1); f(*a)", ["f(1)"]),
        ("f(@{x*})", "f(1, *a, k=2, **d)\nf()", ["f(1, *a, k=2, **d)", "f()"]),
        ("f(@{x+})", "f()\nf(1)", ["f(1)"]),
        ("f(1, @{x?})", "f(1)\nf(1, 2)\nf(1, 2, 3)", ["f(1)", "f(1, 2)"]),
        ("f(@{_*}, 2, @{_*})", "f(1, 2, 3)\nf(2)\nf(1)", ["f(1, 2, 3)", "f(2)"]),
        ("f(@{x: string})", "f('a')\nf(a)\nf(('a'))", ["f('a')", "f(('a'))"]),
        ("f(@{x: integer})", "f(1)\nf(1.5)", ["f(1)"]),
        ("f(@{x like [a-c]{2}})", "f(ab)\nf(abc)\nf(xy)", ["f(ab)"]),
        ("@{x} == @{x}", "a.b == a . b\na == b\n(a) == a", ["a.b == a . b", "(a) == a"]),
        ("f(@{x}, g(@{x}))", "f(1, g(2))\nf(1, g(1))", ["f(1, g(1))"]),
        ("f(@{_*}, @{x}, @{_*}, @{x})", "f(1, 2, 3, 2)\nf(1, 2)", ["f(1, 2, 3, 2)"]),
        ("@{x: call}", "f(g(1))", ["f(g(1))", "g(1)"]),
        ("f(a, b)", "f( # c\n (a),\n b,)", ["f( # c\n (a),\n b,)"]),
        ("x = 'a'", 'x = "a"', ['x = "a"']),
        ("not @{a} in @{b}", "not (a in b)\nnot a in b", ["not (a in b)", "not a in b"]),
        ("@{a} not in @{b}", "a not  in b\na in b", ["a not  in b"]),
        ("a.@{name}", "a.b\na.b.c\nb.a", ["a.b", "a.b"]),
        (
            "def @{n}(@{p*}): @{b*}",
            "def f(a, *, b=1):\n  x\n  y\n",
            ["def f(a, *, b=1):\n  x\n  y"],
        ),
        ("import @{m}", "import a.b\nimport a, b", ["import a.b"]),
        ("from m import @{n*}", "from m import (a, b as c,)", ["from m import (a, b as c,)"]),
        ("with @{l}: @{b*}", "with a: b\nwith a, c: d", ["with a: b"]),
        ("f(*@{a}, **@{k})", "f(*x, **y)\nf(x, **y)", ["f(*x, **y)"]),
        (
            "def f(@{a}, @{b}=1, *, @{c}): pass",
            "def f(x, y=1, *, z): pass",
            ["def f(x, y=1, *, z): pass"],
        ),
        (
            "def @{f}(@{p*}, /, @{q*}): @{_*}",
            "def f(x, /): pass\ndef g(x): pass",
            ["def f(x, /): pass"],
        ),
        (
            "def f(@{a}: int) -> @{r}: @{_*}",
            "def f(x: int) -> str: pass",
            ["def f(x: int) -> str: pass"],
        ),
        ("@@{d+}\ndef f(): @{_*}", "@a\n@b(1)\ndef f(): pass", ["@a\n@b(1)\ndef f(): pass"]),
        ("@@{d}(@{_*})", "@a\n@b(1)\nclass C: pass", ["@b(1)"]),
        (
            "except @{e} as @{n}: @{_*}",
            "try: a\nexcept E as e: b\nexcept F: c",
            ["except E as e: b"],
        ),
        ("finally: @{_*}", "try: a\nfinally: b", ["finally: b"]),
        ("elif @{c}: @{_*}", "if a: b\nelif c: d\nelse: e", ["elif c: d"]),
        ("case @{p} if @{c}: @{_*}", "match x:\n  case p if q: r", ["case p if q: r"]),
        ("match @{x}:\n    @{c+}", "match x:\n  case 1: a\n  case 2: b", None),
        ("{@{k}: @{v}, @{r*}}", "{1: 2, **a}; {1, 2}", ["{1: 2, **a}"]),
        ("[@{e} @{c+}]", "[a for a in b if a]", ["[a for a in b if a]"]),
        ("@{x}[@{a}:]", "x[1:]; x[1:2]; x[:]", ["x[1:]"]),
        ("@{a} < @{b} < @{c}", "1 < x < 2; 1 < x", ["1 < x < 2"]),
        ("@{a} and @{b}", "x and y; x or y", ["x and y"]),
        ("with @{a} as @{b}: @{_*}", "with (f() as g): h", ["with (f() as g): h"]),
        ("f'a{@{x}!r}'", 'f"a{y!r}"; f"a{y}"; "a"', ['f"a{y!r}"']),
        ("'@{x}'", "f('abc', b'x', '')", ["'abc'"]),
        ("f('a' 'b')", "f('ab'); f('a', 'b')", ["f('ab')"]),
        ("def @{f}[@{T}](@{_*}): @{_*}", "def f[A](x): pass", ["def f[A](x): pass"]),
        ("type @{n} = @{t}", "type A = int", ["type A = int"]),
        ("@{a}, *@{b} = @{c}", "(x, *y) = z; x, y = z", ["(x, *y) = z"]),
        ("lambda @{p*}: @{b}", "f(lambda: 1, lambda x, y=2: 3)", ["lambda: 1", "lambda x, y=2: 3"]),
        ("print @{x}", "print a\nprint(b)", ["print a"]),
        (
            "a()\n@{_*}\nb()",
            "if x:\n    a()\n    y\n    b()\n    b()\n",
            ["a()\n    y\n    b()"],
        ),
    ],
)
def test_python(pattern: str, code: str, found: list[str] | None) -> None:
    assert matches(pattern, code) == ([code] if found is None else found)


@pytest.mark.parametrize(
    ("part", "pattern", "found"),
    [
        ("argument", "zone=@{z}", ["zone=1"]),
        ("argument", "*@{a}", ["*a"]),
        ("case", "case [@{a}, *@{b}]: @{_*}", ["case [p, *q]: r"]),
        ("parameter", "@{n}: int = @{v}", ["y: int = 2"]),
        ("parameter", "@{n}=@{v}", ["x=1"]),
    ],
)
def test_parts_that_would_parse_as_something_else_alone(
    part: str, pattern: str, found: list[str]
) -> None:
    compiled = compile_pattern(pattern, language("python"), part=part)
    code = "zone = 3\n@f(*a, zone=1)\ndef g(x=1, y: int = 2): pass\nmatch x:\n  case [p, *q]: r\n"
    assert [match.text for match in seek(compiled, tree_of(code))] == found


@pytest.mark.parametrize(
    ("pattern", "code", "found"),
    [
        ("catch (@{e}) { @{_*} }", "try { a() } catch (x) { b() }", ["catch (x) { b() }"]),
        ("({ a: @{x}, @{r*} })", "f({a: 1, b, ...c})", ["{a: 1, b, ...c}"]),
        ("(@{p*}) => @{b}", "a.map((x, y) => x)", ["(x, y) => x"]),
        ("`a${@{x}}`", "g(`a${y}`, `b${y}`)", ["`a${y}`"]),
        ("class @{n} extends M { @{_*} }", "class A extends M { x() {} }", None),
        ("import { @{n*} } from 'q'", 'import {a, b as c} from "q"', None),
        ("send(@{a}, @{b*})", "send(x, y, z,); page.send(1)", ["send(x, y, z,)"]),
        ("let @{x} = @{y};", "let a = 1\nconst b = 2;", ["let a = 1"]),
        ("[@{a}, @{b}]", "[1, 2]; [1,,2]; [1]", ["[1, 2]"]),
        ("if (@{c}) { @{b*} }", "if (a) { b(); c() }", ["if (a) { b(); c() }"]),
        ("x === 'a'", 'x === "a"', ['x === "a"']),
    ],
)
def test_javascript(pattern: str, code: str, found: list[str] | None) -> None:
    assert matches(pattern, code, "javascript") == ([code] if found is None else found)


def test_holes_keep_what_they_took() -> None:
    compiled = compile_pattern("f(@{a}, @{rest*})", language("python"))
    match = next(seek(compiled, tree_of("f((x), 1, k=2)")))
    assert match.node_of("a").text == "(x)"
    assert [node.text for node in match.run_of("rest")] == ["1", "k=2"]
    with pytest.raises(KeyError, match="no hole 'b'"):
        match["b"]


@pytest.mark.parametrize(
    ("pattern", "reason", "at"),
    [
        ("f(", "does not parse", 0),
        ("f(@{x)", "cannot hold", 5),
        ("f(@{})", "needs a name", 2),
        ("f(@{x like [)})", "no regular expression", 2),
        ("f(@{x: strng})", "no kind or family `strng`", 2),
        ("@{x}", "takes every node", 0),
        ("'a@{x}b'", "inside a piece of text", 2),
        ("f(@{x}, @{x*})", "one node here and for several", 8),
        ("@{_*}\nf()", "edge of a pattern", 0),
        ("   ", "empty", 0),
        ("f(@{x: string}, @{x: integer})", "can never match", 16),
        ("@<stamp>(1)", "dotted name under which", 0),
        ("f(1, x.@<a.b>)", "refers to nothing", 7),
        ("from x import @<a.b>", "refers to nothing", 14),
        ("f('@<a.b>')", "inside a piece of text", 3),
    ],
)
def test_a_wrong_pattern_says_where_and_why(pattern: str, reason: str, at: int) -> None:
    with pytest.raises(PatternError, match=reason) as wrong:
        compile_pattern(pattern, language("python"))
    assert wrong.value.at == at


@pytest.mark.parametrize(
    "pattern",
    [
        "f(@{_*}, x, @{_*}, x, @{_*}, x, @{_*}, x, @{_*})",
        "f(@{a*}, @{x}, @{b*}, @{x}, @{c*}, @{y}, @{d*}, @{y}, @{e*})",
        "f(@{_*}, g(@{x}), @{_*}, @{x}, @{_*}, @{x}, @{_*}, 1, @{_*})",
    ],
)
def test_matching_many_arguments_stays_polynomial(pattern: str) -> None:
    """Five holes over 2,000 arguments: a search without memory would not end at all."""
    many = [f"a{n}" for n in range(2000)]
    assert matches(pattern, f"f({', '.join(many)})") == []


def test_equal_names_are_found_among_many_arguments() -> None:
    many = [f"a{n}" for n in range(500)]
    many[70] = many[400] = "same . thing"
    many[410], many[490] = "(other)", "other"
    pattern = "f(@{_*}, @{x}, @{_*}, @{x}, @{_*}, @{y}, @{_*}, @{y}, @{_*})"
    compiled = compile_pattern(pattern, language("python"))
    (match,) = seek(compiled, tree_of(f"f({', '.join(many)})"))
    assert (match.node_of("x").text, match.node_of("y").text) == ("same . thing", "(other)")


def test_named_arguments_in_any_order_where_asked_for() -> None:
    from tests.conftest import reworked, text_of

    code = "f(1, j=2, k=3); f(1, k=3, j=2); f(1, j=2)"
    assert matches("f(@{x}, k=@{a}, j=@{b})", code) == ["f(1, k=3, j=2)"]
    compiled = compile_pattern("f(@{x}, k=@{a}, j=@{b})", language("python"), any_order=True)
    found = list(seek(compiled, tree_of(code)))
    assert [m.text for m in found] == ["f(1, j=2, k=3)", "f(1, k=3, j=2)"]
    assert [m.node_of("a").text for m in found] == ["3", "3"]
    rule = ("f(@{x}, k=@{a}, j=@{b})", "g(@{x}, k=@{a}, l=@{b})")
    assert text_of(reworked(code, rule, any_order=True)).startswith(
        "g(1, k=3, l=2); g(1, k=3, l=2);"
    )


@pytest.mark.parametrize(
    ("code", "pattern", "found"),
    [
        ("print a, b\nprint >>f, x\n", "print @{x+}", 1),
        ("exec 'a' in b\n", "exec @{x} in @{y}", 1),
        ("try:\n    a\nexcept* E:\n    b(1)\n", "b(@{x})", 1),
        ("type A[T: int, *Ts] = dict[T, Ts]\n", "type @{n} = @{t}", 1),
        ("def f[T](x: T) -> T: return g(x)\n", "g(@{x})", 1),
        ("match x:\n    case {'a': [1, *_], **rest} if f(rest): pass\n", "f(@{x})", 1),
        ("y = f'{a!r:>{w}} {f'{g(1)}'}'\n", "g(@{x})", 1),
        ("async def f():\n    async with a as b: await g(b)\n", "await @{x}", 1),
        ("x = (y := f(1)) + 0x_ff\n", "f(@{x})", 1),
        ("a = f(1)\nb = = 2\nc = f(3)\n", "f(@{x})", 2),
    ],
)
def test_the_syntax_of_every_python_is_read(code: str, pattern: str, found: int) -> None:
    assert len(matches(pattern, code)) == found


GUARDED = [
    ("@{a} = @{b: integer}", ["x = 1", "x = (1)", "x.y = 1"], ["x = y", "x: int = 1", "x = 1.0"]),
    ("@{a like [lIO]} = @{b}", ["l = 1", "O = f()"], ["ll = 1", "l.x = 1", "l: int"]),
    ("@{a} = @{f}(@{x})", ["y = g(1)", "y = (g(1))"], ["y = g(1, 2)", "y = g"]),
    ("@{a} and @{b: string}", ["x and 'a'", "x and ('a' 'b')"], ["x or 'a'", "x and y"]),
    ("@{a}[@{b: integer}]", ["x[1]", "f()[(2)]"], ["x[y]", "x[1:2]"]),
    ("@{a: call}.b", ["f().b", "(f()).b"], ["f.b", "f().c"]),
]


@pytest.mark.parametrize(("pattern", "yes", "no"), GUARDED)
def test_what_is_told_before_a_node_is_made_is_what_matching_says(pattern, yes, no) -> None:
    compiled = compile_pattern(pattern, language("python"))
    for code, fits in [*((one, True) for one in yes), *((one, False) for one in no)]:
        tree = tree_of(code + "\n")
        assert bool(list(seek(compiled, tree))) is fits, code
        every = StructureQuery(compiled.kinds or compiled.language.kinds)
        visit = SearchPlan(None, every, search_plan(compiled).prefilters)
        assert bool(list(seek(compiled, tree, plan=visit))) is fits, code


def test_several_are_taken_from_their_own_field_only() -> None:
    pattern = compile_pattern("from m import @{n+}", language("python"))
    assert len(list(seek(pattern, tree_of("from m import a, b\n")))) == 1
    assert not list(seek(pattern, tree_of("from m import *\n")))  # a star is no name


@pytest.mark.parametrize("pattern", ["f(@{x})", "a", "a.b", "x = @{v}"])
def test_a_word_of_one_letter_leads_to_its_matches(pattern: str) -> None:
    words = compile_pattern(pattern, language("python")).words
    assert words and all(len(word) == 1 for word in words)
