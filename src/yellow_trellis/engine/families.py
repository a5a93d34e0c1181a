"""Members of classes that stand for one another, up and down the lines of inheritance."""

from __future__ import annotations

import builtins
import re
from collections.abc import Callable, Iterable, Iterator
from functools import partial

from yellow_trellis.facts import ModuleGraph

Modules = Callable[[bytes], Iterable[str]]
"""Gives the modules with a class, and a word."""


def family_of(name: str, modules: Modules, graph: ModuleGraph) -> tuple[frozenset[str], str]:
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
        one = todo.pop()
        above = []
        for base in graph.bases(one):
            known = graph.entry(base) if base is not None else None
            if base is not None and known is not None:
                above += [base] if member in known.members else []
            elif base is None or not _harmless(base, member):
                told = base or "a base"
                outside = f"`{told}` of `{one}` is not of this code base and may have it too"
        for other in {*above, *_heirs(one, modules, graph)} - related:
            related.add(other)
            todo.append(other)
    having = {one for one in related if (e := graph.entry(one)) and member in e.members}
    outside = outside or _by_shape(member, having, modules, graph)
    return frozenset(f"{one}.{member}" for one in having | {owner}), outside


def _by_shape(member: str, having: set[str], modules: Modules, graph: ModuleGraph) -> str:
    """Return why the member may be that of a protocol, which classes need not name."""
    is_protocol = any(map(partial(_is_protocol, graph), having))
    for module in modules(member.encode("utf-8")):
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


def _heirs(name: str, modules: Modules, graph: ModuleGraph) -> Iterator[str]:
    """Yield the classes of the code base that name the class `name` as a base."""
    for module in modules(name.rpartition(".")[2].encode("utf-8")):
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
