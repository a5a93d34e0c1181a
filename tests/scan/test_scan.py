"""What rules find on parts of a file is what they find on all of it, however ugly the file."""

import os
import sysconfig
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import rules_of
from yellow_trellis import Rule, Ruleset, holds, load_rules, none_of, taken, within
from yellow_trellis.languages import language
from yellow_trellis.languages.python.statement_scanner import StatementScanner
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.scan import select, selection
from yellow_trellis.source import TokenIndex

ROOT = Path(__file__).parents[2]


@pytest.fixture(autouse=True)
def no_file_is_too_small(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(selection, "_SMALLEST", 0)
    monkeypatch.setattr(selection, "_MOST", 2.0)


def conditional(find: str, *where: Condition) -> Ruleset:
    return Ruleset.of([Rule("only", summary="Only there.", find=find, where=where)])


RULES = (
    rules_of(("f(@{x})", "g(@{x})")),
    rules_of(("@{a} == None", "@{a} is None")),
    rules_of(("with f(@{x}): @{b*}", None)),
    rules_of(("class @{n}(f): @{b*}", None)),
    rules_of(("f(@{x})", None), ("return @{y}", None)),
    rules_of(("class @{n}: @{b*}", None), ("class @{n}(f): @{b*}", "class @{n}: @{b*}")),
    conditional("f(@{x})", within("class @{_}: @{_*}"), within("def @{_}(@{_*}): @{_*}")),
    conditional("f(@{x})", within("class @{_}(@{_*}):\n    @{_*}\n    def last(self): @{_*}")),
    conditional("f(@{x})", within("def @{_}(@{_*}): @{_*}"), none_of(within("class @{_}: @{_*}"))),
    conditional("f(@{x})", within("def g(@{_*}): @{_*}"), none_of(within("class A(f): @{_*}"))),
    conditional("class @{n}(@{_*}): @{b*}", holds("f(4)")),
    conditional("try: @{b*}\nexcept @{e}: @{c*}", holds("f(1)")),
    conditional("if @{c}: @{b*}", holds("f(2)")),
    rules_of(("f(@{x}, key=@{y})", None), ("@{x} if f(@{_}) else @{y}", None)),
    rules_of(("while @{c}: @{b*}", None), ("for @{x} in @{y}: @{b*}", None)),
    rules_of(("not @{a} in @{b}", "@{a} not in @{b}"), ("f(@{x}) if @{y} else @{z}", None)),
    rules_of(("f(@{x})", "g(@{x})"), ("h(f(@{x}))", "k(@{x})"), ("@{n} = f(@{_})", None)),
    rules_of(("f(@{x})", "g(@{x})"), ("with f(@{x}): @{b*}", "with h(@{x}): @{b*}")),
    conditional("@{n} = @{v}", taken("n", text="[xyz]")),
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


def reports(raw: bytes, rules: Ruleset) -> list[object]:
    """Return what is reported of a file: parsed in parts, and parsed whole."""
    both = [
        process_file(raw, "a.py", "python", rules, RunOptions(whole_files=whole))
        for whole in (False, True)
    ]
    return [(r.findings, r.conflicts, r.lines, r.problems) for r in both]


def same(raw: bytes) -> None:
    for rules in RULES:
        in_parts, whole = reports(raw, rules)
        assert in_parts == whole, raw.decode("utf-8", "replace")


def parsed(code: bytes, rules: Ruleset) -> int | None:
    """Return how many bytes of a file are parsed for some rules; None for all."""
    chosen = select(list(enumerate(rules)), TokenIndex(code), language("python"))
    return None if chosen is None else sum(end - start for start, end in chosen.spans)


@pytest.mark.parametrize("code", UGLY)
@pytest.mark.parametrize("padding", ["", "z = 0\n" * 9])
def test_ugly_code(code: str, padding: str) -> None:
    for text in (code, padding + code, code + padding, padding + code + padding + code):
        same(text.encode())
    same((padding + code).replace("\r\n", "\n").replace("\n", "\r\n").encode())


@given(st.lists(st.sampled_from(UGLY), min_size=1, max_size=5), st.booleans())
def test_ugly_code_in_any_order(codes: list[str], in_a_class: bool) -> None:
    text = "\n".join(codes)
    if in_a_class:
        text = "class Outer:\n" + "".join(f"    {line}\n" for line in text.splitlines())
        text += "    def last(self): pass\n"
    same(text.encode())


def test_the_library_in_parts_and_whole() -> None:
    """A share of the files; YTR_SHARE=1 takes all."""
    share = int(os.environ.get("YTR_SHARE", "400"))
    files = sorted(Path(sysconfig.get_paths()["stdlib"]).rglob("*.py"))[::share]
    declared = [
        one
        for name in ("forty", "shapes")
        for one in load_rules([ROOT / "benchmarks" / f"rules_{name}.py"])
        if one.function is None
    ]
    rules = (
        *(Ruleset.of([one]) for one in declared),
        rules_of(("isinstance(@{x}, @{y})", None), ("raise @{e}(@{_*})", None)),
        rules_of(("@{x}.format(@{a*})", None), ("lambda @{x}: @{y}", None)),
        conditional("print(@{_*})", none_of(within("class @{_}: @{_*}"))),
        conditional("len(@{_})", within("def @{_}(self, @{_*}): @{_*}")),
        rules_of(("with open(@{x}): @{b*}", "@{b*}"), ("while True: @{b*}", None)),
    )
    partly = 0
    for file in files:
        raw = file.read_bytes()
        for some in rules:
            in_parts, whole = reports(raw, some)
            if raw.strip() and whole:
                assert in_parts == whole, (file, [rule.name for rule in some])
            partly += parsed(raw, some) is not None
    assert partly > len(files) * len(rules) / 2


def test_little_is_parsed_for_a_word() -> None:
    body = "    def g(self):\n        x = f(1)\n        return 2\n" + "        x = 1\n" * 40
    code = f"class A:\n{body * 9}".encode()
    calls = rules_of(("f(@{x})", None))
    assert parsed(code, calls) == 9 * len("x = f(1)\n")
    assert parsed(code, conditional("f(@{x})", within("def g(@{_*}): @{_*}"))) == len(code)
    assert parsed(code, rules_of(("@{x} = @{x}", None))) is None
    assert parsed(b"# trellis: leave rule-0 because x\n" + code, calls) is None
    table = b'x = [\n"""f(1)""",\n]\n'
    assert parsed(table, calls) == 0


@pytest.mark.parametrize(
    ("code", "told"),
    [
        ("if a:\n    x = f(1)\n", "x = f(1)\n"),
        ("if f(1):\n    pass\n", "if f(1):\n"),
        ("if a: pass\nelif f(1):\n    pass\n", "if f(1):\n"),
        ("@ f(1)\ndef g(): pass\n", "f(1)\n"),
        ("else: f(1)\n", None),
        ("x = [\nf(1)\n]\n", "x = [\nf(1)\n]\n"),
        ("x = (\nf(1)\nreturn 2\n", None),
        ("x = 'f(1)\nreturn\n", None),
        ("# f(1)\nreturn\n", ""),
        ("match x:\n  case f(1): pass\n", None),
        ("match = f(1)\n", "match = f(1)\n"),
        ("a \\\n  = f(1)\n", "a \\\n  = f(1)\n"),
    ],
)
def test_statements_are_told_from_their_bytes(code: str, told: str | None) -> None:
    raw = code.encode()
    span = StatementScanner(raw).statement(raw.index(b"f(1)"))
    assert (None if span is None else raw[span[0] : span[1]].decode()) == told


def test_segments_are_whole_statements() -> None:
    code = (
        b"import a\nif b:\n    c\nelse:\n    return f(1)\n@d\ndef e():\n    f(2)\nclass G:\n  f(3)\n"
    )
    scanner = StatementScanner(code)
    texts = [code[slice(*scanner.segment(code.index(b"f(%d)" % n)))] for n in (1, 2, 3)]
    assert texts[0] == texts[1] and texts[0].startswith(b"import a") and texts[0].endswith(b"f(2)\n")
    assert texts[2] == b"class G:\n  f(3)\n"
