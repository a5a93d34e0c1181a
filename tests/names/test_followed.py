"""Each line of the table in docs/names.md on how far a name is followed, on code of its own."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import rules_of
from tests.names.test_tables import rows_of
from yellow_trellis import RunOptions, run

CARS = """import dataclasses
class Line: ...
class Tram:
    line = Line()
    def __enter__(self): return self
    def __exit__(self, *e): ...
    def same(self) -> "Tram": return self
    def halt(self): ...
    @property
    def twin(self) -> "Tram": return self
    def self_(self): return self
class Night(Tram):
    def halt(self): ...
class Odd:
    def __new__(cls): return 1
    def halt(self): ...
@dataclasses.dataclass
class Card(Tram):
    zone: int = 1
class Yard:
    trams: list[Tram]
    def __init__(self):
        self.by_line: dict[int, Tram] = {}
    def parked(self) -> list[Tram]: ...
    @classmethod
    def first(cls): return Tram()
"""
LIB = "def old(*a): ...\nf = old\nclass Kept: ...\n"
FILES = {
    "cars.py": CARS,
    "lib.py": LIB,
    "pack/__init__.py": "from ._impl import old\n",
    "pack/_impl.py": "def old(*a): ...\n",
    "twice.py": "from lib import f\n",
}
NAMES = ("lib.old", "pack._impl.old", "cars.Tram.halt", "builtins.str.split")
GO = "from cars import *\n"

# Each: code in which a line is marked where the function, or the method of a tram, is called.
ROWS: dict[str, tuple[str, ...]] = {
    "`import a.b`, `import a.b as c`, `from a import b as c`, relative imports": (
        "import lib\nimport lib as c\nfrom lib import old as d\nlib.old()  #!\nc.old()  #!\nd()  #!\n",
    ),
    "`f = lib.old`, also from one module through another": (
        "import lib, twice\ng = lib.old\ng()  #!\ntwice.f()  #!\n",
        "import lib\ng = lib.old\ng = len\ng()\n",
    ),
    "a package's face: `from ._impl import old` in `__init__.py`": ("import pack\npack.old()  #!\n",),
    "`from a import *`": ("from lib import *\nold()  #!\n", "from far import *\nold()\n"),
    "`try: from a import x`, `except ImportError: x = None`": (
        "try:\n    from lib import old\nexcept ImportError:\n    old = None\nold()  #!\n",
    ),
    "`t = Tram()`, `t: Tram`, `def f(t: Tram \\| None)`, `self.line = Line()`, `super()`": (
        GO + "t = Tram()\nt.halt()  #!\ndef f(t: Tram | None, u: 'Tram'):\n    t.halt()  #!\n    u.halt()  #!\n",
        GO + "class A:\n    def __init__(self): self.t = Tram()\n    def g(self): self.t.halt()  #!\n",
        GO + "class B(Tram):\n    def halt(self): super().halt()  #!\n",
    ),
    "`with Depot() as d`": (GO + "with Tram() as t:\n    t.halt()  #!\n", "with far() as t:\n    t.halt()\n"),
    "`with parked() as t`, where `@contextmanager` stands above a generator that says `Iterator[Tram]`": (
        GO + "from contextlib import contextmanager, asynccontextmanager as made\n"
        "from typing import Iterator, AsyncIterator\n"
        "@contextmanager\ndef parked() -> Iterator[Tram]: yield Tram()\n"
        "@made\nasync def later() -> AsyncIterator[Tram]: yield Tram()\n"
        "with parked() as t: t.halt()  #!\n"
        "async def f():\n    async with later() as t: t.halt()  #!\n",
        GO + "from typing import Iterator\nfrom far import contextmanager, twice\n"
        "@contextmanager\ndef parked() -> Iterator[Tram]: yield Tram()\n"
        "with parked() as t: t.halt()\nparked().halt()\n",
    ),
    "`if isinstance(t, Night):`": (
        GO + "def f(t: Tram):\n    if isinstance(t, Night):\n        t.halt()\n    t.halt()  #!\n",
    ),
    "a parameter or variable that is bound again, by an assignment, `for`, `with`, `except`, `:=` or "
    "`case`": (
        GO + "def f(t: Tram, u):\n    t = u\n    t.halt()\n",
        GO + "def f(t: Tram, u):\n    for t in u: t.halt()\n",
        GO + "def f(u):\n    t = u\n    t = Tram()\n    t.halt()  #!\n",
    ),
    "`for t in [Tram()]`, `for t in trams` with `trams: list[Tram]`": (
        GO + "for t in [Tram()]: t.halt()  #!\ndef f(us: list[Tram]):\n    for u in us: u.halt()  #!\n",
    ),
    "the items of a container that an annotation declares, in any file: `for t in yard.trams`, "
    "`yard.parked()[0]`, `.values()`, `.items()`, `.get(1)`, `.pop()`, `enumerate`, `zip`, `sorted`, "
    "`max`, `next(iter(trams))`": (
        GO + "def f(y: Yard, ts: list[Tram]):\n"
        "    for t in y.trams: t.halt()  #!\n"
        "    y.parked()[0].halt()  #!\n"
        "    for t in y.by_line.values(): t.halt()  #!\n"
        "    for n, t in y.by_line.items(): t.halt()  #!\n"
        "    y.by_line.get(1).halt()  #!\n"
        "    y.by_line.get(1, None).halt()  #!\n"
        "    y.trams.pop().halt()  #!\n"
        "    for n, t in enumerate(y.trams): t.halt()  #!\n"
        "    for a, b in zip(ts, y.trams): (a.halt(),  #!\n"
        "        b.halt())  #!\n"
        "    for t in sorted(ts, key=id)[1:]: t.halt()  #!\n"
        "    max(y.trams, key=id).halt()  #!\n"
        "    next(iter(ts)).halt()  #!\n",
        GO + "def f(y: Yard, u):\n"
        "    ts = [Tram()]\n"
        "    ts.append(u)\n"
        "    for t in ts: t.halt()\n"
        "    y.by_line.get(1, u).halt()\n"
        "    y.by_line.get(1, Odd()).halt()\n"
        "    max(y.trams, default=u).halt()\n"
        "    for n, t in y.by_line.items(): n.halt()\n"
        "    y.trams.halt()\n"
        "    def sorted(x): ...\n"
        "    for t in sorted(y.trams): t.halt()\n",
    ),
    "what a class method, a static method or a function returns that makes it each time": (
        GO + "Yard.first().halt()  #!\ndef make(): return Tram()\nmake().halt()  #!\n",
        GO + "def make(u): return Tram() if u else u\nmake(1).halt()\n",
    ),
    "a literal, and what methods of texts give": (
        "'a b'.split()  #!\nx = 'a'\nx.strip().lower().split()  #!\n"
        "def f(s: str, b: bytes):\n    s[1:].split()  #!\n    (s + x).split()  #!\n    b.split()\n",
    ),
    "`copy(t)`, `dataclasses.replace(t, ...)`, `t._replace(...)`": (
        GO + "from copy import copy\nimport dataclasses\ncopy(Tram()).halt()  #!\n"
        "dataclasses.replace(Card(), zone=2).halt()  #!\n",
    ),
    "`Self`, and what returns `self`": (GO + "Tram().same().halt()  #!\nTram().__enter__().halt()  #!\n",),
    "an attribute of a class that its methods, or the file, also set on instances": (
        GO + "class C(Tram):\n    def g(self):\n        self.halt = 1\nC().halt()\n",
    ),
    "a first parameter under `staticmethod`, also by another name, and of a method whose name is bound "
    "twice": (
        GO + "class C(Tram):\n    @staticmethod\n    def g(self): self.halt()\n",
        GO + "s = staticmethod\nclass C(Tram):\n    @s\n    def g(self): self.halt()\n",
    ),
    "what a class with a `__new__` of its own makes; a value with a `__get__`; a coroutine; `except*`": (
        GO + "Odd().halt()\n",
        GO + "async def make() -> Tram: ...\nmake().halt()\n",
    ),
    "`type(t)`, `t.__class__`, `Union`, `t.Optional`": (
        GO + "t = Tram()\ntype(t).halt(t)  #!\nt.__class__.halt(t)  #!\n",
        GO + "def type(x): ...\nt = Tram()\ntype(t).halt(t)\n",
        GO + "from typing import Optional\ndef f(t: Optional[Tram]): t.halt()  #!\n",
    ),
    "a name that is imported, with `from a import *` behind it": (
        "from lib import old\nfrom cars import *\nold()  #!\n",
        "from lib import old\nfrom far import *\nold()\n",
    ),
    "a class's bases within the code base; properties and functions that say what they return": (
        GO + "class D(Tram): ...\nD().halt()  #!\nTram().twin.halt()  #!\ndef make() -> Tram: ...\nmake().halt()  #!\n",
    ),
    "a parameter of the same name, or any other definition that hides it": (
        "from lib import old\nold()  #!\ndef f(old): old()\ndef g():\n    old = 1\n    old()\n",
    ),
    "two definitions that do not agree; a class whose base is not known": (
        "from far import *\nclass E(Base): ...\nE().halt()\n",
        "import lib\nif lib:\n    g = lib.old\nelse:\n    g = len\ng()\n",
    ),
}


def test_the_table_is_the_one_that_is_tried() -> None:
    assert rows_of("in the code") == list(ROWS)


@pytest.mark.parametrize("row", ROWS)
def test_how_far_a_name_is_followed(row: str, tmp_path: Path) -> None:
    for name, text in FILES.items():
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(text, "utf-8")
    rules = rules_of(
        *((f"@<{name}>(@{{_*}})", None) for name in NAMES)
    )
    for code in ROWS[row]:
        (tmp_path / "use.py").write_text(code, "utf-8")
        done = run([tmp_path / "use.py"], rules, RunOptions(workers=1))
        wanted = [n for n, line in enumerate(code.splitlines(), 1) if line.endswith("#!")]
        assert [found.start.line for found in done.findings] == wanted, code
