"""Entry points and other settings that name what a rule over the code base changes.

A program is started by ``[project.scripts]``, a class of a log handler is loaded by its name. Such
a file is not code, and no fix is written into it: the rule is refused, with the place to change.
"""

from __future__ import annotations

import os
import re
from collections.abc import Collection, Iterable, Iterator

from yellow_trellis.project.file_options import LARGEST
from yellow_trellis.project.project_registry import BaseSpec, code_base
from yellow_trellis.rules import RuleDefinition

SETTINGS = frozenset({".cfg", ".conf", ".ini", ".json", ".toml", ".yaml", ".yml"})
"""The endings of files that programs read names from."""

_DOTTED = re.compile(rb"[^\W\d]\w*(?:\.\w+)*(?::\w+(?:\.\w+)*|(?<=\w)\.\w+)")


def users_in_settings(
    rules: Iterable[RuleDefinition], paths: Iterable[str], base: BaseSpec
) -> dict[str, list[str]]:
    """Return by rule where settings name what it changes, each with the line and the name.

    Arguments: `paths` are the files of the code base.
    """
    entries = [rule for rule in rules if rule.across is not None and not rule.across.thing.argument]
    table: dict[str, list[str]] = {}
    for path, raw in texts_beside(entries, paths, SETTINGS) if entries else ():
        shown = os.path.relpath(path, base.root)
        for rule in entries:
            for line, name in _names_in(raw, rule, base):
                table.setdefault(rule.name, []).append(
                    f"{shown}:{line} names `{name}`, and is not code: change it there first"
                )
    return table


def texts_beside(
    rules: Iterable[RuleDefinition], paths: Iterable[str], endings: Collection[str]
) -> Iterator[tuple[str, bytes]]:
    """Yield those of `paths` that have one of `endings`, with what they hold, as far as is read.

    The files of `rules` themselves, and those that cannot be read, are left out.
    """
    own = {os.path.realpath(rule.path) for rule in rules}
    for path in paths:
        if os.path.splitext(path)[1].lower() not in endings or path in own:
            continue
        try:
            with open(path, "rb") as file:
                raw = file.read(LARGEST)
        except OSError:
            continue
        yield path, raw


def _names_in(raw: bytes, rule: RuleDefinition, base: BaseSpec) -> Iterator[tuple[int, str]]:
    """Yield the dotted names in `raw` that mean what a rule changes, or something in it."""
    assert rule.across is not None
    word = rule.across.thing.word
    if word.encode("utf-8") not in raw:
        return
    graph = code_base(base).modules(rule.language).graph
    target = graph.resolve(rule.across.thing.name)
    for match in _DOTTED.finditer(raw):
        name = match[0].decode("utf-8", "replace")
        parts = name.replace(":", ".").split(".")
        if word not in parts[1:]:
            continue
        for count in range(2, len(parts) + 1):
            if parts[count - 1] != word:
                continue
            meaning = graph.resolve(".".join(parts[:count]))
            if meaning is not None and meaning.replace("().", ".") == target:
                yield raw.count(b"\n", 0, match.start()) + 1, name
                break
