"""Renaming random bindings of the standard library there and back; YTR_CASES=1000 for the full run."""

from __future__ import annotations

import dis
import os
import random
import types

import pytest

from tests.conftest import tree_of
from tests.semantics.test_scopes import LIBRARY, parsed
from yellow_trellis import Tree
from yellow_trellis.semantics import Binding, facts_of
from yellow_trellis.semantics.python.renaming.rename import Renaming, rename_binding

CASES = int(os.environ.get("YTR_CASES", "80"))
NEW = "quite_new_name"


def renamed(binding: Binding, new: str) -> tuple[bytes, str]:
    """Return the text with `binding` called `new`, and why that must not be."""
    done = Renaming()
    rename_binding(binding, new, done)
    data = binding.scope.tree.source.data
    out, at = b"", 0
    for edit in done.in_order():
        out += data[at : edit.span.start] + "".join(p.text for p in edit.pieces).encode()
        at = edit.span.end
    return out + data[at:], done.clash


def instructions(code: types.CodeType, name: str) -> list[tuple[str, str]]:
    """Return all instructions with both names written as one, those of a function sorted.

    The compiler orders cells by name, so that their order is none of what must stay.
    """

    def plain(value: object) -> str:
        if isinstance(value, types.CodeType):
            return ""
        text = str(sorted(map(str, value)) if isinstance(value, frozenset) else value)
        return text.replace(NEW, name)

    found = sorted(
        (i.opname, plain(i.argval))
        for i in dis.get_instructions(code)
        if i.opname != "EXTENDED_ARG" and "JUMP" not in i.opname
    )
    inner = [c for c in code.co_consts if isinstance(c, types.CodeType)]
    return found + [one for c in inner for one in instructions(c, name)]


def of_functions(tree: Tree) -> list[Binding]:
    return [
        b
        for b in facts_of(tree).names.bindings
        if b.scope.kind in ("function", "lambda", "comprehension") or b.hows == {"function"}
        if b.name != "self"  # newer compilers take note of what is assigned to it
    ]


@pytest.mark.parametrize("seed", range(CASES // 20))
def test_there_and_back_gives_the_same_bytes(seed: int) -> None:
    dice = random.Random(seed)
    done = 0
    while done < 20:
        file = dice.choice(LIBRARY)
        both = parsed(file)
        if both is None or both[1].source.codec != "utf-8" or not of_functions(both[1]):
            continue
        done += 1
        raw, tree = both
        binding = dice.choice(of_functions(tree))
        data, clash = renamed(binding, NEW)
        if clash:
            continue
        old, new = (
            compile(r, "f", "exec", dont_inherit=True) for r in (raw, tree.source.raw(data))
        )
        name = binding.name
        assert instructions(old, name) == instructions(new, name), (file, binding)
        again = [b for b in facts_of(tree.with_data(data)).names.bindings if b.name == NEW]
        assert tree.source.data in [renamed(b, name)[0] for b in again], (file, binding)


# Each: code, the name, the new name, what the refusal says.
REFUSED = [
    ("def f(a): return b", "a", "b", "`b` means something else at 1:18"),
    ("def f(a):\\n    b = a", "a", "b", "`b` is taken: it is bound at 2:5"),
    ("def f(a):\\n    return [a for b in c]", "a", "b", "`b` is taken in between, at 2:"),
    (
        "def f(a):\\n    def g():\\n        return b, a",
        "a",
        "b",
        "`b` means something else at 3:16",
    ),
    ("def f(a): return locals()", "a", "b", "`locals()` at 1:18 may see the name itself"),
    ("def f(a): return f'{a=}'", "a", "b", "the text at 1:21 shows the name itself"),
    ("import a.b\\na.b", "a", "c", "binds the name of a package"),
    ("class C:\\n    def __a(self): pass", "_C__a", "b", "two underscores"),
    ("def f(a): return a", "a", "not", "cannot be a name"),
    ("def a(): pass\\nprint(len)", "a", "len", "`len` means something else at 2:7"),
    (
        "def f(a):\\n    def g():\\n        global b\\n        b = a",
        "a",
        "b",
        "means something else at 3:16",
    ),
]


@pytest.mark.parametrize(("code", "name", "new", "reason"), REFUSED)
def test_a_name_that_is_taken_or_would_be_captured_is_refused(code, name, new, reason) -> None:
    tree = tree_of(code.replace("\\n", "\n") + "\n")
    (binding,) = [b for b in facts_of(tree).names.bindings if b.name == name]
    assert reason in renamed(binding, new)[1]


ALLOWED = [
    ("class C:\\n    a = 1\\n    def f(self): return b", "a", "b"),
    ("def f(a):\\n    def g(b): return b\\n    return a", "a", "b"),
    ("def f(a): return x.b, g(b=1)", "a", "b"),
    ("def f(x):\\n    def b(): pass\\ndef g(a): return a", "a", "b"),
]


@pytest.mark.parametrize(("code", "name", "new"), ALLOWED)
def test_a_name_that_is_in_nobodys_way_is_given(code, name, new) -> None:
    tree = tree_of(code.replace("\\n", "\n") + "\n")
    (binding,) = [b for b in facts_of(tree).names.bindings if b.name == name]
    assert renamed(binding, new)[1] == ""


def test_calls_of_the_file_name_the_argument_anew() -> None:
    tree = tree_of("def f(a, *, b=1): return a\nf(a=1, b=2)\ng(a=3)\nlambda f: f(a=4)\n")
    (binding,) = [b for b in facts_of(tree).names.bindings if b.name == "a"]
    data, clash = renamed(binding, "x")
    assert not clash
    assert data == b"def f(x, *, b=1): return x\nf(x=1, b=2)\ng(a=3)\nlambda f: f(a=4)\n"


RENAMING = """
from yellow_trellis import fix, rule

@rule("names", summary="A name says more.", kinds=["module"])
def names(node, code):
    for binding in code.facts.names.bindings:
        if binding.name in ("depart", "Tram", "speed", "LIMIT", "ring", "told"):
            there = binding.definitions[0].node
            yield code.finding(there, fixes=[fix("Rename it").rename(binding, "new_" + binding.name)])
"""


@pytest.mark.parametrize(("code", "name", "reason"), [
    ("def depart(x):\n    return x\n", "depart", "another file uses `depart`"),
    ("class Tram:\n    pass\n", "Tram", "another file uses `Tram`"),
    ("class T:\n    def speed(self):\n        return 1\n", "speed", "the member `speed`"),
    ("class T:\n    speed = 1\n", "speed", "the member `speed`"),
    ("LIMIT = 3\n", "LIMIT", "another file uses `LIMIT`"),
    ("def _inner():\n    def ring():\n        return 1\n    return ring()\n", "ring", ""),
    ("def ring():\n    return 1\nring()\n", "ring", ""),
    ("def f():\n    told = 1\n    return told\n", "told", ""),
])
def test_a_rule_in_code_renames_nothing_that_other_files_may_say(
    tmp_path: Path, ytr, code: str, name: str, reason: str
) -> None:
    (tmp_path / "r.py").write_text(RENAMING)
    package = tmp_path / "alder"
    package.mkdir()
    (package / "__init__.py").write_text("")
    (package / "a.py").write_text(code)
    (package / "b.py").write_text("from alder.a import depart, Tram, LIMIT\nimport alder.a as a\na.T().speed\n")
    told = ytr("apply", "--rules", "r.py", "--format", "json", "alder")
    fates = [fate for fate in told.json["fates"] if fate["rule"] == "names"]
    now = (package / "a.py").read_text("utf-8")
    if reason:
        assert now == code and reason in fates[0]["reason"] and "`rename`" in fates[0]["reason"]
    else:
        assert now == code.replace(name, f"new_{name}")
