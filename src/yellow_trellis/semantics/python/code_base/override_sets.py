"""Members of classes that stand for one another, up and down the lines of inheritance."""

from __future__ import annotations

import builtins
import re
from collections.abc import Callable, Iterable, Iterator
from functools import partial

from yellow_trellis.semantics import ModuleGraph
from yellow_trellis.source import NAME, holds_word

_CLASS = re.compile(rb"\bclass\s+\w+\s*(?:\[[^\]]*\]\s*)?(\(.{0,2000}?\)\s*:)?", re.DOTALL)
_AS = re.compile(rb"\b(\w+)\s+as\s+(\w+)")
_SET = re.compile(
    rb"^[ \t]*(\w+)[ \t]*(?::[^=\n]*)?=[ \t(]*([\w.]+)[ \t)]*(?:[#;\r]|$)", re.MULTILINE
)


class Classes:
    """Modules that may derive a class from a name, found in one pass over all files.

    A class may have other names by then: those that ``as`` or an assignment gives.
    """

    def __init__(self, contents: Callable[[], Iterable[tuple[str, bytes]]]) -> None:
        self._contents = contents
        self._deriving: dict[bytes, list[str]] = {}
        self._names: dict[bytes, set[bytes]] = {}
        for module, raw in contents():
            for result in (
                *_AS.findall(raw), *((value, name) for name, value in _SET.findall(raw))
            ):
                old, new = result[0].rpartition(b".")[2], result[1]
                if old != new:
                    self._names.setdefault(old, set()).add(new)
            for word in {word for bases in _CLASS.findall(raw) for word in NAME.findall(bases)}:
                self._deriving.setdefault(word, []).append(module)

    def having(self, word: str) -> Iterator[str]:
        """Yield the modules with a class that say `word`."""
        sought = word.encode("utf-8")
        for module, raw in self._contents():
            if b"class" in raw and holds_word(raw, sought):
                yield module

    def deriving(self, word: str) -> Iterator[str]:
        """Yield the modules with a class whose bases say `word`, or what may be the same."""
        words = {word.encode("utf-8")}
        todo = list(words)
        while todo:
            extra = self._names.get(todo.pop(), set()) - words
            words |= extra
            todo += extra
        return iter(
            dict.fromkeys(m for word in sorted(words) for m in self._deriving.get(word, ()))
        )


def family_of(name: str, classes: Classes, graph: ModuleGraph) -> tuple[frozenset[str], str]:
    """Return the members that stand for the class member `name` in classes above and below.

    With them comes the reason why there may be more outside, empty if there is none. What is no
    member of a class stands for itself.
    """
    owner, _, member = name.rpartition(".")
    entry = graph.entry(owner) if owner else None
    if entry is None or entry.kind != "class":
        return frozenset({name}), ""
    related = {owner}
    todo = [owner]
    outside = ""
    while todo:
        item = todo.pop()
        above = []
        for base in graph.bases(item):
            entries = graph.entry(base) if base is not None else None
            if base is not None and entries is not None:
                above += [base] if member in entries.members else []
            elif base is None or not _harmless(base, member):
                message = base or "a base"
                outside = f"`{message}` of `{item}` is not of this code base and may have it too"
        for second in {*above, *_heirs(item, classes, graph)} - related:
            related.add(second)
            todo.append(second)
    having = {item for item in related if (e := graph.entry(item)) and member in e.members}
    outside = outside or _by_shape(member, having, classes, graph)
    return frozenset(f"{item}.{member}" for item in having | {owner}), outside


def _by_shape(member: str, having: set[str], classes: Classes, graph: ModuleGraph) -> str:
    """Return why the member may be that of a protocol, which classes need not name."""
    is_protocol = any(map(partial(_is_protocol, graph), having))
    for module in classes.having(member):
        summary = graph.summary(module)
        for name, entry in summary.names.items() if summary is not None else ():
            whole = f"{module}.{name}"
            if entry.kind != "class" or member not in entry.members or whole in having:
                continue
            if is_protocol:
                return f"a protocol has it, and `{whole}` may be meant by that"
            if _is_protocol(graph, whole):
                return f"the protocol `{whole}` has it too"
    return ""


def _is_protocol(graph: ModuleGraph, name: str) -> bool:
    entry = graph.entry(name)
    bases = entry.bases if entry is not None else ()
    return any(base is not None and re.split(r"[.:]", base)[-1] == "Protocol" for base in bases)


def _heirs(name: str, classes: Classes, graph: ModuleGraph) -> Iterator[str]:
    """Yield the classes of the code base that name the class `name` as a base."""
    for module in classes.deriving(name.rpartition(".")[2]):
        summary = graph.summary(module)
        for inner, entry in summary.names.items() if summary is not None else ():
            if any(b is not None and graph.resolve(b) == name for b in entry.bases):
                yield f"{module}.{inner}"


_HARMLESS = ("abc.", "enum.", "typing.", "typing_extensions.", "collections.abc.")


def _harmless(base: str, member: str) -> bool:
    """Return whether a class of the language itself has no such member of its own."""
    if base.startswith("builtins."):
        return not hasattr(getattr(builtins, base.partition(".")[2], None), member)
    return base.startswith(_HARMLESS)
