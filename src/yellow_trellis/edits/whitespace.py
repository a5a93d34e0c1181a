"""Space: indentation of moved code, line breaks that need brackets, words that would melt."""

from __future__ import annotations

import re

from yellow_trellis.languages import Language
from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Node, Tree

_OPENING = frozenset("([{")
_WORD = re.compile(rb"[\w\x80-\xff]{2}")


def joins(left: bytes, right: bytes) -> bool:
    """Return whether two neighbouring bytes would read as one word."""
    return _WORD.fullmatch(left + right) is not None


def code_gap(gap: str, base: str, unit: str, source: Source) -> str:
    """Turn a line break of a template into one of the code.

    Arguments: `gap` holds line breaks and the template's indentation in steps of `unit`; `base`
    is the indentation of the line on which the replaced code starts.
    """
    lines, _, indent = gap.rpartition("\n")
    steps = indent.count(unit) if unit else 0
    tail = indent[steps * len(unit) :]
    step = source.indent_unit.decode("utf-8")
    continued = " \\" if "\\" in lines else ""
    return continued + "\n" * (lines.count("\n") + 1) + base + step * steps + tail


def moved_indent(
    source: Source, span: Span, indent: str, at: int | None = None, *, may_grow: bool = False
) -> tuple[str, str] | None:
    """Return how the further lines of `span` change when it comes to stand elsewhere.

    Arguments: `indent` is the indentation of its new line. Where the lines are laid out by the
    column at which the code starts, and `at` is a byte of the original where it will stand, they
    follow that column instead. `may_grow` tells that other fixes may put lines into a statement
    that has one.
    """
    if b"\n" not in source.data[span.start : span.end] and not may_grow:
        return None
    old = source.indent_at(span.start).decode("utf-8", "replace")
    column = source.place(span.start).column - 1
    if at is not None and column > len(old) and _least_indent(source, span) > column:
        old, indent = " " * column, " " * (source.place(at).column - 1)
    return None if old == indent else (old, indent)


def indented(text: str, indent: str, language: Language) -> str:
    """Return `text` with `indent` before each line after the first, but within strings.

    The text is code of `language`, of the lines of which the first stands where it is put.
    """
    if "\n" not in text or not indent:
        return text
    if not any(quote in text for quote in "\"'`"):
        return _blank_line.sub("\n", text.replace("\n", "\n" + indent))
    data = text.encode("utf-8", "surrogateescape")
    in_strings = lines_in_strings(data, language)
    lines = [
        indent.encode() + line if number and line.strip() and number not in in_strings else line
        for number, line in enumerate(data.split(b"\n"))
    ]
    return b"\n".join(lines).decode("utf-8", "surrogateescape")


def lines_in_strings(data: bytes, language: Language) -> frozenset[int]:
    """Return the lines of code, numbered from 0, that begin inside of a string."""
    if b"\n" not in data or not any(quote in data for quote in b"\"'`"):
        return frozenset()
    tree = Tree(Source(data), language)
    breaks = [at for at, byte in enumerate(data) if byte == 10]
    return frozenset(n for n, at in enumerate(breaks, 1) if in_string(tree, at + 1))


def in_string(tree: Tree, at: int) -> bool:
    """Return whether the byte `at` lies inside of a string, behind its first quote."""
    leaf, is_literal = tree.leaf_at(at), tree.language.is_literal
    around = (leaf, *leaf.ancestors()) if leaf is not None else ()
    return any(is_literal(node.kind) and node.start < at < node.end for node in around)


_blank_line = re.compile(r"\n[ \t]+(?=\n)")


def _least_indent(source: Source, span: Span) -> int:
    """Return the least indentation, in bytes, of the lines of `span` after the first."""
    lines = source.data[span.start : span.end].splitlines()[1:]
    return min((len(x) - len(x.lstrip(b" ")) for x in lines if x.strip()), default=0)


def is_expression(node: Node) -> bool:
    """Return whether brackets may be put around `node`."""
    language = node.tree.language
    kind = node.core.kind
    return language.same_kind(kind) in language.expressions and kind not in language.only_in_runs


def encloses(around: Node, node: Node) -> bool:
    """Return whether line breaks are free in `node` for the brackets of a node around it.

    Those of a subscript come behind the value that it is of.
    """
    if around.kind not in around.tree.language.enclosures:
        return False
    opening = next((child for child in around.children if child.kind in _OPENING), None)
    return opening is None or opening.start < node.start


def bare_line_break(node: Node) -> bool:
    """Return whether `node` has a line break that no bracket of its own makes free."""
    language = node.tree.language
    source = node.tree.source
    if b"\n" not in node.data:
        return False
    end = node.start
    for child in node.children:
        if encloses(node, child):
            return False
        if child.kind in _OPENING and node.kind in language.enclosures:
            gap = source.data[end : child.start]
            return b"\n" in gap and b"\\" not in gap
        gap = source.data[end : child.start]
        if b"\n" in gap and b"\\" not in gap:
            return True
        if child.is_comment or bare_line_break(child):
            return True
        end = child.end
    return False
