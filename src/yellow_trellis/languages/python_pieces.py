"""A Python file cut into statements and members of classes by its lines, before it is parsed.

The cut is cautious. A line starts a piece if a word stands at its very start (or, in a class, at
the indent of the members), it lies in no long string, and it cannot go on from the line before: it
starts with a word that only starts statements, or follows what it is no rest of. Where quotes stand
in a way that this does not understand, nothing is cut at all.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from functools import cache, lru_cache, partial
from typing import TYPE_CHECKING

from yellow_trellis.languages.pieces import Lines, Piece, Pieces
from yellow_trellis.languages.python_starts import is_start
from yellow_trellis.languages.python_strings import LongStrings, long_strings, may_hold_code

if TYPE_CHECKING:
    from yellow_trellis.languages.python_lines import PythonLines

_WORD = rb"(?=[A-Za-z_@\x80-\xff])"
_AT = ord("@")
_CLASS = re.compile(rb"class\b[^\n]*:[ \t]*(?:#[^\n]*)?\r?\n")
_DECORATED = re.compile(rb"@[^\n]*\n(?:[^\r\nA-Za-z_\"'\x80-\xff][^\n]*\n|\r?\n)*" + _CLASS.pattern)
_UNINDENTED = re.compile(rb"\n(?=[^ \t\f\r\n#])")
_MEMBER = re.compile(rb"\n([ \t]+)[A-Za-z_@]")
_DEFINES = re.compile(rb"[ \t]*(?:@|def\b|class\b|async\b)")
_LONE_RETURN = re.compile(rb"\r(?!\n)")
_WORTH = 4096
"""Bytes of a class below which its members are not told apart."""


def pieces(data: bytes) -> Pieces | None:
    """Cut `data` into pieces; None where that cannot be done by lines alone."""
    strings = long_strings(data)
    if strings is None or (b"\r" in data and _LONE_RETURN.search(data) is not None):
        return None
    first = _starts(data, b"", 0, len(data), strings)
    is_sure, cut = partial(is_start, data), partial(_members, data, strings)
    in_text = partial(_in_text, data, strings)
    return Pieces([0, *first, len(data)], is_sure, cut, partial(_lines, data), in_text)


def _lines(data: bytes, piece: Piece) -> Lines:
    return _python_lines()(data, piece.start, piece.end)


@cache
def _python_lines() -> type[PythonLines]:
    from yellow_trellis.languages.python_lines import PythonLines  # its expressions are large

    return PythonLines


def _in_text(data: bytes, strings: LongStrings, place: int) -> bool:
    start = strings.around(place)
    return start is not None and not may_hold_code(data, start)


def _members(data: bytes, strings: LongStrings, start: int, end: int) -> list[Piece]:
    """Return the header and the members of a large class that fills a span, else all of it."""
    whole = [Piece(start, end, start, end)]
    if end - start < _WORTH:
        return whole
    header = (_DECORATED if data[start] == _AT else _CLASS).match(data, start, end)
    stop = None if header is None else _class_end(data, strings, start, header.end(), end)
    if header is None or stop is None:
        return whole
    rest = [Piece(stop, end, stop, end)] if stop < end else []
    lines = _MEMBER.finditer(data, header.end() - 1, stop)
    first = next((one for one in lines if strings.around(one.end()) is None), None)
    if first is None:
        return whole
    starts = _starts(data, first[1], header.end() - 1, stop, strings)
    members = [at for at in starts if is_start(data, at)]
    bounds = [start, *members, stop]
    return [
        Piece(bounds[at], bounds[at + 1], start, stop, bounds[1] - start)
        for at in range(len(bounds) - 1)
    ] + rest


def _class_end(
    data: bytes, strings: LongStrings, start: int, header_end: int, end: int
) -> int | None:
    """Return where the class from `start` ends; None where lines do not make it plain.

    As starts of statements are told with caution, there may be others behind it, up to `end`.
    """
    lines = _UNINDENTED.finditer(data, header_end - 1, end)
    if all(strings.around(one.end()) is not None for one in lines):
        return end
    return _python_lines()(data, start, end).unindented(header_end)


def _starts(data: bytes, indent: bytes, begin: int, end: int, strings: LongStrings) -> list[int]:
    """Return where lines so indented start a statement, decorators with what they decorate."""
    starts = [found.start() + 1 for found in _start_at(indent).finditer(data, begin, end)]
    spans = strings.spans
    for first, last in spans[bisect_left(spans, (begin,)) : bisect_left(spans, (end,))]:
        at = bisect_right(starts, first)
        if at < len(starts) and starts[at] < last:
            del starts[at : bisect_left(starts, last)]
    width = len(indent)
    decorated = {number + 1 for number, at in enumerate(starts) if data[at + width] == _AT}
    if data[begin : begin + 1] == b"@":
        decorated.add(0)
    if not decorated:
        return starts
    return [
        at
        for number, at in enumerate(starts)
        if number not in decorated or _DEFINES.match(data, at) is None
    ]


@lru_cache(maxsize=64)
def _start_at(indent: bytes) -> re.Pattern[bytes]:
    """Return how a line begins that is so indented, starts a statement, and is no rest of one."""
    space = re.escape(indent)
    goes_on = rb"(?<!\\\n%s)(?<!\\\r\n%s)" % (space, space)
    return re.compile(rb"\n" + space + _WORD + goes_on + rb"(?!(?:else|elif|except|finally)\b)")
