"""Parsing of long texts so that signals are heeded: hostile bytes can keep a parser for hours.

The parser gets the code in small parts, and whenever it asks for one the handlers of signals have
their turn. It could report its progress too; but some versions of the binding crash then.
"""

from __future__ import annotations

import sys
from functools import partial
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import tree_sitter

_CHUNK = 4 * 1024

_notice = partial(bool)
"""Called, it raises where a handler has raised before: the binding calls on regardless, and of all
calls Python makes it is those of such an object that always look for a lost error."""


def parse_in_parts(parser: tree_sitter.Parser, data: bytes) -> tree_sitter.Tree:
    """Return the tree of `data`. Errors: whatever the handler of a signal raises."""
    parts: list[bytes] = []

    def read(start: int, _: object) -> bytes:
        _notice()
        part = data[start : start + _CHUNK]
        parts.append(part)
        return part

    try:
        tree = parser.parse(read)
    except BaseException as wrong:
        parser.reset()
        error = wrong  # the binding may wrap what a handler has raised, once or twice
        while isinstance(error, SystemError) and error.__cause__ is not None:
            error = error.__cause__
        if error is wrong:
            raise
        raise error from None
    _let_go(parts)  # after an error its traceback may hold one of them
    return tree


def _let_go(parts: list[bytes]) -> None:
    """Let go of references to `parts` that the binding has kept for good, as version 0.26 does.

    Without this each parse of a long text would cost its size in memory for ever. Only a reference
    that nobody else can have is given back: the list, the loop and the count itself have three.
    """
    if sys.implementation.name != "cpython":
        return
    import ctypes  # most calls parse nothing that long

    for part in parts:
        if len(part) > 1:  # shorter ones are shared by all of Python
            for _ in range(sys.getrefcount(part) - 3):
                ctypes.pythonapi.Py_DecRef(ctypes.py_object(part))
