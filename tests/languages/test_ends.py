"""Where a line is said to end what stands in it, the parser says so too."""

import os
import re
import sysconfig
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from yellow_trellis.languages import language
from yellow_trellis.source import Source
from yellow_trellis.syntax import Node, Tree

PYTHON = language("python")
LINE_END = re.compile(PYTHON.line_end)
EXPRESSION_END = re.compile(PYTHON.expression_end)
COMPOUND = PYTHON.compound | PYTHON.bodies | PYTHON.enclosing
OPENING = frozenset({"(", "[", "{"})
TEXT = frozenset({"comment", "string_content", "string_start", "escape_sequence", "string_end"})


def simple(leaf: Node) -> Iterator[tuple[Node, bool]]:
    """Yield the expressions and the simple statement around a leaf, the inner ones first.

    With each: whether all from the leaf to it hold no colon, and no bracket before the leaf.
    """
    plain = leaf.kind not in OPENING
    for above in leaf.ancestors():
        if above.kind in COMPOUND or above.kind == "string":
            return  # a place in a string is not asked about what is around that
        signs = [child.kind for child in above.children if child.end <= leaf.start]
        colon = any(child.kind == ":" for child in above.children)
        plain = plain and not colon and OPENING.isdisjoint(signs)
        if above.named:
            yield above, plain


def check(tree: Tree) -> tuple[int, int]:
    """Hold what is said of every place against the tree; return how often it is, of how many."""
    data = tree.source.data
    told = places = 0
    for leaf in tree.root.leaves():
        if leaf.kind in TEXT or leaf.start == leaf.end:
            continue
        stop = (data.find(b"\n", leaf.end) + 1 or len(data) + 1) - 1
        line = LINE_END.match(data, leaf.end) is not None
        expression = EXPRESSION_END.match(data, leaf.end) is not None
        for one, plain in simple(leaf):
            assert one.end <= stop or not (line or (plain and expression)), (leaf, one)
        told += expression
        places += 1
    return told, places


def test_the_library_agrees_with_the_parser() -> None:
    """A share of the files; YTR_SHARE=1 takes all."""
    share = int(os.environ.get("YTR_SHARE", "400"))
    told = places = 0
    for file in sorted(Path(sysconfig.get_paths()["stdlib"]).rglob("*.py"))[::share]:
        raw = file.read_bytes()
        tree = Tree(Source(raw), PYTHON)
        if not tree.errors and b"\r" not in raw:
            some = check(tree)
            told, places = told + some[0], places + some[1]
        tree.release()
    assert told > places / 2, "most lines should be plain"


UGLY = (
    "if not a:\n    b in c\n",
    "f(not a,\n  b in c)\n",
    "x = not a \\\n  in c\n",
    "y = [not a\n  in c, not b  # d in e\n  or c]\n",
    "z = {not a: b,\n  c: d in e}\n",
    "w = 'not a \\\nreturn b in c'\n",
    'v = not """a\n  b""" in c\n',
    "u = f(lambda: not a,\n  lambda b: not b\n  in c)\n",
    "t = a[not b:\n  c in d]\n",
    "if (n := not a) and (m := b):\n    pass\n",
    "s: int = (not a\n\n  # b in c\n\n  in d)\n",
    "r = (not '#'\n  'a' in c)\n",
    "q = not a  # b\nassert b in c\n",
    "p = (a if not b\n  else c in d)\n",
    "o = not f'{a}'; n = (not b\n  @c in d)\n",
    "match a:\n    case not_b if not b:\n        c in d\n",
    "class A(not_b, metaclass=c):\n    d: e = not f\n    g = h in i\n",
    "@not_a(b,\n  c)\nasync def f(a=not b, *,\n  c: d = e): return not f\n",
)


@given(st.lists(st.sampled_from(UGLY), min_size=1, max_size=6))
@example(["s: int = (not a\n\n  # b in c\n\n  in d)\n"])
def test_ugly_lines_agree_with_the_parser(parts: list[str]) -> None:
    tree = Tree(Source("".join(parts).encode()), PYTHON)
    assert not tree.errors
    check(tree)
    tree.release()


@pytest.mark.parametrize("ending", ["\n", "\r\n"])
def test_plain_lines_are_known(ending: str) -> None:
    for code in ("not a\nb = 1\n", "not f(a, [b])\n\n\n    self.c()\n", "not 'a'\nreturn\n"):
        assert LINE_END.match(code.replace("\n", ending).encode(), 3) is not None, code
    assert EXPRESSION_END.match(b"not a(b, 'c', [d]):", 3) is not None
