"""Space: indentation of moved code, line breaks that need brackets, words that would melt."""

from __future__ import annotations

import re

from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Node

_WORD = re.compile(rb"[\w\x80-\xff]{2}")


def joins(left: bytes, right: bytes) -> bool:
    """Tell whether two neighbouring bytes would read as one word."""
    return _WORD.fullmatch(left + right) is not None


def code_gap(gap: str, base: str, unit: str, source: Source) -> str:
    """Turn a line break of a template into one of the code.

    Arguments: `gap` holds line breaks and the template's indentation in steps of `unit`; `base`
    is the indentation of the line on which the replaced code starts.
    """
    lines, _, indent = gap.rpartition("\n")
    steps = indent.count(unit) if unit else 0
    rest = indent[steps * len(unit) :]
    step = source.indent_unit.decode("utf-8")
    return "\n" * (lines.count("\n") + 1) + base + step * steps + rest


def moved_indent(
    source: Source, span: Span, indent: str, at: int | None = None
) -> tuple[str, str] | None:
    """Return how the further lines of `span` change when it comes to stand elsewhere.

    Arguments: `indent` is the indentation of its new line. Where the lines are laid out by the
    column at which the code starts, and `at` is a byte of the original where it will stand, they
    follow that column instead.
    """
    if b"\n" not in source.data[span.start : span.end]:
        return None
    old = source.indent_at(span.start).decode("utf-8", "replace")
    column = source.place(span.start).column - 1
    if at is not None and column > len(old) and _least_indent(source, span) > column:
        old, indent = " " * column, " " * (source.place(at).column - 1)
    return None if old == indent else (old, indent)


def _least_indent(source: Source, span: Span) -> int:
    """Return the least indentation, in bytes, of the lines of `span` after the first."""
    lines = source.data[span.start : span.end].splitlines()[1:]
    return min((len(x) - len(x.lstrip(b" ")) for x in lines if x.strip()), default=0)


def is_expression(node: Node) -> bool:
    """Tell whether brackets may be put around `node`."""
    language = node.tree.language
    kinds = language.family("expression") or frozenset()
    kind = node.core.kind
    return language.same_kind(kind) in kinds and kind not in language.only_in_runs


def bare_line_break(node: Node) -> bool:
    """Tell whether `node` has a line break that no bracket of its own makes free."""
    language = node.tree.language
    source = node.tree.source
    if b"\n" not in node.data or node.kind in language.enclosures:
        return False
    end = node.start
    for child in node.children:
        gap = source.data[end : child.start]
        if b"\n" in gap and b"\\" not in gap:
            return True
        if child.is_comment or bare_line_break(child):
            return True
        end = child.end
    return False
