"""Parsing of long texts so that signals are heeded: hostile bytes can keep a parser for hours.

The parser gets the code in small parts, and whenever it asks for one the handlers of signals have
their turn. It could report its progress too; but some versions of the binding crash then.

The binding keeps a reference to each object that it is given, for good. So all parts are handed
over in one buffer, by views of it that are released afterwards: what is kept is a few empty views
for each parse, and none of the text. Lowering the reference counts by hand was refused: nobody can
know who else holds an object, as a debugger may.
"""

from __future__ import annotations

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
    buffer = bytearray(min(_CHUNK, len(data)))
    views: dict[int, memoryview] = {}

    def read(start: int, _: object) -> memoryview:
        _notice()
        part = data[start : start + _CHUNK]
        size = len(part)
        buffer[:size] = part
        if size not in views:
            views[size] = memoryview(buffer)[:size]
        return views[size]

    try:
        return parser.parse(read)
    except BaseException as wrong:
        parser.reset()
        error = wrong  # the binding may wrap what a handler has raised, once or twice
        while isinstance(error, SystemError) and error.__cause__ is not None:
            error = error.__cause__
        if error is wrong:
            raise
        raise error from None
    finally:
        for view in views.values():
            view.release()
