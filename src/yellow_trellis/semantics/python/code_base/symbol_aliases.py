"""Aliases of symbols across a code base: imports with `as` and re-exports, followed."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from yellow_trellis.semantics import ModuleGraph
from yellow_trellis.semantics.modules import Rows, Scan
from yellow_trellis.source import words_at

OtherNames = Callable[[list[str]], Iterable[tuple[str, Rows]]]
"""Gives of each file its dotted name, and the rows of `scan_for_other_names` for some words."""


def words_of(
    results: Iterable[str], other_names: OtherNames, graph: ModuleGraph
) -> dict[str, frozenset[str]]:
    """Return by dotted name the words that files can refer to it with.

    Arguments: `results` are the names; `other_names` looks for words in the files of the code base.
    """
    entries = {name: {name.rpartition(".")[2]} for name in results}
    fresh = {name: set(words) for name, words in entries.items()}
    while any(fresh.values()):
        fresh = _aliases(fresh, other_names, graph)
        for name, words in fresh.items():
            words -= entries[name]
            entries[name] |= words
    return {name: frozenset(words) for name, words in entries.items()}


def _aliases(
    words: dict[str, set[str]], other_names: OtherNames, graph: ModuleGraph
) -> dict[str, set[str]]:
    """Return other names that modules give to what is known by `words`."""
    table: dict[str, set[str]] = {name: set() for name in words}
    for module, rows in other_names(sorted(set().union(*words.values()))):
        for new, inside in rows:
            for name in words:
                if _is(graph, module, new, name, bool(inside)):
                    table[name].add(new)
    return table


def scan_for_other_names(words: Iterable[str]) -> Scan:
    """Return a scan for other names that a file may give to what has one of `words`.

    Each row is such a name, and a word that is not empty where the name is given inside of
    something: a class, or a function.
    """
    encoded = [word.encode("utf-8") for word in words]

    def scan(data: bytes) -> Rows:
        results: dict[tuple[str, ...], None] = {}
        for word in encoded:
            for at in words_at(data, word):
                new, is_inside = _other_name(data, at, at + len(word))
                if new:
                    results[new, "inside" if is_inside else ""] = None
        return tuple(results)

    return scan


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
