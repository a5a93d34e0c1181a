"""Scopes, held against the interpreter: `symtable` and compiled code say what each name is.

A sample of the standard library by default; YTR_SHARE=1 takes every file of it.
"""

from __future__ import annotations

import inspect
import os
import re
import symtable
import sys
import sysconfig
import types
from collections import Counter, defaultdict
from pathlib import Path

import pytest

from tests.conftest import tree_of
from yellow_trellis import Tree
from yellow_trellis.languages import language
from yellow_trellis.semantics import Scope, facts_of
from yellow_trellis.source import Source

SHARE = int(os.environ.get("YTR_SHARE", "25"))
LIBRARY = sorted(Path(sysconfig.get_path("stdlib")).rglob("*.py"))
LIBRARY = [f for f in LIBRARY if "site-packages" not in f.parts][::SHARE]
_COMPREHENSIONS = ("genexpr", "listcomp", "setcomp", "dictcomp")
_OWN_BLOCKS = ("annotation", "type parameters", "type alias", "TypeVar bound")
Signature = tuple[frozenset[str], frozenset[str], frozenset[str]]


def theirs(raw: bytes, path: str) -> list[tuple[int, str, Signature]]:
    """Return line, name, local, global and free names of each scope, by the interpreter."""
    found = []
    stack = [symtable.symtable(raw, path, "exec")]
    while stack:
        table = stack.pop()
        stack += table.get_children()
        kind = getattr(table.get_type(), "value", table.get_type())
        if str(kind) in _OWN_BLOCKS or str(kind).startswith(("TypeVar", "type ")):
            continue
        local, world, free = set(), set(), set()
        for symbol in table.get_symbols():
            name = symbol.get_name()
            if name.startswith(".") or name in ("__classdict__", "__conditional_annotations__"):
                continue
            if symbol.is_free():
                free.add(name)
            elif symbol.is_local():
                local.add(name)
            elif symbol.is_global():
                world.add(name)
        name = "" if kind == "module" else table.get_name()
        name = "comprehension" if name in _COMPREHENSIONS else name
        found.append((table.get_lineno(), name, (*map(frozenset, (local, world, free)),)))
    return sorted(found, key=lambda f: (f[0], f[1], sorted(map(sorted, f[2]))))


def ours(tree: Tree) -> list[tuple[int, str, Signature]]:
    """Return the same by our scopes.

    The interpreter also lists what only passes through a scope: names that scopes inside take
    from scopes around, and in the module what functions declare global.
    """
    future = re.search(rb"^from __future__ import [^#\n]*annotations", tree.source.data, re.M)
    postponed = future is not None or sys.version_info >= (3, 14)
    scopes = facts_of(tree).names.scopes
    through: dict[Scope, set[str]] = defaultdict(set)
    declared: set[str] = set()
    seen: dict[Scope, dict[str, Scope]] = {}
    for scope in scopes:
        seen[scope] = {}
        for name, symbol in scope.symbols.items():
            only_told = not (symbol.reads or symbol.bound or symbol.declared or symbol.implicit)
            if only_told and (postponed or not symbol.starts("annotation")):
                continue
            owner = seen[scope][name] = scope.owner(name)
            if symbol.declared == "global":
                declared.add(name)
            above = scope.parent
            while owner.parent is not None and owner is not scope and above is not owner:
                through[above].add(name)
                above = above.parent
    found = []
    for scope in scopes:
        if scope.kind == "types":
            continue
        names = seen[scope]
        local = {n for n, o in names.items() if o is scope and scope.symbols[n].bound}
        world = {n for n, o in names.items() if o.parent is None and n not in local}
        free = ({n for n in names if n not in local | world}) | (through[scope] - local)
        if scope.parent is None:
            world |= declared - local
        name = scope.name or ("" if scope.parent is None else scope.kind)
        line = tree.source.place(scope.start).line if scope.parent is not None else 0
        found.append((line, name, (*map(frozenset, (local, world, free)),)))
    return sorted(found, key=lambda f: (f[0], f[1], sorted(map(sorted, f[2]))))


def codes(code: types.CodeType) -> list[tuple[str, ...]]:
    """Return kind, cell and free names of each function in compiled code."""
    found = []
    for inner in [c for c in code.co_consts if isinstance(c, types.CodeType)]:
        found += codes(inner)
    if code.co_flags & inspect.CO_OPTIMIZED:
        kinds = {f"<{name}>": "comprehension" for name in _COMPREHENSIONS} | {"<lambda>": "lambda"}
        kind = kinds.get(code.co_name, "function")
        found.append((kind, *sorted(code.co_cellvars), "|", *sorted(code.co_freevars)))
    return found


def parsed(file: Path) -> tuple[bytes, Tree] | None:
    """Read a file that both the interpreter and the grammar can read."""
    raw = file.read_bytes()
    try:
        compile(raw, str(file), "exec", dont_inherit=True)
    except (SyntaxError, ValueError):
        return None
    tree = Tree(Source.read(raw, path=str(file)), language("python"))
    return None if tree.errors else (raw, tree)


def explained(theirs: tuple[int, str, Signature], ours: tuple[int, str, Signature]) -> bool:
    """Return whether two differ in what `symtable` cannot say: a name both of a class and through it.

    A class that binds a name which passes through it too is asked about one of the two only.
    """
    if theirs == ours:
        return True
    mine, told = ours[2], theirs[2]
    if not ours[1]:  # of the module, local and global are one
        return mine[0] | mine[1] == told[0] | told[1]
    return mine[0] == told[0] and mine[1] == told[1] and told[2] - mine[2] <= mine[0]


@pytest.mark.skipif(sys.version_info >= (3, 12), reason="comprehensions are merged there")
@pytest.mark.parametrize("file", LIBRARY, ids=lambda f: f"{f.parent.name}/{f.name}")
def test_every_scope_of_the_library_is_what_the_interpreter_says(file: Path) -> None:
    both = parsed(file)
    if both is None:
        pytest.skip("not to be read as this version's code")
    raw, tree = both
    for one, other in zip(theirs(raw, str(file)), ours(tree), strict=True):
        assert explained(one, other), (one, other)


@pytest.mark.skipif(sys.version_info >= (3, 12), reason="comprehensions are no functions there")
@pytest.mark.parametrize("file", LIBRARY[::4], ids=lambda f: f"{f.parent.name}/{f.name}")
def test_cells_are_those_of_the_compiled_code(file: Path) -> None:
    both = parsed(file)
    if both is None or b"import annotations" in both[0]:
        pytest.skip("not to be read as this version's code")
    raw, tree = both
    free: dict[Scope, set[str]] = defaultdict(set)
    cells: dict[Scope, set[str]] = defaultdict(set)
    for scope in facts_of(tree).names.scopes:
        for name, symbol in scope.symbols.items():
            if not symbol.used:
                continue
            owner, inner = scope.owner(name), scope
            while owner.parent is not None and inner is not owner:
                free[inner].add(name)
                cells[owner].add(name)
                inner = inner.parent
    mine = Counter(
        (s.kind, *sorted(cells[s]), "|", *sorted(free[s] - cells[s]))
        for s in facts_of(tree).names.scopes
        if s.kind in ("function", "lambda", "comprehension")
    )
    # code that can never run is not compiled: we may have more
    code = compile(raw, str(file), "exec", dont_inherit=True)
    assert not Counter(codes(code)) - mine


CASES = """
def f(a, b=d, *c, e: T = 1, **k): return a, x
class A(B, metaclass=M): y = 1; z = [y for _ in y]
def f():\\n global g\\n g = 1\\n def h(): return g
def f():\\n n = 1\\n def h():\\n  nonlocal n\\n  n += 1
[w := 1 for i in r if (w2 := i)]
def f(): return [w := i for i in (lambda: q)()]
class C:\\n def m(self): return super().m, __class__
class C:\\n __p = 1\\n def m(self): return self.__p, __q
try:\\n pass\\nexcept E as e:\\n e
with a as (b, c), d as e.f: b
for i, (j, *k) in z: i
del a, b.c, d[0]
def f(): del q; return q
def f():\\n x: int = 1\\n y: str\\n (z): bytes\\n return x
match s:\\n case P(a, k=b) as c if c: a\\n case [q, *r] | {'k': q, **r}: q\\n case M.N: 0\\n case _: 1
import a.b as c, d.e\\nfrom . import x as y, z\\nfrom m import *\\nimport q.r.s
lambda p, *q, r=s: (p, q, r, t)
@deco(arg)\\ndef f(x=default): return x
f'{a!r:>{b}} {c=}' 'plain' rf'{d}'
async def f():\\n async with a as b: return [c async for c in d]
x = y = z = x.y[z] = 1
print(*a, **b, sep=c)
def f(x): x += 1; global later; later = [x for x in x]
class C:\\n x = x\\n def x(self): return x
type(x).y = z
"""


@pytest.mark.parametrize(
    "code",
    [c for c in CASES.strip().split("\n") if sys.version_info < (3, 12) or " for " not in c],
)
def test_each_way_of_binding_is_what_the_interpreter_says(code: str) -> None:
    code = code.replace("\\n", "\n") + "\n"
    for one, other in zip(theirs(code.encode(), "t"), ours(tree_of(code)), strict=True):
        assert explained(one, other), (one, other)


def test_a_binding_knows_every_place_that_says_it() -> None:
    code = (
        "import os\n__all__ = ['os', 'run']\n"
        "def run(a: 'os.PathLike') -> os.stat_result:\n    global os\n    del os\n    return os\n"
    )
    names = facts_of(tree_of(code)).names
    (binding,) = [b for b in names.bindings if b.name == "os"]
    uses = [(one.use, str(one.place)) for one in binding.occurrences]
    assert uses == [
        ("bind", "1:8"),
        ("quoted", "3:13"),
        ("annotation", "3:30"),
        ("declare", "4:12"),
        ("delete", "5:9"),
        ("read", "6:12"),
    ]
    assert names.exported is not None and [name for name, _ in names.exported] == ["os", "run"]


@pytest.mark.skipif(sys.version_info < (3, 12), reason="newer grammar")
@pytest.mark.parametrize(
    "code",
    [
        "class A[T: int, *Ts](B[T]):\n    x: T\n    def f[U](self, a: U, b: T) -> T: return T\n",
        "type X[T] = list[T]\n",
        "def f[T](a: T, b=T): return T\n",
    ],
)
def test_type_parameters_have_a_scope_of_their_own(code: str) -> None:
    tree = tree_of(code)
    owners = {
        (name, scope.owner(name).kind)
        for scope in facts_of(tree).names.scopes
        for name in scope.symbols
        if name == "T"
    }
    default = {("T", "module")} if "b=T" in code else set()
    assert owners == {("T", "types")} | default


def test_a_type_alias_binds_its_name_and_its_parameters_inside() -> None:
    names = facts_of(tree_of("type A = int\ntype B[T] = list[T]\n")).names
    assert names.module.binds("A") and names.module.binds("B") and not names.module.binds("T")
