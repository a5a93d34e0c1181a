"""Looking at pieces of a file finds what looking at all of it finds, however ugly the file."""

import os
import sysconfig
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import yellow_trellis.engine.surveying as surveying
from tests.conftest import DEMO, rules_of, tree_of
from yellow_trellis import Rule, Ruleset, examine, fix, holds, inside, none_of, rule, taken
from yellow_trellis.languages.python_pieces import pieces
from yellow_trellis.languages.python_strings import long_strings
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.narrow import shares
from yellow_trellis.source import Sightings


@rule("near", summary="What stands beside it counts.", kinds=["return_statement", "for_statement"])
def near(node, code):
    beside = [str(one and one.kind) for one in (node.previous, node.next, node.parent.next)]
    yield code.finding(node, f"{beside} {len(node.parent.items)}")


@rule("above", summary="What stands above it counts.", kinds=["function_definition"])
def above(node, code):
    yield code.finding(node, " ".join(f"{one.kind}{len(one.text)}" for one in node.ancestors()))


@rule("all", summary="The whole file counts.", kinds=["except_clause", "default_parameter"])
def everything(node, code):
    calls = sum(1 for _ in code.seek(None, "f(@{_*})"))
    yield code.finding(node, f"{calls} {len(code.root.text)} {len(code.tree.comments())}")


@rule(
    "own", summary="Only itself counts.", kinds=["class_definition", "lambda", "default_parameter"]
)
def own(node, code):
    calls = sum(1 for _ in code.seek(node, "f(@{_*})"))
    yield code.finding(node, f"{calls} {len(node.text)}", fixes=[fix("Out").remove(node)])


def header(node, code):
    """Report a header by what stands in it, as far as nothing of the body does."""
    told = [one.kind if one.kind == "block" else one.text for one in node.children]
    first = node.children[0]
    yield code.finding(first, f"{told} {len(node.items)}", fixes=[fix("On").after(first, " f(0)")])


defined = rule("defined", summary="Its header counts.", kinds=["function_definition", "lambda"])(
    header
)
handled = rule("handled", summary="Its header counts.", kinds=["except_clause"])(header)
settled = rule("settled", summary="Its header counts.", kinds=["finally_clause", "with_statement"])(
    header
)


@rule("around", summary="What is around it counts.", kinds=["except_clause", "with_statement"])
def around(node, code):
    beside = [one.kind for one in node.ancestors()]
    yield code.finding(node.children[0], f"{beside}")


@rule("within", summary="Its body counts.", kinds=["except_clause", "function_definition"])
def within(node, code):
    body = [one for one in node.children if one.kind == "block"]
    starts = [one.start for one in body for _ in one.items]
    yield code.finding(node.children[0], f"{len(starts)} {body[0].parent.parent.kind}")


def conditional(find: str, *where: Condition) -> Ruleset:
    return Ruleset.of([Rule("only", summary="Only there.", find=find, where=where)])


RULES = (
    rules_of(("f(@{x})", "g(@{x})")),
    rules_of(("@{a} == None", "@{a} is None")),
    rules_of(("with f(@{x}): @{b*}", None)),
    rules_of(("class @{n}(f): @{b*}", None)),
    rules_of(("f(@{x})", None), ("return @{y}", None)),
    rules_of(("class @{n}: @{b*}", None), ("class @{n}(f): @{b*}", "class @{n}: @{b*}")),
    conditional("f(@{x})", inside("class @{_}: @{_*}"), inside("def @{_}(@{_*}): @{_*}")),
    conditional("f(@{x})", inside("class @{_}(@{_*}):\n    @{_*}\n    def last(self): @{_*}")),
    conditional("f(@{x})", inside("def @{_}(@{_*}): @{_*}"), none_of(inside("class @{_}: @{_*}"))),
    conditional("f(@{x})", inside("def g(@{_*}): @{_*}"), none_of(inside("class A(f): @{_*}"))),
    conditional("class @{n}(@{_*}): @{b*}", holds("f(4)")),
    conditional("try: @{b*}\nexcept @{e}: @{c*}", holds("f(1)")),
    conditional("if @{c}: @{b*}", holds("f(2)")),
    rules_of(("f(@{x}, key=@{y})", None), ("@{x} if f(@{_}) else @{y}", None)),
    rules_of(("while @{c}: @{b*}", None), ("for @{x} in @{y}: @{b*}", None)),
    rules_of(("not @{a} in @{b}", "@{a} not in @{b}"), ("f(@{x}) if @{y} else @{z}", None)),
    rules_of(("f(@{x})", "g(@{x})"), ("h(f(@{x}))", "k(@{x})"), ("@{n} = f(@{_})", None)),
    rules_of(("f(@{x})", "g(@{x})"), ("with f(@{x}): @{b*}", "with h(@{x}): @{b*}")),
    conditional("@{n} = @{v}", taken("n", text="[xyz]")),
    *(Ruleset.of([one]) for one in (near, above, everything, own)),
    *(Ruleset.of([one]) for one in (defined, handled, settled, around, within)),
    Ruleset.of([handled, defined, settled]),
)

UGLY = [
    'f(1)\nx = """\nf(2)\n"""\nf(3)\n',
    'x = \'"""\'\nf(1)\ny = \'"""\'\n',
    '# it\'s """\nf(1)\ndef g():\n    """doc"""\n    return f(2)\n',
    'x = r"""a\\"""\nf(1)\n"""\nf(2)\n',
    "x = 1 + \\\nf(2)\nf(3)\n",
    "g(1,\nf(2),\n)\nf(3)\n",
    "if a:\n    f(1)\nelse:\n    f(2)\ntry:\n    f(3)\nexcept E:\n    f(4)\nfinally:\n    pass\n",
    "@f(1)\n@dec\ndef g():\n    return f(2)\n\n@dec(\n  f(3),\n)\nclass A(f):\n    x = f(4)\n",
    "class A(f):\n    '''doc'''\n    x = f(1)\n\n    @f(2)\n    def g(self):\n        if a == None:"
    "\n            return f(3)\n\n    def h(self):\n        pass\n    with f(5): pass\n",
    "class A:\n\tdef g(self):\n\t\treturn f(3)\n\tdef h(self): pass\nf(1)\n",
    "class A: x = f(1)\nclass B(f\n): \n    y = f(2)\n",
    "f(1)\r\ndef g():\r\n  return f(2)\r\n",
    "f(1)\rf(2)\r",
    'x = f"""{f(1)}\nf(2)\n"""\nf(3)\n',
    "def broken(:\n    f(1)\n\ndef whole():\n    return f(2)\n",
    "match a:\n    case f(1):\n        f(2)\n    case _:\n        pass\nf(3)\n",
    "x = (a\n  and not b in c\n  or f(1))\ny = [\n f(1),\n not a in b,\n x == None]\n",
    "foo(a.b\n, self.x == None\n,\nself.y in [f(1),\nself.z == None])\n",
    "if a:\n    x = f(1); y = f(2)\nelif f(3):\n    pass\nelse: f(4)\nif not a in b: pass; f(5)\n",
    "try: f(1)\nexcept (E,\n    f(2)): pass\nelse:\n  f(3)\n",
    "if a:\n\ttry:\n\t    f(1)\n\t# no\n# nor here\n\texcept E:\n\t\tf(2)\n        f(3)\nf(4)\n",
    "with f(1): x = 1\nwith a, \\\n  f(2):\n    pass\n    # end\n# out\n    f(3)\nf(4)\n",
    "def g(a=f(1), *, b=[\n  f(2)]) -> f(3): return f(4)\nx = lambda x=[]: f(5)\n",
    "match = f(1)\ncase = f(2)\nmatch x:\n  case f(3) if f(4): f(5)\n  case _:\n    f(6)\n",
    "async def g():\n  async with f(1):\n    await f(2)\n  async for i in f(3):\n    pass\n",
    "while f(1):\n while f(2):\n  try:\n    f(3)\n  finally:\n    f(4)\n else:\n  f(5)\n",
    'x = {\n"a": f(1)\n, "b":\nlambda: f(2)}\na[f(1):\n f(2)] = f(3)\n',
    "x = [i\nfor i in f(1)\nif f(2)]\ny = {a:\n  f(3)}\nz = 'a' \\\n  if f(1) else f(2)\n",
    'f("""\n)""", f(1))\nx = "\\\nf(2)"\ny = f(3) # a (\nz = f(4)\n',
    "print f(1)\nexec f(2)\nf(3)\n",
    "class A:\n  x = 1\n  if f(1):\n    def m(self, a=[f(2)]):\n      return f(3)\n    @f(4)\n"
    "    def n(self, b=None): pass\n",
    "\x0cf(1)\n\x0cdef g(a=f(2)):\n\x0c  f(3)\n\x0c\n  return f(4)\n",
    'def g():\n    """f(1)\n    return f(2)\n    """\n    try:\n        """\nexcept f(3):\n  """\n'
    "    except E: f(4)\n    (f(5))\n    [f(6)]\n    return f(7)\n",
    "for i in (f(1)\n  , 2): f(2)\nelse: f(3)\nfor j in f(4):\n  f(5)\n  # out\nelse:\n  f(6)\n",
    "x = (a +\n# "
    + "long " * 60
    + "word\nb == None\n)\ny = (a +\n\nb == None\n)\nz = (a\n# f(\n.b == None)\n",
    "x = f(1,\nkey=2)\ny = (a\nif f(1)\nelse b)\nclass A:\n  x = (f(3,\n  key=a\n  @ b))\n",
    "if a:\n  \x0cif f(1):\n    f(2)\n  \x0celse:\n    f(3)\n",
    "def g():\n  try:\n    try: f(1)\n    except A: f(2)\n    if a:\n      try:\n        f(3)\n"
    "      except B:  # b\n        f(4)\n      except C: pass\n  except D:\n    try:\n     f(5)\n"
    "    finally:\n     pass\n  except (E,\n  # e\n   F): pass\n  else:\n    with f(6): pass\n"
    "  finally:\n    with a:\n      try: f(7)\n      except: f(8)\n",
    "try:\n  f(1)\nexcept* A as b: # c\n  f(2)\nexcept* D:\n\n  # e\n  f(3)\n",
    "class A:\n  def g(self):\n    try: f(1)\n    except A:\n      # b\n      f(2)\n\n"
    "##  def h():\n##    f(3)\n\n  # c\n  def k(self):\n    f(4)\n  # def\n"
    "  x = lambda: f(5)  # d\n  def m(): 1\n",
    "def g(a=lambda: f(1)): # b\n  # c\n  return lambda d: f(2)\nasync def h(): pass\n",
    'x = \'a\\\r\nb """\'\r\nf(1)\r\ny = \'a\\\r\nb """\'\r\nf(2)\r\n',
    'x = \\\n  """f(1)\n""", f(2)\n# a \\\n"""\nf(3)"""\n'
    "y = r\"a\" \\\n\"b\\\n\" \\\n'''c''', f(4)\n",
    "class A(f):\n  def g(self):\n    if a:\n      return f(1)\n    # end\n    # of it\n",
    "def g():\n  class A(f):\n    def g(self):\n      return f(1)\n      # a\n     # b\n   # c\n",
    "",
    "\n\n",
    "\ufefff(1)\n",
]


def told(raw: bytes, rules: Ruleset, least: int) -> object:
    kept = surveying._WORTH_PIECES
    surveying._WORTH_PIECES = least
    try:
        report = examine(raw, "a.py", "python", rules)
    finally:
        surveying._WORTH_PIECES = kept
    return report.findings, report.conflicts, report.lines, report.problems


def same(raw: bytes) -> None:
    for rules in RULES:
        for one in rules:
            one.looks_past = ""  # as if it had not been seen to
        assert told(raw, rules, -1) == told(raw, rules, 1 << 40), raw.decode("utf-8", "replace")


@pytest.mark.parametrize("code", UGLY)
@pytest.mark.parametrize("padding", ["", "z = 0\n" * 900])
def test_ugly_code(code: str, padding: str) -> None:
    for text in (code, padding + code, code + padding, padding + code + padding + code):
        same(text.encode())
    same((padding + code).replace("\r\n", "\n").replace("\n", "\r\n").encode())


@given(st.lists(st.sampled_from(UGLY), min_size=1, max_size=5), st.booleans())
def test_ugly_code_in_any_order(codes: list[str], in_a_class: bool) -> None:
    text = "\n".join(codes)
    if in_a_class:
        text = "class Outer:\n" + "".join(f"    {line}\n" for line in text.splitlines())
        text += "    def last(self): pass\n" * 120
    same(text.encode())


def test_the_pieces_of_a_file_are_the_file() -> None:
    for file in sorted((DEMO / "alder").rglob("*.py")):
        raw = file.read_bytes()
        cut = pieces(raw)
        assert cut is not None, file
        assert b"".join(raw[piece.start : piece.end] for piece in cut.found) == raw
        for piece in cut.found:
            if not piece.header:
                assert not tree_of(raw[piece.start : piece.end]).errors, (file, piece)


@pytest.mark.parametrize("head", ["", "import os\n\n", "import os\n\n@dec\n", "@dec(1)\n@other\n"])
def test_a_large_class_is_cut_into_its_members(head: str) -> None:
    code = head + "class A(B):\n" + "    def f(self):\n        return f(1)\n\n" * 200
    cut = pieces(code.encode())
    assert cut is not None and len(cut.found) == 201 + head.startswith("import")
    same(code.encode())


def test_a_text_at_the_start_of_a_class_does_not_say_how_its_members_are_indented() -> None:
    text = '    """Do:\n\n        with f(1):\n    """\n\n'
    code = "class A(B):\n" + text + "    def g(self):\n        x = 1\n        return f(2)\n\n" * 200
    cut = pieces(code.encode())
    assert cut is not None and len(cut.found) == 201
    assert {code[piece.start :][:9] for piece in cut.found[1:]} == {"    def g"}
    same(code.encode())


def test_the_library_itself_in_pieces_and_whole() -> None:
    """A share of the files; YTR_SHARE=1 takes all."""
    share = int(os.environ.get("YTR_SHARE", "60"))
    files = sorted(Path(sysconfig.get_paths()["stdlib"]).rglob("*.py"))[::share]
    rules = (
        rules_of(("isinstance(@{x}, @{y})", None)),
        rules_of(("class @{n}(object): @{b*}", None), ("raise @{e}(@{_*})", None)),
        conditional("print(@{_*})", none_of(inside("class @{_}: @{_*}"))),
        conditional("len(@{_})", inside("def @{_}(self, @{_*}): @{_*}")),
        conditional("len(@{_})", none_of(inside("class @{_}(@{_}): @{_*}"))),
        rules_of(("class @{n}: @{b*}", None)),
        rules_of(("not @{x} in @{y}", "@{x} not in @{y}"), ("not @{x}", None)),
        rules_of(("try: @{b*}\nexcept @{e}: pass", None), ("with open(@{x}): @{b*}", "@{b*}")),
        rules_of(("for @{i} in range(@{n}): @{b*}", None), ("while True: @{b*}", None)),
        Ruleset.of([own]),
        Ruleset.of([near]),
        Ruleset.of([everything]),
        Ruleset.of([handled, defined]),
        Ruleset.of([settled, within]),
    )
    cut = 0
    for file in files:
        raw = file.read_bytes()
        cut += pieces(raw) is not None
        for some in rules:
            assert told(raw, some, -1) == told(raw, some, 1 << 40), file
    assert cut > len(files) * 0.9


@pytest.mark.parametrize("end", ["\n", "\r\n"])
def test_texts_on_lines_that_go_on_are_told(end: str) -> None:
    text = 'x = \\\n  """f(1)\n""" \\\n  "f(2)\\\n""" \\\n\'\'\'f(3)\'\'\'\n'
    text += '# a \\\n"""\nf(4)"""\nf(5)\n'
    code = text.replace("\n", end).encode()
    strings = long_strings(code)
    assert strings is not None
    inside = {n: strings.around(code.index(b"f(%d)" % n)) is not None for n in range(1, 6)}
    assert inside == {1: True, 2: False, 3: True, 4: True, 5: False}
    same(code * 3)


@pytest.mark.parametrize(
    "after",
    [
        "(f(1),\n x) = f(2), 1\n",
        "@dec(f(3),\n  a)\ndef h():\n    f(4)\n    return f(5)\n",
        "@dec\ndef h():\n    f(6)\n# c\n@dec(\n)\nclass A(f):\n    def g(self):\n        f(7)\n",
        "x = [\nf(8)\n]\n    # e\n",
        "# " + "long " * 90 + "\n_a = {\n1: f(9)}\n",
    ],
)
def test_what_stands_behind_a_large_class_is_no_part_of_it(after: str) -> None:
    for body in ("    def g(self, a):\n        x = f(0)\n\n", "    x = f(\n0\n)\n"):
        code = "class A(f):\n" + body * 200
        for text in (code + after, code + after + code, after + code, "@a(\n)\n" + code + after):
            same(text.encode())


def test_a_large_table_of_texts_is_not_parsed_for_what_they_say() -> None:
    rows = "".join(f'    \'f({at}) not a in b\': rb"f(\\"{at}", # f({at})\n' for at in range(900))
    table = f"x = {{\n{rows}}}\n"
    calls = Rule("calls", summary="Calls.", find="f(@{x})")
    assert examine(table.encode(), "a.py", "python", Ruleset.of([calls])).parsed is False
    for code in ("{f(1): {2}}", "f'{f(1)}'", "rF'{f(1)}'", "f(1), 'f(2)'"):
        same(f"x = {{\n{rows}    {code},\n{rows}}}\n".replace("{2}", "2").encode())
    same(f"x = {{\n{rows}    ',\n}}\nf(1)\n".encode())


def test_rules_that_look_at_headers_get_no_more_until_they_ask() -> None:
    code = b"try:\n    f(1)\n    f(2)\nexcept A:\n    with f(3):\n        f(4)\n        f(5)\n" * 9
    for one, past in ((handled, ""), (settled, ""), (within, "head")):
        one.looks_past = ""
        found = shares([(0, one)], Sightings(code), one.language)
        assert (
            found is not None and sum(e - s for s, e in found.found[0].only.spans) < len(code) / 2
        )
        told(code, Ruleset.of([one]), -1)
        assert one.looks_past == past


def test_rules_that_ask_for_functions_around_get_headers_and_lines() -> None:
    inner = "        if a:\n            f(1)\n        return 2\n" + "        x = 1\n" * 40
    for code in (
        f"class A:\n    def g(self):\n{inner}" * 9,
        f"class A:\n  def g(self):\n{inner * 90}",
    ):
        where = [inside("def g(@{_*}): @{_*}"), none_of(inside("class B: @{_*}"))]
        (one,) = conditional("f(@{x})", *where).rules
        found = shares([(0, one)], Sightings(code.encode()), one.language)
        assert found is not None
        assert sum(e - s for s, e in found.found[0].only.spans) < len(code) / 9
        same(code.encode())


def test_a_statement_of_very_many_lines_is_gone_through_once() -> None:
    rows = "".join(f"    'row {at}': [not a in b, f({at}), '''(\n'''],\n" for at in range(6000))
    some = rules_of(("not @{a} in @{b}", "@{a} not in @{b}"), ("f(@{x})", None))
    raw = f"table = {{\n{rows}}}\nx = f(1)\n".encode()
    assert told(raw, some, -1) == told(raw, some, 1 << 40)


def test_classes_are_told_apart_wherever_they_stand() -> None:
    code = (
        "class A(f):\n    def g(self):\n        return 1\n\n"
        "class Other:\n    def g(self):\n        class B(f):\n            x = 1\n        return 2\n"
        "    class C(f): pass\n    class D(f):\n        x = 1\n        # the end\n    # not of it\n"
        "\ndef h():\n        class E(f):\n                '''doc'''\n        return 3\n"
    )
    for text in (code, code * 3, "z = 0\n" * 900 + code):
        for find in ("class @{n}(f): @{b*}", "class @{n}: @{b*}"):
            some = rules_of((find, "class @{n}(g): @{b*}"))
            assert told(text.encode(), some, -1) == told(text.encode(), some, 1 << 40)
