"""Hooks for what the tables cannot say; the modules behind them are loaded when asked."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    import tree_sitter

    from yellow_trellis.languages.compile_errors import CompileError
    from yellow_trellis.languages.scanner import Scanner


def scanner(data: bytes) -> Scanner:
    """Return what tells statements in UTF-8 code before any parse."""
    from yellow_trellis.languages.python.statement_scanner import StatementScanner

    return StatementScanner(data)


def compile_errors(
    data: bytes, parts: Iterable[tuple[int, int]], version: tuple[int, int] | None
) -> list[CompileError]:
    """Return what the compiler has against the code; see `Language.compile_errors`."""
    from yellow_trellis.languages.python import compiler  # for changed files only

    return compiler.compile_errors(data, parts, version)


def is_one_line(data: bytes, start: int, end: int) -> bool:
    """Return whether code may be one statement without a body; see `Language.is_one_line`."""
    from yellow_trellis.languages.python import logical_lines

    return logical_lines.is_one_line(data, start, end)


def statement_spans(data: bytes) -> list[tuple[int, int]]:
    """Return the spans of the statements at the top of the code, as the compiler reads it."""
    from yellow_trellis.languages.python import compiler  # for few files only

    return compiler.statement_spans(data)


def misread_in(item: tree_sitter.Node) -> Iterator[int]:
    """Yield where brackets around all of a `with` are those of its items, not of a tuple."""
    alone = item.parent is not None and item.parent.named_child_count == 1
    if alone and item.child_count == 1 and item.children[0].type == "tuple":
        yield item.start_byte


def spans_read(statement: tree_sitter.Node) -> list[tuple[int, int]]:
    """Return the spans of which it is told how the compiler reads them; see `Language`."""
    from yellow_trellis.languages.python import compiler_tree  # for changed files only

    return compiler_tree.spans_read(statement)


def misread_statements(
    root: tree_sitter.Node, data: bytes, matters: Callable[[int, int], bool]
) -> list[tuple[int, int]]:
    """Return the statements that the compiler reads otherwise; see `Language`."""
    from yellow_trellis.languages.python import compiler_tree  # for changed files only

    return compiler_tree.misread_statements(root, data, matters)
