"""Code gets the brackets and line breaks that its new place needs, or the fix is refused."""

from __future__ import annotations

import pytest

from tests.conftest import reworked, text_of, tree_of
from tests.laws.code import compiles
from yellow_trellis import Finding, fix
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

SIZE = ("len(@{x})", "@{x}.size")
NAMED = ("f(@{x})", "y := @{x}")
# Each: what it shows, the code, the rules, the code after; None where it has to stay.
CASES = {
    # line breaks in brackets that go
    "in a condition": ("if len(\n    c\n) != 1:\n    pass\n", [SIZE], "if c.size != 1:\n    pass\n"),
    "in a loop": ("while len(\n    c\n):\n    pass\n", [("len(@{x})", "@{x} + 1")], "while c + 1:\n    pass\n"),
    "in a subscript": ("for x in len(\n    c\n):\n    pass\n", [("len(@{x})", "@{x}[0]")], "for x in c[0]:\n    pass\n"),
    "in a header of two": ("with len(\n  c\n) as q:\n    pass\n", [("len(@{x})", "@{x} in y")], "with c in y as q:\n    pass\n"),
    "in an elif": ("if a:\n    pass\nelif len(\n    c\n):\n    pass\n", [SIZE], "if a:\n    pass\nelif c.size:\n    pass\n"),
    "in an assignment": ("x = len(\nc\n)\n", [SIZE], "x = c.size\n"),
    "with a comment": ("x = len(\n  c  # why\n)\n", [SIZE], "x = (c  # why\n.size)\n"),
    # line breaks of a template
    "a block for a block": (
        "with open(p) as g:\n    b()\n",
        [("with open(@{f}) as @{n}:\n    @{b+}", "@{n} = open(@{f})\ntry:\n    @{b+}\nfinally:\n    @{n}.close()")],
        "g = open(p)\ntry:\n    b()\nfinally:\n    g.close()\n",
    ),
    "a header over two lines": (
        "if (a and\n        b):\n    x()\n    y()\n",
        [("if @{t}:\n    @{b+}", "if not @{t}: pass\nelse:\n    @{b+}")],
        "if not (a and\n        b):\n    pass\nelse:\n    x()\n    y()\n",
    ),
    "only what a body holds": (
        "def f():\n    if a:\n        x()\n        # c\n        y()\n    z()\n",
        [("if @{t}:\n    @{b+}", "@{b+}")],
        "def f():\n    x()\n    # c\n    y()\n    z()\n",
    ),
    "a body at the end": (
        "with o(1) as g: b(); c()\n", [("with @{x} as @{n}:\n    @{b+}", "@{n} = @{x}\n@{b+}")], "g = o(1)\nb(); c()\n",
    ),
    "a body on the line of its header": ("if a: return_(2)\n", [("if @{t}:\n    @{b+}", "@{b+}")], "return_(2)\n"),
    "an else less": (
        "def f():\n    if a:\n        return 1\n    else:\n        x()\n        return 2\n",
        [("if @{t}:\n    return @{r}\nelse:\n    @{b+}", "if @{t}:\n    return @{r}\n@{b+}")],
        "def f():\n    if a:\n        return 1\n    x()\n    return 2\n",
    ),
    "a comment before": ("f(1)\n", [("f(@{x})", "# note\n# more\ng(@{x})")], "# note\n# more\ng(1)\n"),
    "a comment behind": ("f(1)\n", [("f(@{x})", "g(@{x})  # note")], "g(1)  # note\n"),
    "a comment where none can be": ("h(f(1))\n", [("f(@{x})", "g(@{x})  # note")], None),
    # targets, arguments, what only the compiler knows
    "deleted": ("del x[1]\n", [("@{x}[@{i}]", "@{x}.at(@{i})")], None),
    "a target of with": ("with a as x[1]:\n    pass\n", [("@{x}[@{i}]", "@{x}.at(@{i})")], None),
    "one of two": ("x[1] = 2\ny = x[1]\n", [("@{x}[@{i}]", "@{x}.at(@{i})")], "x[1] = 2\ny = x.at(1)\n"),
    "by position behind by name": ("stamp(C, True)\n", [("stamp(@{z}, @{r*})", "tick(zone=@{z}, @{r*})")], None),
    "by name behind by name": ("stamp(C, e=True)\n", [("stamp(@{z}, @{r*})", "tick(zone=@{z}, @{r*})")], "tick(zone=C, e=True)\n"),
    "the only handler": ("try:\n    a()\nexcept E:\n    b()\n", [("except E:\n    @{b+}", "")], None),
    "a default before a star": ("def f(a=None, *, b): pass\n", [("def f(@{n}=None, *, @{b}): pass", "def f(*, @{b}, @{n}): pass")], "def f(*, b, a): pass\n"),
    "a return outside": ("f(1)\n", [("f(@{x})", "return @{x}")], None),
    "an annotation in a chain": ("x = b = 1\nx = 2\n", [("x = @{v}", "x: int = @{v}")], "x = b = 1\nx: int = 2\n"),
    # brackets: the walrus
    "asserted": ("assert f(1)\n", [NAMED], "assert (y := 1)\n"),
    "assigned": ("z = f(1)\n", [NAMED], "z = (y := 1)\n"),
    "added": ("z += f(1)\n", [NAMED], "z += (y := 1)\n"),
    "sliced": ("a[f(1):2]\n", [NAMED], "a[(y := 1):2]\n"),
    "gone through": ("for a in f(1):\n    pass\n", [NAMED], "for a in (y := 1):\n    pass\n"),
    "one of several": ("t = a, f(1)\n", [NAMED], "t = a, (y := 1)\n"),
    "a statement": ("f(1)\n", [NAMED], "(y := 1)\n"),
    "a condition": ("if f(1): pass\n", [NAMED], "if y := 1: pass\n"),
    "an argument": ("g(f(1))\n", [NAMED], "g(y := 1)\n"),
    "annotated": ("x: f(1) = 2\n", [NAMED], "x: (y := 1) = 2\n"),
    # brackets: others
    "yielded": ("def g():\n    x = 1 + f(1)\n", [("f(@{x})", "yield @{x}")], "def g():\n    x = 1 + (yield 1)\n"),
    "a lambda": ("x = f(1) if a else b\n", [("f(@{x})", "lambda: @{x}")], "x = (lambda: 1) if a else b\n"),
    "a lambda in a text": ('x = f"{g(1)}"\n', [("g(@{x})", "lambda: @{x}")], 'x = f"{(lambda: 1)}"\n'),
    "a dictionary in a text": ('x = f"{g(1)}"\n', [("g(@{x})", "{@{x}: 1}")], 'x = f"{ {1: 1}}"\n'),
    "a tuple as an argument": ("g(f(1))\n", [("f(@{x})", "1, @{x}")], "g((1, 1))\n"),
    "a tuple that is caught": ("try:\n    pass\nexcept f(1):\n    pass\n", [("f(@{x})", "a, @{x}")], "try:\n    pass\nexcept (a, 1):\n    pass\n"),
    "a tuple that is returned": ("def g():\n    return f(1)\n", [("f(@{x})", "1, @{x}")], "def g():\n    return 1, 1\n"),
    "what another fix makes": (
        "r = f(1) and z\n", [("@{a} and @{b}", "@{b} | @{a}"), ("f(@{x})", "@{x} in y")], "r = z | (1 in y)\n",
    ),
    # brackets that may not be
    "a parameter": ("f((a))\n", [("f(@{x})", "lambda @{x}: 1")], "lambda a: 1\n"),
    "an attribute": ("f((a))\n", [("f(@{x})", "b.@{x}")], "b.a\n"),
    "a name of an argument": ("f((a))\n", [("f(@{x})", "g(@{x}=1)")], "g(a=1)\n"),
    "a class": ("f((a))\n", [("f(@{x})", "class @{x}: pass")], "class a: pass\n"),
    # commas
    "a comma that would make a tuple": ("x = old(\n    b,\n)\n", [("old(@{b})", "@{b}")], "x = b\n"),
    "a comma behind an operator": ("d.update(b,)\n", [("@{d}.update(@{b})", "@{d} |= @{b}")], "d |= b\n"),
    "a comma where the brackets change": ("x = f(a, b,)\n", [("f(@{a*})", "[@{a*}, 1]")], "x = [a, b, 1]\n"),
    "a comma that makes a tuple of one": ("x = [a]\ny = []\n", [("[@{a*}]", "(@{a*}, 1)")], "x = (a, 1)\ny = (1,)\n"),
    "the brackets of a tuple": ("x = (a, b)\n", [("(@{t+})", "f(@{t+})")], "x = f(a, b)\n"),
    # text
    "text that shows its code": ('x = f"{g(1)=}"\n', [("g(@{x})", "h(@{x})")], None),
    "text over lines": (
        'if a:\n    if b:\n        x = f"""{a\n        =}"""\n',
        [("if @{a}:\n    if @{b}:\n        @{c+}", "if @{a} and @{b}:\n    @{c+}")],
        'if a and b:\n    x = f"""{a\n        =}"""\n',
    ),
    # generators
    "a generator alone": ("any(a for a in b)\n", [("any(@{x})", "some(@{x})")], "some(a for a in b)\n"),
    "a generator with others": ("f(a for a in b)\n", [("f(@{x})", "g(@{x}, 1)")], "g((a for a in b), 1)\n"),
    "a generator as a run": ("f(a for a in b)\n", [("f(@{a*})", "g(@{a*})")], "g(a for a in b)\n"),
    "a generator with and without its brackets": (
        "y = list(a for a in b)\nz = (a for a in b)\n", [("@{e} for @{v} in @{s}", "h(@{s})")], "y = list(h(b))\nz = h(b)\n",
    ),
    # removal
    "behind a separator and a backslash": ("a(); \\\nprint(1)\n", [("print(@{x})", "")], "a()\n"),
    "out of an expression": ('x = ("""a""" + b)\n', [("@{d: string}", "")], None),
    "out of a lambda": ("x = lambda: print(1)\n", [("print(@{_*})", "")], None),
    "two definitions, and the lines between": (
        "a()\n\n\ndef f(): pass\n\n\ndef f(): pass\n\n\nb()\n", [("def f(): pass", "")], "a()\n\n\nb()\n",
    ),
}  # rows


@pytest.mark.parametrize("case", CASES)
def test_code_in_its_new_place(case: str) -> None:
    code, pairs, wanted = CASES[case]
    assert compiles(code) or "return" in case
    done = reworked(code, *pairs)
    assert text_of(done) == (code if wanted is None else wanted)
    if wanted is None:
        assert {outcome.state for _, outcome in done.outcomes} == {"refused"}
        assert all(outcome.reason for _, outcome in done.outcomes)


REQUIRE = ("const @{n} = require('@{m}')", "import @{n} from '@{m}'")
# Each: the code, the rule, the code after; None where it has to stay.
SCRIPTS = [
    ("const a = require('b');\nx();\n", REQUIRE, "import a from 'b';\nx();\n"),
    ("const a = require('b')\nx()\n", REQUIRE, "import a from 'b'\nx()\n"),
    ("f(1);\nf(2)\n", ("f(@{x});", "g(@{x});"), "g(1);\ng(2)\n"),
    ("function q() { f(1); }\n", ("f(@{x})", "throw @{x}"), "function q() { throw 1; }\n"),
    ("f(1);\n", ("f(@{x})", "if (a) {\n  f2(@{x});\n}"), "if (a) {\n    f2(1);\n}\n"),
    ("f(1);\nh();\n", ("f(@{x});", "a(@{x});\nb(@{x});"), "a(1);\nb(1);\nh();\n"),
    ("b((err) => { go(1); });\n", ("err => { @{b*} }", "e => { @{b*} }"), "b(e => { go(1); });\n"),
    ("b(err => go(err));\n", ("(@{e}) => @{b}", "function (@{e}) { return @{b}; }"), "b(function (err) { return go(err); });\n"),
    ("x = () => f(1);\n", ("f(@{x})", "({a: @{x}})"), "x = () => ({a: 1});\n"),
    ("x = f(1) ?? 2;\n", ("f(@{x})", "@{x} || 3"), "x = (1 || 3) ?? 2;\n"),
    ("function* q() { x = 1 + f(1); }\n", ("f(@{x})", "yield @{x}"), "function* q() { x = 1 + (yield 1); }\n"),
    ("x()\nf(1)\n", ("f(@{x})", "[@{x}].go()"), None),
]  # rows


@pytest.mark.parametrize(("code", "rule", "wanted"), SCRIPTS)
def test_javascript_in_its_new_place(code: str, rule: tuple[str, str], wanted: str | None) -> None:
    pytest.importorskip("tree_sitter_javascript")
    assert text_of(reworked(code, rule, name="javascript")) == (wanted or code)


def test_what_a_fix_does_not_change_is_no_fix() -> None:
    done = reworked("f(1)\n", ("f(@{x})", "f(@{x})"))
    assert [(o.state, o.reason) for _, o in done.outcomes] == [("left", "its fix changes nothing")]
    assert not done.rounds[0].rules


@pytest.mark.parametrize(
    ("code", "template", "told"),
    [
        ("def f(log):\n    say(1)\n", "log.info(@{x})", "`log` is no name of the module here"),
        ("def f(self):\n    say(1)\n", "self.info(@{x})", ""),
        ("log = 1\ndef f():\n    say(1)\n", "log.info(@{x})", ""),
    ],
)
def test_a_name_of_a_template_is_one_of_the_module(code: str, template: str, told: str) -> None:
    (outcome,) = (o for _, o in reworked(code, ("say(@{x})", template)).outcomes)
    assert outcome.state == ("refused" if told else "applied") and told in outcome.reason


@pytest.mark.parametrize("comment", ["# by hand", "# C\\n", "# C\\", "# a\\b \\"])
@pytest.mark.parametrize(
    ("name", "code"),
    [
        ("python", "class A:  # n\n  {}\n  def f(self):\n    $\n"),
        ("ruby", "class A # n\n  {}\n  def f\n    $\n  end\nend\n"),
        ("python", "x = 1 + \\\n  f($)\n"),
    ],
)
def test_a_pattern_with_comments_is_its_own_template(name: str, code: str, comment: str) -> None:
    text = code.replace("{}", comment)
    pattern = text.replace("$", "@{h}")
    done = reworked(text.replace("$", "g"), (pattern, pattern), name=name)
    assert [(o.state, o.reason) for _, o in done.outcomes] == [("left", "its fix changes nothing")]


NAMES = [
    # a name that the pattern binds by its own words, or by a hole, stays bound; None: refused
    ("def g(x): @{b*}", "def h(x): @{b*}", "def g(x):\n    return x\n", "def h(x):\n    return x\n"),
    ("def g(x): @{b*}", "def h(y): @{b*}", "def g(x):\n    return x\n", None),
    ("def g(x): @{b*}", "def h(y): @{b*}", "def g(x):\n    return 1\n", "def h(y):\n    return 1\n"),
    ("lambda x: @{b}", "k(@{b})", "y = lambda x: x + 1\n", None),
    ("lambda x: @{b}", "h(lambda x: @{b}, @{b})", "y = lambda x: x + 1\n", None),
    ("lambda @{p}: @{b}", "partial(@{b}, @{p})", "y = lambda x: x + 1\n", None),
    ("g(@{b})", "h(lambda x: @{b}, @{b})", "g(x + 1)\n", None),
    ("[@{e} for @{n} in @{i}]", "list(@{e} for @{n} in @{i})", "z = [a for a in b]\n", "z = list(a for a in b)\n"),
    ("[@{e} for n in @{i}]", "map(lambda n: @{e}, @{i})", "z = [n for n in b]\n", "z = map(lambda n: n, b)\n"),
    ("with open(@{x}) as @{f}: @{b*}", "@{b*}", "with open(p) as q:\n    read(q)\n", None),
    ("with open(@{x}) as @{f}: @{b*}", "@{b*}", "with open(p) as q:\n    read()\n", "read()\n"),
    ("@{n} = @{v}\nreturn @{r}", "return @{r}", "def f():\n    a = 1\n    return a\n", None),
]


@pytest.mark.parametrize(("find", "put", "code", "wanted"), NAMES)
def test_what_a_hole_took_keeps_the_names_that_the_matched_code_bound(
    find: str, put: str, code: str, wanted: str | None
) -> None:
    done = reworked(code, (find, put))
    assert text_of(done) == (wanted or code)
    if wanted is None:
        assert any("took says" in o.reason for _, o in done.outcomes if o.state == "refused")


@pytest.mark.parametrize(("code", "find", "put", "wanted"), [
    ("def f():\n    init()\n", "def @{f}():\n    init()\n    @{b*}", "def @{f}():\n    start()\n    @{b*}",
     "def f():\n    start()\n"),
    ("def f():\n    init()\n", "def @{f}():\n    init()\n    @{b*}",
     "def @{f}():\n    start()\n    if x:\n        @{b*}", "def f():\n    start()\n    if x:\n        pass\n"),
    ("with a:\n    init()\n", "with a:\n    @{b*}\n    init()", "@{b*}\nstart()", "start()\n"),
    ("f(\n    1,  # type: ignore\n)\n", "f(@{x*})", "g(@{x*}, 2)", "g(\n    1,  # type: ignore\n    2,\n)\n"),
    ("f(\n    1  # type: ignore\n)\n", "f(@{x*})", "g(@{x*}, 2)", "g(\n    1,  # type: ignore\n    2\n)\n"),
])
def test_what_took_nothing_leaves_nothing_and_comments_stay(code, find, put, wanted) -> None:
    assert text_of(reworked(code, (find, put))) == wanted


@pytest.mark.parametrize("comma", [",", ""])
def test_an_appended_item_leaves_a_comment_beside_the_last(comma: str) -> None:
    tree = tree_of(f"f(\n    1{comma}  # type: ignore\n)\n")
    (items,) = tree.of_kinds(frozenset({"argument_list"}))
    made = fix("Append").append_to(items, "k=2").made(items.span)
    assert made is not None
    plan = make_plan(tree, [Finding("rule", "warning", made.extent, "m", (made,))])
    text = prove(plan).tree.source.data.decode()
    assert text == f"f(\n    1,  # type: ignore\n    k=2{comma}\n)\n"
