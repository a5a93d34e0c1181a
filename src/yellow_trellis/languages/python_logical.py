"""Where the logical lines of a Python file start, told by its quotes, brackets and backslashes.

A logical line is a line with all that it goes on in; a statement, or the header of one, never holds
less. No parser is asked: one regular expression goes through the file, and tokens are counted only
where brackets nest deeper than it can tell.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import islice

from yellow_trellis.languages.python_ends import once
from yellow_trellis.languages.python_strings import ESCAPED, closed, may_hold_code

# No two of the ways on from a place start alike, and none ends before it has to.
_STRING = (
    rb"'(?!'')[^'\\\n]*(?:%b[^'\\\n]*)*'|\"(?!\"\")[^\"\\\n]*(?:%b[^\"\\\n]*)*\""
    % (ESCAPED, ESCAPED)
    + rb'|"""[^"\\]*(?:(?:\\.|"(?!""))[^"\\]*)*"""'
    + rb"|'''[^'\\]*(?:(?:\\.|'(?!''))[^'\\]*)*'''"
)
_PLAIN = rb"[^\"'#\\()\[\]{}\n]*"
_PLAIN_IN_BRACKETS = rb"[^\"'#\\()\[\]{}]*"
_DEEPEST = 6
_LARGEST_STEP = 256
"""How many lines are told at a time at most."""


def _logical_line() -> bytes:
    known = _STRING + rb"|\\\r?\n"
    nested = b""
    for _ in range(_DEEPEST):
        inside = rb"%s(?:(?:%s|#[^\n]*\n%s)%s)*" % (
            _PLAIN_IN_BRACKETS,
            known,
            nested,
            _PLAIN_IN_BRACKETS,
        )
        nested = rb"|[(\[{]%s[)\]}]" % inside
    line = rb"%s(?:(?:%s%s)%s)*(?:#[^\n]*)?(?:\n|\Z)" % (_PLAIN, known, nested, _PLAIN)
    return once(line) + b"|"  # where no line is plain, nothing is taken


_LOGICAL = re.compile(_logical_line(), re.DOTALL)
_TEXT = re.compile(once(_STRING) + rb"|#[^\n]*", re.DOTALL)
_TOKEN = re.compile(
    rb"\"\"\"|'''|\"(?:[^\"\\\n]|%b)*\"|'(?:[^'\\\n]|%b)*'" % (ESCAPED, ESCAPED)
    + rb"|[\"']|#[^\n]*|\\\r?\n|[()\[\]{}]|\n",
    re.DOTALL,
)


class LogicalLines:
    """The logical lines between two places in UTF-8 `data`, told as far as anybody asks.

    `bounds` are where they start, and where the last one ends that has been told, in bytes.
    """

    def __init__(self, data: bytes, start: int, end: int) -> None:
        self.bounds = [start]
        self._data = data
        self._end = end
        self._ahead = _LOGICAL.finditer(data, start, end)
        self._is_plain = True

    def reach(self, place: int) -> bool:
        """Tell lines until one holds the byte at `place`; return whether one does.

        None does where quotes or brackets do not make it plain how the code goes on.
        """
        bounds = self.bounds
        while bounds[-1] <= place:
            if bounds[-1] >= self._end or not self._is_plain:
                return False
            self._tell_more(place)
        return True

    def _tell_more(self, place: int) -> None:
        bounds = self.bounds
        at = bounds[-1]
        step = min(self._data.count(b"\n", at, place) + 1, _LARGEST_STEP)
        ends = [line.end() for line in islice(self._ahead, step)]
        while len({at, *ends}) <= len(ends):  # one line took nothing
            ends.pop()
        bounds += ends
        if len(ends) < step and (at := bounds[-1]) < self._end:
            after = _scan(self._data, at, self._end)
            self._is_plain = after >= 0
            if self._is_plain:
                bounds.append(after)
                self._ahead = _LOGICAL.finditer(self._data, after, self._end)


def _scan(data: bytes, start: int, end: int) -> int:
    """Return where the logical line at `start` ends, token by token; -1 where that is not plain."""
    depth, at = 0, start
    while (token := _TOKEN.search(data, at, end)) is not None:
        at, sign = token.end(), token[0]
        if sign == b"\n":
            if not depth:
                return at
        elif sign in b"([{":
            depth += 1
        elif sign in b")]}":
            depth -= 1
        elif sign in (b'"""', b"'''"):
            at = closed(data, sign, at)
        if depth < 0 or at < 0 or sign in (b'"', b"'"):
            return -1
    return -1 if depth else end


def texts_in(data: bytes, start: int, end: int) -> Iterator[tuple[int, int]]:
    """Yield where strings without code, and comments, are in a logical line, in bytes."""
    for found in _TEXT.finditer(data, start, end):
        if not may_hold_code(data, found.start()):
            yield found.span()
