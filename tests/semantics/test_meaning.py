"""What names come down to: imports, aliases, re-exports, receivers, and what is not certain."""

from __future__ import annotations

import re

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yellow_trellis import Tree
from yellow_trellis.languages import language
from yellow_trellis.semantics import Facts, ModuleGraph, ProjectContext, Summary, facts_of
from yellow_trellis.semantics.python.code_base.import_scan import mentions
from yellow_trellis.source import Source

BASE = {
    "alder": """
from .depot import Depot
from ._impl import *
from . import lines as rails, compat
from .stamp import stamp
__all__ = ["Depot", "old"]
""",
    "alder._impl": "def old(x): pass\ndef _hidden(): pass\nnew = old\n",
    "alder.stamp": "def stamp(z): pass\n",
    "alder.compat": "from far.away import *\nfrom tramline.clock import stamp as now\n",
    "alder.mixed": "from tramline.clock import stamp as now\nfrom far.away import *\n",
    "alder.loop": "from .loop import a as b\nfrom .loop import b as a\n",
    "alder.lines": """
class Line:
    def stop(self): ...
class Night(Line): ...
class Far(Unknown):
    def stop(self): ...
class Deep(Far): ...
""",
    "alder.depot": """
from __future__ import annotations
import typing as t
from tramline.depot import Tram as T
from .lines import Line, Night
class Depot:
    size: int = 3
    main_line = Line()
    def __init__(self, tram: T, other=None, *rest: T):
        self.line = Line()
        self.night: Night = make()
        self.tram = tram
        self.other = other
        self.both = Line()
        self.both = Night()
    def __enter__(self): return self
    def __exit__(self, *a): ...
    def first(self) -> "T": ...
    def maybe(self) -> t.Optional[T]: ...
    def again(self) -> t.Self: ...
    @property
    def main(self) -> Line: ...
    @classmethod
    def make(cls): return cls()
    @staticmethod
    def plain(car): return car
def find(name) -> Depot: ...
async def later() -> Depot: ...
""",
    **{  # each imports all of each other
        f"alder.ring_{one}": "".join(f"from .ring_{other} import *\n" for other in "abcdef" if other != one)
        + ("def toll(): pass\n" if one == "c" else "")
        for one in "abcdef"
    },
    "alder.over": "from far.away import *\nfrom .stamp import *\n",
    "alder.under": "from .stamp import *\nfrom far.away import *\n",
    "alder.deep": "from .stamp import *\nfrom .compat import *\n",
    "alder.pair_a": "from .pair_b import *\nfrom .pair_c import *\n",
    "alder.pair_b": "from .pair_a import *\ndef bell(): pass\n",
    "alder.pair_c": "from .pair_a import *\ndef bell(): pass\n",
}


def facts(code: str, module: str = "app", package: str = "") -> Facts:
    """Return the facts of `code` in the code base above."""

    def load(name: str):
        package = name if name == "alder" else name.rpartition(".")[0]
        made = Tree(
            Source(BASE[name].encode()),
            language("python"),
            lambda: ProjectContext(graph, name, package),
        )
        return msgspec.json.decode(msgspec.json.encode(facts_of(made).summary), type=Summary)

    graph = ModuleGraph(dict.fromkeys(BASE, ""), load)
    place = ProjectContext(graph, module, package)
    return facts_of(Tree(Source(code.encode()), language("python"), lambda: place))


CASES = [
    # imports
    ("import alder", "alder.Depot", "alder.depot.Depot"),
    ("import alder.depot", "alder.depot.Depot", "alder.depot.Depot"),
    ("import alder.depot as d", "d.Depot.make", "alder.depot.Depot.make"),
    ("from alder import Depot as D", "D", "alder.depot.Depot"),
    ("from alder import rails", "rails.Line", "alder.lines.Line"),
    ("from alder import compat", "compat.now", "tramline.clock.stamp"),
    ("from alder.mixed import now", "now", None),  # a star behind it may bind it anew
    ("from alder.compat import now", "now", "tramline.clock.stamp"),
    ("from alder import old", "old", "alder._impl.old"),
    ("from alder import *", "old", "alder._impl.old"),
    ("from alder import *", "rails", None),
    ("from alder import *", "_hidden", None),
    ("from alder._impl import new", "new", "alder._impl.old"),
    ("from alder import stamp", "stamp", "alder.stamp.stamp"),
    ("from alder.over import stamp", "stamp", "alder.stamp.stamp"),
    ("from alder.under import stamp", "stamp", None),  # what is far away may have one, too
    ("from alder.deep import stamp", "stamp", None),
    ("from alder.ring_a import toll", "toll", "alder.ring_c.toll"),
    ("from alder.pair_a import bell", "bell", None),  # it depends on which is loaded first
    ("from alder.ring_c import toll", "toll", "alder.ring_c.toll"),
    ("from alder.ring_a import nothing", "nothing", "alder.ring_a.nothing"),
    ("from alder.ring_a import *", "print", "builtins.print"),
    ("import tramline.clock", "tramline.clock.stamp", "tramline.clock.stamp"),
    ("from tramline import clock as c", "c.stamp", "tramline.clock.stamp"),
    ("from alder.compat import somewhat", "somewhat", None),
    ("from alder.loop import a", "a", None),
    ("try:\n    from fast import q\nexcept ImportError:\n    q = None", "q", "fast.q"),
    ("try:\n    from fast import q\nexcept ImportError:\n    from slow import q", "q", None),
    # aliases and shadows
    ("from tramline import clock\nf = clock.stamp", "f", "tramline.clock.stamp"),
    ("from tramline.clock import stamp\ndef stamp(): pass", "stamp", None),
    ("def g(stamp):\n    return stamp", "g", "app.g"),
    ("class A:\n    class B: pass", "A.B", "app.A.B"),
    ("def f():\n    class C:\n        def m(self): pass\n    return C", "f", "app.f"),
    ("", "print", "builtins.print"),
    ("print = 3", "print", "app.print"),
    ("", "nowhere", None),
    # receivers
    ("from alder import Depot\nx = Depot(1)", "x.line.stop", "alder.lines.Line.stop"),
    ("from alder import Depot\nx = Depot(1)", "x.night.stop", "alder.lines.Line.stop"),
    ("from alder import Depot\nx = Depot(1)", "x.tram.halt", "tramline.depot.Tram().halt"),
    ("from alder import Depot\nx = Depot(1)", "x.other.halt", None),
    ("from alder import Depot\nx = Depot(1)", "x.both.stop", None),
    ("from alder import Depot\nx = Depot(1)", "x.first().halt", "tramline.depot.Tram().halt"),
    ("from alder import Depot\nx = Depot(1)", "x.maybe().halt", "tramline.depot.Tram().halt"),
    ("from alder import Depot\nx = Depot(1)", "x.again().first", "alder.depot.Depot.first"),
    ("from alder import Depot\nx = Depot(1)", "x.main.stop", "alder.lines.Line.stop"),
    ("from alder import Depot\nx = Depot(1)", "x.main_line.stop", "alder.lines.Line.stop"),
    ("from alder import Depot\nx = Depot(1)", "x.plain", "alder.depot.Depot.plain"),
    ("from alder import Depot\nwith Depot(1) as d: pass", "d.first", "alder.depot.Depot.first"),
    ("import alder.depot as d", "d.find(1).first", "alder.depot.Depot.first"),
    ("import alder.depot as d", "d.later().first", None),
    ("from alder import Depot\nx: 'Depot | None' = g()", "x.first", "alder.depot.Depot.first"),
    ("from alder import Depot\nx: Depot | None = g()", "x.first", "alder.depot.Depot.first"),
    ("from alder import Depot\nx: 'Depot' = g()", "x.first", "alder.depot.Depot.first"),
    ("from alder import Depot\nx: type[Depot] = g()", "x.make", "alder.depot.Depot.make"),
    ("from alder.lines import Night", "Night().stop", "alder.lines.Line.stop"),
    ("from alder.lines import Far", "Far().stop", "alder.lines.Far.stop"),
    ("from alder.lines import Deep", "Deep().go", None),
    ("from tramline.depot import Tram\nt = Tram()\nt = Tram(2)", "t.halt", "tramline.depot.Tram().halt"),
    ("from tramline.depot import Tram\nt = Tram()\nt = 3", "t.halt", None),
    ("from tramline.depot import open_, Tram\nt = open_().car", "t.halt", "tramline.depot.open_().car.halt"),
]  # rows


@pytest.mark.parametrize(("given", "expression", "meant"), CASES)
def test_a_name_comes_down_to_its_definition(given: str, expression: str, meant: str) -> None:
    known = facts(f"{given}\n({expression})\n")
    assert known.meaning(known.tree.root.items[-1].core) == meant


def test_methods_know_what_they_are_asked_of() -> None:
    code = """
from alder import Depot
class Sub(Depot):
    def first(self): return super().first
    def line_of(self): return self.line.stop
    @classmethod
    def of(cls): return cls.make
    def of_other(self, other: Depot, *more: Depot): return other.first, more.first
"""
    known = facts(code)
    told = {
        node.text: known.meaning(node)
        for node in known.tree.root.walk()
        if node.kind == "attribute" and node.parent.kind != "attribute"
    }
    assert told == {
        "super().first": "alder.depot.Depot.first",
        "self.line.stop": "alder.lines.Line.stop",
        "cls.make": "alder.depot.Depot.make",
        "other.first": "alder.depot.Depot.first",
        "more.first": None,
    }


def test_relative_imports_start_from_the_package() -> None:
    known = facts("from .depot import Depot\nfrom .. import x\nDepot\n", "alder.new", "alder")
    assert known.meaning(known.tree.root.items[-1].core) == "alder.depot.Depot"
    assert [one.source("alder") for _, one in known.names.imports] == ["alder.depot", None]


def test_the_places_of_a_thing_are_found_under_every_name() -> None:
    code = """
from tramline.clock import stamp as s
import tramline.clock as c
again = s
def f(stamp, x):
    stamp(1)
    return s(x), again(2), c.stamp, x.stamp
"""
    known = facts(code)
    places = [(str(n.place), n.text) for n in known.places("tramline.clock.stamp")]
    assert places == [("4:9", "s"), ("7:12", "s"), ("7:18", "again"), ("7:28", "c.stamp")]


@given(st.text(alphabet="ab.\"' \n_é", max_size=40))
def test_a_mention_is_a_name_behind_a_dot_or_in_quotes(code: str) -> None:
    data = code.encode()
    expected = re.search(rb"\.\s*ab(?![\w\x80-\xff])|[\"']ab[\"']", data) is not None
    assert mentions(data, "ab") is expected
