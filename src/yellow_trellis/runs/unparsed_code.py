"""The problem to report of code that our parser cannot read, or reads wrongly."""

from __future__ import annotations

import re
from collections.abc import Iterable

from msgspec.structs import replace

from yellow_trellis.runs.report_types import Problem
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree
from yellow_trellis.syntax.misgrouped import misgrouped

_MACRO = re.compile(
    rb"(?<![\w#])(?P<name>[A-Z][A-Z0-9]*_[A-Z0-9_]*[A-Z0-9])(?P<call>\()?(?![A-Za-z])", re.ASCII
)
"""A name that looks like a macro's."""
_TRIED = 4
"""Macros of a file that are tried."""
_SHOWN = 50
"""Characters of an expression that are shown."""
_BEHIND = 200
"""Bytes behind the start of an error in which what confuses the parser is looked for."""


def unparsed_code(tree: Tree, version: tuple[int, int] | None) -> Problem:
    """Return the problem of code that does not parse: rules see it in part.

    The compiler of the language has the last word, where it is at hand.
    """
    source, first = tree.source, tree.broken[0]
    errors = tree.language.compile_errors(source.data, (), version)
    place = source.place(errors[0].place if errors else first.start)
    tail = len(tree.broken) - 1
    if errors:
        reason = f"does not parse ({errors[0].reason})"
    else:
        more = f" and {tail} more part{'' if tail == 1 else 's'}" if tail else ""
        reason = f"our parser cannot read what is up to {source.place(first.end)}{more}"
    reason += "; rules look at it in part, and nothing there is fixed"
    if tree.language.has_macros and (macro := _confusing_macro(tree)):
        reason += (
            f". The macro {macro} confuses it: if it stands for nothing, say "
            f'`empty-macros = ["{macro}"]` in the configuration'
        )
    return Problem(source.path, reason, place=place, is_doubtful=not errors)


def misgrouped_code(tree: Tree, places: Iterable[tuple[int, int]] | None) -> list[Problem]:
    """Return the problem of expressions that our parser groups otherwise than the compiler.

    Arguments: `places` are those that lead rules to what they find; None for all of the file.
    """
    wrong = misgrouped(tree, places)
    outer = [
        raw for raw in wrong.values() if raw.parent is None or raw.parent.id not in wrong
    ]
    if not outer:
        return []
    source, first = tree.source, outer[0]
    text = " ".join(source.text(Span(first.start_byte, first.end_byte)).split())
    text = text if len(text) <= _SHOWN else f"{text[:_SHOWN - 1]}…"
    tail = len(outer) - 1
    more = f", and {tail} more expression{'' if tail == 1 else 's'}" if tail else ""
    reason = (
        f"our parser groups `{text}` otherwise than the compiler{more}; rules may miss code "
        "there, and nothing there is fixed: brackets help"
    )
    return [Problem(source.path, reason, place=source.place(first.start_byte), is_doubtful=True)]


def _confusing_macro(tree: Tree) -> str:
    """Return the first macro without which less is unreadable; empty if none is found."""
    code, first = tree.source.code, tree.broken[0]
    end = max(first.end, first.start + _BEHIND)
    names: dict[str, None] = {}
    for match in _MACRO.finditer(code, tree.source.lines.start(first.start), end):
        name = match["name"].decode()
        names.update(dict.fromkeys((f"{name}()",) if match["call"] else (name,)))
    unreadable = _extent(tree)
    for name in list(names)[:_TRIED]:
        source = replace(tree.source, empty_macros=(*tree.source.empty_macros, name))
        if _extent(Tree(source, tree.language)) < unreadable:
            return name
    return ""


def _extent(tree: Tree) -> int:
    """Return how many bytes cannot be read."""
    return sum(span.end - span.start for span in tree.broken)
