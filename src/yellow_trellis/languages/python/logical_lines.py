"""The logical lines of Python code, told by its quotes, brackets and backslashes.

A logical line is a physical line with all the lines that it continues on; a simple statement, or
the header of a compound one, never spans less. One regular expression goes through the bytes;
tokens are counted one by one only where brackets nest deeper than it can tell.
"""

from __future__ import annotations

import re
import sys
from bisect import bisect_right
from itertools import islice


def possessive(form: bytes) -> bytes:
    """Return an expression whose repeats are never given back, where Python has such.

    Arguments: `form` repeats only what the expression behind the repeat does not start with.
    """
    if sys.version_info < (3, 11):
        return form
    return form.replace(b"]*", b"]*+").replace(b")*", b")*+")


_ESCAPED = rb"\\(?:\r\n|.)"
_STRING = (
    rb"'(?!'')[^'\\\n]*(?:%b[^'\\\n]*)*'|\"(?!\"\")[^\"\\\n]*(?:%b[^\"\\\n]*)*\""
    % (_ESCAPED, _ESCAPED)
    + rb'|"""[^"\\]*(?:(?:\\.|"(?!""))[^"\\]*)*"""'
    + rb"|'''[^'\\]*(?:(?:\\.|'(?!''))[^'\\]*)*'''"
)
_PLAIN = rb"[^\"'#\\()\[\]{}\n]*"
_PLAIN_IN_BRACKETS = rb"[^\"'#\\()\[\]{}]*"
_MAX_DEPTH = 6
_MAX_STEP = 256
"""How many lines are read ahead at most."""


def _logical_line() -> bytes:
    simple = _STRING + rb"|\\\r?\n"
    nested = b""
    for _ in range(_MAX_DEPTH):
        inside = rb"%s(?:(?:%s|#[^\n]*\n%s)%s)*" % (
            _PLAIN_IN_BRACKETS,
            simple,
            nested,
            _PLAIN_IN_BRACKETS,
        )
        nested = rb"|[(\[{]%s[)\]}]" % inside
    line = rb"%s(?:(?:%s%s)%s)*(?:#[^\n]*)?(?:\n|\Z)" % (_PLAIN, simple, nested, _PLAIN)
    return possessive(line) + b"|"  # an empty match where no line ends plainly


_LOGICAL = re.compile(_logical_line(), re.DOTALL)
_TOKEN = re.compile(
    possessive(_STRING) + rb"|[\"']|#[^\n]*|\\\r?\n|[()\[\]{}]|\n",
    re.DOTALL,
)


class LogicalLines:
    """The logical lines of UTF-8 `data` from byte `start` to byte `end`, read as far as needed.

    `bounds` holds where each line starts, and where the last line read so far ends.
    """

    def __init__(self, data: bytes, start: int, end: int) -> None:
        self.bounds = [start]
        self._data = data
        self._end = end
        self._ahead = _LOGICAL.finditer(data, start, end)
        self._is_clear = True

    def at(self, place: int) -> tuple[int, int] | None:
        """Return the start and end of the line that holds the byte `place`, not before `start`.

        None where quotes or brackets do not make clear how the code continues.
        """
        bounds = self.bounds
        while bounds[-1] <= place:
            if bounds[-1] >= self._end or not self._is_clear:
                return None
            self._read(place)
        number = bisect_right(bounds, place) - 1
        return bounds[number], bounds[number + 1]

    def _read(self, place: int) -> None:
        bounds = self.bounds
        at = bounds[-1]
        step = min(self._data.count(b"\n", at, place) + 1, _MAX_STEP)
        ends = [line.end() for line in islice(self._ahead, step)]
        while len({at, *ends}) <= len(ends):  # drop empty matches
            ends.pop()
        bounds += ends
        if len(ends) < step and (at := bounds[-1]) < self._end:
            after = _end_by_tokens(self._data, at, self._end)
            self._is_clear = after >= 0
            if self._is_clear:
                bounds.append(after)
                self._ahead = _LOGICAL.finditer(self._data, after, self._end)


def _end_by_tokens(data: bytes, start: int, end: int) -> int:
    """Return where the logical line at `start` ends, token by token; -1 where that is unclear."""
    depth = 0
    for token in _TOKEN.finditer(data, start, end):
        sign = token[0]
        if sign == b"\n":
            if not depth:
                return token.end()
        elif sign in b"([{":
            depth += 1
        elif sign in b")]}":
            depth -= 1
        if depth < 0 or sign in (b'"', b"'"):
            return -1
    return -1 if depth else end


_PREFIX = re.compile(rb"[A-Za-z]+\Z")
_WITH_CODE = frozenset(b"fFtT")
_TRIPLE = re.compile(rb"\"\"\"|'''")
_LINE_TOKEN = re.compile(possessive(_STRING) + rb"|[\"']|#[^\n]*|(?<!\\)\n|(?<!\\)\r\n", re.DOTALL)


def long_strings(data: bytes) -> list[tuple[int, int]] | None:
    """Return the spans of the strings in triple quotes; None where quotes do not make them clear.

    Only lines with triple quotes are read: what is quoted on other lines cannot hold one.
    """
    spans: list[tuple[int, int]] = []
    at = 0
    while (mark := _TRIPLE.search(data, at)) is not None:
        at = _line_start(data, mark.start(), at)
        for token in _LINE_TOKEN.finditer(data, at):
            sign = token[0]
            if sign in (b'"', b"'"):
                return None
            at = token.end()
            if sign.startswith((b'"""', b"'''")):
                spans.append(token.span())
                break
            if sign.endswith(b"\n") and sign[:1] not in b"\"'" or sign.startswith(b"#"):
                break
        else:
            break
    return spans


def _line_start(data: bytes, place: int, least: int) -> int:
    """Return where the line of `place` starts, with lines that continue on it; from `least` on."""
    start = data.rfind(b"\n", least, place) + 1
    while start > least and is_continuation(data, start):
        start = data.rfind(b"\n", least, start - 1) + 1
    return max(start, least)


def is_continuation(data: bytes, line: int) -> bool:
    """Return whether the line that starts at `line` follows a backslash."""
    return data.endswith((b"\\\n", b"\\\r\n"), max(line - 3, 0), line)


def may_hold_code(data: bytes, start: int) -> bool:
    """Return whether the string whose quotes start at `start` may have replacement fields."""
    prefix = _PREFIX.search(data, max(start - 2, 0), start)
    return prefix is not None and not _WITH_CODE.isdisjoint(prefix[0])


def is_one_line(data: bytes, start: int, end: int) -> bool:
    """Return whether `start` to `end` may be one simple statement: it lies in one logical line."""
    line = LogicalLines(data, start, len(data)).at(start)
    return line is None or line[1] >= end

