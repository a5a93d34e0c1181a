"""Syntax that older Pythons refuse, and that `ast.parse` with a version lets through.

Source: the pages on what is new in Python 3.8 to 3.14.
"""

from __future__ import annotations

import ast
import io
import sys
import tokenize
from collections.abc import Iterator

Newer = tuple[int, int, str]
"""Line and column, in characters and both from 1, and what is too new there."""


def newer_syntax(tree: ast.Module, text: str, version: tuple[int, int]) -> Newer | None:
    """Return the first syntax of a text that Python `version` does not read; None without any."""
    for node in ast.walk(tree):
        for since, reason in _features(node, text):
            if version < since:
                line = getattr(node, "lineno", 1)
                column = len(
                    text.splitlines()[line - 1].encode()[: getattr(node, "col_offset", 0)].decode()
                )
                message = f"{reason} needs Python {since[0]}.{since[1]}"
                return line, column + 1, message
    if version < (3, 12) <= sys.version_info[:2]:
        return next(_free_fstrings(text), None)
    return None


def _features(node: ast.AST, text: str) -> Iterator[tuple[tuple[int, int], str]]:
    """Yield what a node has that came with a version of Python."""
    if isinstance(node, (ast.Return, ast.Expr)) and isinstance(node.value, (ast.Tuple, ast.Yield)):
        value = node.value.value if isinstance(node.value, ast.Yield) else node.value
        if isinstance(value, ast.Tuple) and _is_bare(value, text) and _has_star(value):
            if isinstance(node, ast.Return) or isinstance(node.value, ast.Yield):
                yield (3, 8), "`*` in what is returned or yielded, without brackets,"
    if isinstance(node, ast.Subscript) and isinstance(node.slice, ast.Tuple):
        if _is_bare(node.slice, text) and _has_star(node.slice):
            yield (3, 11), "`*` in a subscript"
    if isinstance(node, ast.Subscript) and isinstance(node.slice, ast.NamedExpr):
        if _is_bare(node.slice, text):
            yield (3, 10), "`:=` in a subscript, without brackets,"
    if isinstance(node, ast.Set) and any(
        isinstance(elt, ast.NamedExpr) and _is_bare(elt, text) for elt in node.elts
    ):
        yield (3, 10), "`:=` in a set, without brackets,"
    for decorator in getattr(node, "decorator_list", ()):
        if not _is_old_decorator(decorator):
            yield (3, 9), "a decorator that is no dotted name or call of one"


def _has_star(node: ast.Tuple) -> bool:
    return any(isinstance(elt, ast.Starred) for elt in node.elts)


def _is_bare(node: ast.expr, text: str) -> bool:
    """Return whether no brackets stand right around an expression."""
    segment = ast.get_source_segment(text, node) or ""
    if isinstance(node, ast.Tuple):
        return not segment.startswith("(")
    line = text.splitlines()[node.lineno - 1].encode()[: node.col_offset].decode().rstrip()
    return not line.endswith("(")


def _is_old_decorator(node: ast.expr) -> bool:
    if isinstance(node, ast.Call):
        node = node.func
    while isinstance(node, ast.Attribute):
        node = node.value
    return isinstance(node, ast.Name)


def _free_fstrings(text: str) -> Iterator[Newer]:
    """Yield what stands in the fields of f-strings that could not before Python 3.12."""
    start, end = getattr(tokenize, "FSTRING_START"), getattr(tokenize, "FSTRING_END")
    around: list[str] = []
    for token in tokenize.generate_tokens(io.StringIO(text).readline):
        line, column = token.start
        if around and token.type in (tokenize.STRING, start):
            quote = token.string.lstrip("rRbBfFuUtT")[:3]
            quote = quote if quote in ('"""', "'''") else quote[:1]
            if quote in around:
                yield line, column + 1, "the quotes of an f-string in its field need Python 3.12"
            if "\\" in token.string:
                yield line, column + 1, "a backslash in the field of an f-string needs Python 3.12"
        if around and token.type == tokenize.COMMENT:
            yield line, column + 1, "a comment in the field of an f-string needs Python 3.12"
        if token.type == start:
            quote = token.string.lstrip("rRbBfFuUtT")
            around.append(quote)
        elif token.type == end and around:
            around.pop()
