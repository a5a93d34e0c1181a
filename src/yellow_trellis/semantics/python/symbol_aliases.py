"""Aliases of symbols across a code base: imports with `as` and re-exports, followed."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from yellow_trellis.semantics import ModuleGraph
from yellow_trellis.source import words_at

Contents = Callable[[], Iterable[tuple[str, bytes]]]
"""Gives the dotted name of each file and its bytes, one after another, as often as it is called."""


def words_of(
    results: Iterable[str], contents: Contents, graph: ModuleGraph
) -> dict[str, frozenset[str]]:
    """Return by dotted name the words that files can refer to it with.

    Arguments: `results` are the names; `contents` gives the files of the code base.
    """
    entries = {name: {name.rpartition(".")[2]} for name in results}
    fresh = {name: set(words) for name, words in entries.items()}
    while any(fresh.values()):
        fresh = _aliases(fresh, contents, graph)
        for name, words in fresh.items():
            words -= entries[name]
            entries[name] |= words
    return {name: frozenset(words) for name, words in entries.items()}


def _aliases(
    words: dict[str, set[str]], contents: Contents, graph: ModuleGraph
) -> dict[str, set[str]]:
    """Return other names that modules give to what is known by `words`."""
    every = sorted({word.encode("utf-8") for some in words.values() for word in some})
    table: dict[str, set[str]] = {name: set() for name in words}
    for module, raw in contents():
        for word in every:
            for at in words_at(raw, word):
                new, inside = _other_name(raw, at, at + len(word))
                for name in words if new else ():
                    if _is(graph, module, new, name, inside):
                        table[name].add(new)
    return table


def _is(graph: ModuleGraph, module: str, word: str, name: str, inside: bool) -> bool:
    """Return whether `word` of a module, or of a class in it if `inside`, means `name`."""
    if not inside:
        return graph.same(f"{module}:{word}", name)
    summary = graph.summary(module)
    classes = summary.names.items() if summary is not None else ()
    return any(
        word in entry.members and graph.same(f"{module}:{holder}.{word}", name)
        for holder, entry in classes
        if entry.kind == "class"
    )


_AS = re.compile(rb"\s+as\s+(\w+)")
_SET = re.compile(rb"([ \t]*)([^\W\d]\w*)[ \t]*(?::[^=\n]*)?=[^=\n]*")
_END = re.compile(rb"[ \t)]*(?:[#;\r\n]|$)")


def _other_name(data: bytes, start: int, end: int) -> tuple[str, bool]:
    """Return the name that the code around a word may give to what the word means.

    With it comes whether it is given inside of something: a class, or a function.
    """
    if (match := _AS.match(data, end)) is not None:
        return match[1].decode("utf-8", "replace"), False
    line = data.rfind(b"\n", 0, start) + 1
    argument = _SET.fullmatch(data, line, start)
    if argument is None or _END.match(data, end) is None:
        return "", False
    return argument[2].decode("utf-8", "replace"), bool(argument[1])
