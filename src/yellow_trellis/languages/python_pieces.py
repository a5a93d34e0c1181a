"""A Python file cut into statements and members of classes by its lines, before it is parsed.

The cut is cautious. A line starts a piece if a word stands at its very start (or, in a class, at
the indent of the members), it lies in no long string, and nothing says that it goes on from the
line before. Where quotes stand in a way that this does not understand, nothing is cut at all. What
is wrong nevertheless, a bracket that is open across a cut, shows as a syntax error when the pieces
are parsed without their neighbours.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterator
from functools import partial

from yellow_trellis.languages.pieces import Piece, Pieces

_START = rb"(?!(?:else|elif|except|finally)\b)[A-Za-z_@\x80-\xff]"
_TOP = re.compile(rb"\n" + _START)
_CLASS = re.compile(rb"class\b[^\n]*:[ \t]*(?:#[^\n]*)?\r?\n")
_DECORATED = re.compile(rb"\n" + _CLASS.pattern)
_MEMBER = re.compile(rb"\n([ \t]+)[A-Za-z_@]")
_DEFINES = re.compile(rb"[ \t]*(?:@|def\b|class\b|async\b)")
_LONE_RETURN = re.compile(rb"\r(?!\n)")
_TRIPLES = (b'"""', b"'''")
_TOKEN = re.compile(rb"\"\"\"|'''|[\"'#\n]")
_SHORT = re.compile(rb"\"(?:[^\"\\\n]|\\.)*\"|'(?:[^'\\\n]|\\.)*'", re.DOTALL)
_WORTH = 4096
"""Bytes of a class below which its members are not told apart."""

_Strings = list[tuple[int, int]]
"""Where long strings start and end."""


def pieces(data: bytes) -> Pieces | None:
    """Cut `data` into pieces; None where that cannot be done by lines alone."""
    strings = _long_strings(data)
    if strings is None or (b"\r" in data and _LONE_RETURN.search(data) is not None):
        return None
    first = _starts(data, _TOP, 0, len(data), strings)
    return Pieces([0, *first, len(data)], partial(_members, data, strings))


def _long_strings(data: bytes) -> _Strings | None:
    """Return the strings in triple quotes; None where that cannot be told line by line."""
    found: _Strings = []
    at = 0
    marks = [data.find(mark) for mark in _TRIPLES]
    while (mark := _next_mark(data, marks, at)) >= 0:
        line = max(data.rfind(b"\n", 0, mark) + 1, at)
        if data[max(line - 2, 0) : line] == b"\\\n":
            return None
        at = line
        while (token := _TOKEN.search(data, at)) is not None:
            at = token.start()
            if token[0] == b"#" or token[0] == b"\n":
                at = data.find(b"\n", at) + 1 or len(data)
                break
            if len(token[0]) == 3:
                end = _closed(data, token[0], at + 3)
                if end < 0:
                    return None
                found.append((at, end))
                at = end
                break
            short = _SHORT.match(data, at)
            if short is None:
                return None
            at = short.end()
        else:
            return found
    return found


def _next_mark(data: bytes, marks: list[int], at: int) -> int:
    """Return where the next triple quotes stand from `at` on, -1 if nowhere.

    Arguments: `marks` is where each kind of them was seen last; it is brought up to date.
    """
    for kind, mark in enumerate(_TRIPLES):
        if 0 <= marks[kind] < at:
            marks[kind] = data.find(mark, at)
    return min((mark for mark in marks if mark >= 0), default=-1)


def _closed(data: bytes, mark: bytes, at: int) -> int:
    """Return where a long string ends whose text starts at `at`; -1 if it does not."""
    while (at := data.find(mark, at)) >= 0:
        text = data[max(at - 64, 0) : at]
        if (len(text) - len(text.rstrip(b"\\"))) % 2 == 0:
            return at + 3
        at += 1
    return -1


def _members(data: bytes, strings: _Strings, start: int, end: int) -> list[Piece]:
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
    members = list(_starts(data, starts_here, header.end() - 1, end, strings))
    bounds = [start, *members, end]
    return [
        Piece(bounds[at], bounds[at + 1], start, end, bounds[1] - start)
        for at in range(len(bounds) - 1)
    ]


def _starts(
    data: bytes, start_of: re.Pattern[bytes], begin: int, end: int, strings: _Strings
) -> Iterator[int]:
    """Yield where lines start a statement, decorators with what they decorate."""
    decorated = data[begin : begin + 1] == b"@"
    held = bisect_left(strings, (begin,))
    for found in start_of.finditer(data, begin, end):
        at = found.start() + 1
        while held < len(strings) and strings[held][1] <= at:
            held += 1
        if held < len(strings) and strings[held][0] < at:
            continue
        if data[max(at - 3, 0) : at - 1].rstrip(b"\r").endswith(b"\\"):
            continue
        joins = decorated and _DEFINES.match(data, at) is not None
        decorated = data[found.end() - 1] == 0x40
        if not joins:
            yield at
