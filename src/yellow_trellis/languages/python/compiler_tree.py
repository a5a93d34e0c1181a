"""The trees of the compiler and of our parser, compared statement by statement.

A line break outside of brackets, `&` behind `^`, `f"{x:=10}"`, a `type` that is called: each time
our parser shows a tree, and the compiler compiles another one. The tree of our parser is written
in a layout that leaves no doubt (`plain_text`), and the compiler is asked for its trees of both
texts. Only the statements that matter are in them, so the cost is that of these.
"""

from __future__ import annotations

import ast
import warnings
from collections.abc import Callable, Iterator
from contextlib import suppress
from typing import NamedTuple

import tree_sitter

from yellow_trellis.languages.python.plain_text import (
    BODIES,
    PlainText,
    header_of,
    parts_with_bodies,
    statements_in,
)

Matters = Callable[[int, int], bool]
"""Returns whether it matters how the code of a span is read."""


def spans_read(statement: tree_sitter.Node) -> list[tuple[int, int]]:
    """Return the spans that `misread_statements` asks about: of a statement, and of all in it."""
    spans = [(statement.start_byte, statement.end_byte)]

    def note(start: int, end: int) -> bool:
        spans.append((start, end))
        return True

    with suppress(RecursionError):
        for _ in _of_statement(statement, (), note):
            pass
    return spans


class _Unit(NamedTuple):
    """A statement, or a header, that matters by itself."""

    start: int
    end: int
    is_header: bool
    around: tuple[int, ...]
    """The first bytes of the statements that it is in, itself too."""


def misread_statements(
    root: tree_sitter.Node, data: bytes, matters: Matters
) -> list[tuple[int, int]]:
    """Return the spans of the statements that the compiler reads as another tree.

    Of one with a body it is its header that is meant. Nothing is returned for code that the
    running Python does not compile.
    Arguments: `root` is the tree of the UTF-8 text `data`; `matters` is asked of statements and,
    where they have bodies, of headers.
    """
    try:
        units = list(_units(root, (), matters))
        if not units or _agrees(root, data, units):
            return []
    except RecursionError:
        return []  # more bodies in each other than the compiler takes
    alone = [unit for unit in units if not _agrees(root, data, [unit])]
    return [(unit.start, unit.end) for unit in alone or units]


def _units(
    node: tree_sitter.Node, around: tuple[int, ...], matters: Matters
) -> Iterator[_Unit]:
    """Yield the statements and headers that matter in a body, or in a part that has bodies."""
    if node.type in BODIES:
        for statement in statements_in(node):
            if matters(statement.start_byte, statement.end_byte):
                yield from _of_statement(statement, (*around, statement.start_byte), matters)
        return
    header = header_of(node)
    if header is not None and matters(node.start_byte, header):
        yield _Unit(node.start_byte, header, True, around)
    if node.type == "decorated_definition":
        node = node.named_children[-1]
    for part in parts_with_bodies(node):
        yield from _units(part, around, matters)


def _of_statement(
    statement: tree_sitter.Node, around: tuple[int, ...], matters: Matters
) -> Iterator[_Unit]:
    if any(True for _ in parts_with_bodies(statement)):
        yield from _units(statement, around, matters)
    else:
        yield _Unit(statement.start_byte, statement.end_byte, False, around)


def _agrees(root: tree_sitter.Node, data: bytes, units: list[_Unit]) -> bool:
    """Return whether the compiler reads units as our parser does."""
    statements = {start for unit in units for start in unit.around}
    plain = PlainText(data, statements, {unit.start for unit in units if unit.is_header})
    plain.write(root)
    tree = _tree(plain.original)
    return tree is None or _same(tree, _tree(plain.text))


def _tree(text: bytes) -> ast.Module | None:
    """Return the tree of the compiler; None if there is none."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            return ast.parse(text.decode("utf-8").removeprefix("\ufeff"))
    except (SyntaxError, ValueError, RecursionError, MemoryError, OverflowError):
        return None


def _same(tree: object, second: object) -> bool:
    """Return whether two trees are the same, places aside."""
    todo: list[tuple[object, object]] = [(tree, second)]
    while todo:  # and no calls of itself: a sum may have a thousand parts
        left, right = todo.pop()
        if left.__class__ is not right.__class__:
            return False
        if isinstance(left, ast.AST):
            todo += [(getattr(left, f, None), getattr(right, f, None)) for f in left._fields]
        elif isinstance(left, list) and isinstance(right, list):
            if len(left) != len(right):
                return False
            todo += zip(left, right, strict=True)
        elif left != right and repr(left) != repr(right):  # no number is not itself
            return False
    return True
