"""What values are: what is bound again, checked, hidden or handed out counts as not known."""

from __future__ import annotations

import pytest

from tests.conftest import tree_of
from yellow_trellis.semantics import facts_of

HEAD = """class A:
    def go(self): pass
class B(A):
    def go(self): pass
"""
# Each: what it shows, the code, and what its last `.go` means; after a `!` what it must not mean.
CASES = {
    'param ann': ('def f(x: A):\n    x.go()\n', 'A.go'),
    'param rebound': ('def f(x: A):\n    x = B()\n    x.go()\n', '!A.go'),
    'param rebound loop': ('def f(x: A, ys):\n    for x in ys: pass\n    x.go()\n', '!A.go'),
    'param rebound with': ('def f(x: A, ys):\n    with ys as x: pass\n    x.go()\n', '!A.go'),
    'param rebound except': ('def f(x: A):\n    try: pass\n    except E as x: x.go()\n', '!A.go'),
    'param rebound walrus': ('def f(x: A, y):\n    if (x := y): x.go()\n', '!A.go'),
    'param rebound match': ('def f(x: A, y):\n    match y:\n        case [x]: x.go()\n', '!A.go'),
    'param None': ('def f(x: A = None):\n    if x: x.go()\n', 'A.go'),
    'param same': ('def f(x: A):\n    x = A()\n    x.go()\n', 'A.go'),
    'isinstance': ('def f(x: A):\n    if isinstance(x, B):\n        x.go()\n', '!A.go'),
    'isinstance not': ('def f(x: A):\n    if not isinstance(x, B):\n        return\n    x.go()\n', '!A.go'),
    'isinstance other': ('def f(x: A, y):\n    if isinstance(y, B):\n        x.go()\n', 'A.go'),
    'match class': ('def f(x: A):\n    match x:\n        case B():\n            x.go()\n', '!A.go'),
    'type is': ('def f(x: A):\n    if type(x) is B:\n        x.go()\n', '!A.go'),
    'self type': ('from typing import Self\nclass C:\n    def go(self): pass\n    def me(self) -> Self: return self\nclass D(C):\n    def go(self): pass\nD().me().go()\n', '!C.go'),
    'self type base': ('from typing import Self\nclass C:\n    def go(self): pass\n    def me(self) -> Self: return self\nclass D(C): pass\nC().me().go()\n', 'C.go'),
    'enter': ('class C:\n    def go(self): pass\n    def __enter__(self): return self\nclass D(C):\n    def go(self): pass\nwith D() as d:\n    d.go()\n', '!C.go'),
    'enter ok': ('class C:\n    def go(self): pass\n    def __enter__(self): return self\nwith C() as d:\n    d.go()\n', 'C.go'),
    'attr init': ('class C:\n    x = A()\n    def __init__(self): self.x = B()\n    def m(self): self.x.go()\n', '!A.go'),
    'attr method hidden': ('class C:\n    def go(self): pass\n    def __init__(self): self.go = len\n    def m(self): self.go()\n', '!C.go'),
    'attr outside': ('class C:\n    def go(self): pass\nc = C()\nc.go = len\nc.go()\n', '!C.go'),
    'attr nested': ('class C:\n    x = A()\n    def m(self):\n        def n(): self.x = B()\n        n()\n        self.x.go()\n', '!A.go'),
    'static alias': ('s = staticmethod\nclass C:\n    @s\n    def m(self): self.go()\n    def go(self): pass\n', '!C.go'),
    'static call': ('class C:\n    def m(self): self.go()\n    m = staticmethod(m)\n    def go(self): pass\n', '!C.go'),
    'static import': ('from builtins import staticmethod as s\nclass C:\n    @s\n    def m(self): self.go()\n    def go(self): pass\n', '!C.go'),
    'called property': ('class C:\n    @property\n    def p(self) -> A: pass\nC().p().go()\n', '!A.go'),
    'property': ('class C:\n    @property\n    def p(self) -> A: pass\nC().p.go()\n', 'A.go'),
    'coroutine': ('async def c() -> A: pass\nc().go()\n', '!A.go'),
    'descriptor': ('class D:\n    def __get__(self, a, b): return B()\n    def go(self): pass\nclass C:\n    x = D()\nC().x.go()\n', '!D.go'),
    'no descriptor': ('class C:\n    x = A()\nC().x.go()\n', 'A.go'),
    'foreign super': ('def super(): return B()\nclass C(A):\n    def m(self): super().go()\n', '!A.go'),
    'super': ('class C(A):\n    def m(self): super().go()\n', 'A.go'),
    'foreign Optional': ('class Optional:\n    def __class_getitem__(cls, x): return B\ndef f(x: Optional[A]): x.go()\n', '!A.go'),
    'Optional': ('from typing import Optional\ndef f(x: Optional[A]): x.go()\n', 'A.go'),
    't.Optional': ('import typing as t\ndef f(x: t.Optional[A]): x.go()\n', 'A.go'),
    'except star': ('class E(Exception):\n    def go(self): pass\ntry: pass\nexcept* E as e: e.go()\n', '!E.go'),
    'except': ('class E(Exception):\n    def go(self): pass\ntry: pass\nexcept E as e: e.go()\n', 'E.go'),
    'new': ('class C:\n    def __new__(cls): return B()\n    def go(self): pass\nC().go()\n', '!C.go'),
    'cls': ('class C:\n    @classmethod\n    def mk(cls): return cls()\n    def go(self): pass\nclass D(C):\n    def go(self): pass\nD.mk().go()\n', '!C.go'),
    'private bound again': ('class C:\n    def __mk(x): pass\n    __mk = staticmethod(__mk)\n    def go(self): pass\nC().go()\n', 'C.go'),
    'union': ('from typing import Union\ndef f(x: Union[A, None]): x.go()\n', 'A.go'),
    'union2': ('from typing import Union\ndef f(x: Union[A, B]): x.go()\n', '!A.go'),
    'ann then': ('x: A = B()\nx.go()\n', 'A.go'),
    'ann then assigned': ('def f():\n    x: A = A()\n    x = B()\n    x.go()\n', '!A.go'),
}  # rows


@pytest.mark.parametrize("case", CASES)
def test_a_method_through_a_value(case: str) -> None:
    code, wanted = CASES[case]
    tree = tree_of(HEAD + code)
    assert not tree.errors
    calls = [n for n in tree.root.walk() if n.kind == "call" and n.items[0].kind == "attribute"]
    last = [n.items[0] for n in calls if n.items[0].items[-1].text == "go"][-1]
    meaning = facts_of(tree).meaning(last)
    short = None if meaning is None else ".".join(meaning.replace("()", "").split(".")[-2:])
    assert (short != wanted[1:]) if wanted[0] == "!" else short == wanted
