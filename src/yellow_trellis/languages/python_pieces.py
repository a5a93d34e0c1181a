"""A Python file cut into statements and members of classes by its lines, before it is parsed.

The cut is cautious. A line starts a piece if a word stands at its very start (or, in a class, at
the indent of the members), it lies in no long string, and it cannot go on from the line before: it
starts with a word that only starts statements, or follows what it is no rest of. Where quotes stand
in a way that this does not understand, nothing is cut at all.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterator
from functools import partial

from yellow_trellis.languages.pieces import Lines, Piece, Pieces
from yellow_trellis.languages.python_starts import goes_on, is_start
from yellow_trellis.languages.python_strings import LongStrings, long_strings

_START = rb"(?!(?:else|elif|except|finally)\b)[A-Za-z_@\x80-\xff]"
_TOP = re.compile(rb"\n" + _START)
_CLASS = re.compile(rb"class\b[^\n]*:[ \t]*(?:#[^\n]*)?\r?\n")
_DECORATED = re.compile(rb"\n" + _CLASS.pattern)
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
    first = _starts(data, _TOP, 0, len(data), strings)
    is_sure, cut = partial(is_start, data), partial(_members, data, strings)
    in_text = partial(_in_text, data, strings)
    return Pieces([0, *first, len(data)], is_sure, cut, partial(_lines, data), in_text)


def _lines(data: bytes, piece: Piece) -> Lines:
    from yellow_trellis.languages.python_lines import PythonLines  # its expressions are large

    return PythonLines(data, piece.start, piece.end)


def _in_text(data: bytes, strings: LongStrings, place: int) -> bool:
    start = strings.around(place)
    return start is not None and b"f" not in data[max(start - 2, 0) : start].lower()


def _members(data: bytes, strings: LongStrings, start: int, end: int) -> list[Piece]:
    """Return the header and the members of a large class that fills a span, else all of it."""
    whole = [Piece(start, end, start, end)]
    if end - start < _WORTH:
        return whole
    seek = _DECORATED.search if data[start] == 0x40 else _CLASS.match
    header = seek(data, start, end)
    if header is None:
        return whole
    first = _MEMBER.search(data, header.end() - 1, end)
    if first is None:
        return whole
    starts_here = re.compile(rb"\n" + re.escape(first[1]) + _START)
    starts = _starts(data, starts_here, header.end() - 1, end, strings)
    members = [at for at in starts if is_start(data, at)]
    bounds = [start, *members, end]
    return [
        Piece(bounds[at], bounds[at + 1], start, end, bounds[1] - start)
        for at in range(len(bounds) - 1)
    ]


def _starts(
    data: bytes, start_of: re.Pattern[bytes], begin: int, end: int, strings: LongStrings
) -> Iterator[int]:
    """Yield where lines start a statement, decorators with what they decorate."""
    decorated = data[begin : begin + 1] == b"@"
    spans = strings.spans
    held = bisect_left(spans, (begin,))
    for found in start_of.finditer(data, begin, end):
        at = found.start() + 1
        while held < len(spans) and spans[held][1] <= at:
            held += 1
        if held < len(spans) and spans[held][0] < at:
            continue
        if goes_on(data, at):
            continue
        joins = decorated and _DEFINES.match(data, at) is not None
        decorated = data[found.end() - 1] == 0x40
        if not joins:
            yield at
