"""The compiler of the running Python has the last word on whether a text is Python.

The grammar that parses for us takes more than Python does: `return` at the top of a file, a call
as the target of `del`, an argument by position behind one by name. Where code must be read by an
older Python as well, the parser of the running one is asked to be that old; what it does not
distinguish is in `versions`.
"""

from __future__ import annotations

import ast
import sys
import warnings
from collections.abc import Iterable

from yellow_trellis.languages.compile_errors import CompileError
from yellow_trellis.languages.python.versions import newer_syntax

Version = tuple[int, int]


def compile_errors(
    data: bytes, parts: Iterable[tuple[int, int]], version: Version | None = None
) -> list[CompileError]:
    """Return what the compiler has against the UTF-8 text `data`; nothing if it takes it.

    Arguments: `parts` are the spans of the statements at its top: the compiler tells one error at
    a time, and each part, compiled by itself, tells its own. `version` is the oldest Python that
    must read the text, as (3, 9); the running one if left out, or if it is older than that.
    """
    first = _compile_error(data, version)
    if first is None:
        return []
    errors = [
        error._replace(place=start + error.place)
        for start, end in parts
        if (error := _compile_error(data[start:end], version)) is not None
    ]
    return errors or [first]


def statement_spans(data: bytes) -> list[tuple[int, int]]:
    """Return the spans of the statements at the top of a text; none where it is no Python."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            body = ast.parse(data.decode("utf-8")).body
    except (SyntaxError, ValueError, RecursionError, MemoryError, OverflowError):
        return []
    starts = [0]
    for line in data.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    return [
        (starts[_first_line(item) - 1], starts[item.end_lineno - 1] + (item.end_col_offset or 0))
        for item in body
        if item.end_lineno is not None
    ]


def _first_line(statement: ast.stmt) -> int:
    marks: list[ast.expr] = getattr(statement, "decorator_list", [])
    return min(statement.lineno, *(mark.lineno for mark in marks), statement.lineno)


def _compile_error(data: bytes, version: Version | None) -> CompileError | None:
    try:
        text = data.decode("utf-8")
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            compile(text, "<text>", "exec", dont_inherit=True)
            if version is not None and version < sys.version_info[:2]:
                tree = ast.parse(text, feature_version=version)
                newer = newer_syntax(tree, text, version)
                return None if newer is None else _located(data, *newer)
    except SyntaxError as error:
        return _located(data, error.lineno or 1, error.offset or 1, error.msg)
    except (ValueError, RecursionError, MemoryError, OverflowError) as error:
        return CompileError(0, str(error) or type(error).__name__)
    return None


def _located(data: bytes, line: int, column: int, reason: str) -> CompileError:
    """Return an error at a line and a column in characters, both from 1."""
    lines = data.splitlines(keepends=True)
    number = min(line - 1, len(lines))
    start = sum(map(len, lines[:number]))
    text = lines[number] if number < len(lines) else b""
    ahead = text.decode("utf-8", "replace")[: max(column - 1, 0)]
    return CompileError(start + len(ahead.encode("utf-8")), reason)
