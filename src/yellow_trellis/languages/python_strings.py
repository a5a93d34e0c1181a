"""Where the strings in triple quotes are in a Python file, told by its lines."""

from __future__ import annotations

import re
from bisect import bisect_left

_BACKSLASH = ord("\\")
_TRIPLES = (b'"""', b"'''")
_PREFIX = re.compile(rb"[A-Za-z]+\Z")
_WITH_CODE = frozenset(b"fFtT")
_TOKEN = re.compile(rb"\"\"\"|'''|[\"'#\n]")
ESCAPED = rb"\\(?:\r\n|.)"
"""A backslash in a text, and what it stands before: a line ending as a whole."""
_SHORT = re.compile(rb"\"(?:[^\"\\\n]|%b)*\"|'(?:[^'\\\n]|%b)*'" % (ESCAPED, ESCAPED), re.DOTALL)


class LongStrings:
    """The strings in triple quotes of a file.

    Arguments: `spans` are where they start and end, in bytes and in order.
    """

    def __init__(self, spans: list[tuple[int, int]]) -> None:
        self.spans = spans

    def around(self, place: int) -> int | None:
        """Return where the string starts that goes on at `place`; None if there is none."""
        at = bisect_left(self.spans, (place,)) - 1
        if at < 0 or self.spans[at][1] <= place:
            return None
        return self.spans[at][0]


def long_strings(data: bytes) -> LongStrings | None:
    """Return the strings in triple quotes of `data`; None where lines do not make them plain."""
    found: list[tuple[int, int]] = []
    at = 0
    marks = [data.find(mark) for mark in _TRIPLES]
    while (mark := _next_mark(data, marks, at)) >= 0:
        at = _line_start(data, mark, at)
        while (token := _TOKEN.search(data, at)) is not None:
            at = token.start()
            if token[0] == b"\n" and _is_continued(data, at + 1):
                at += 1
                continue
            if token[0] == b"#" or token[0] == b"\n":
                at = data.find(b"\n", at) + 1 or len(data)
                break
            if len(token[0]) == 3:
                end = closed(data, token[0], at + 3)
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
            break
    return LongStrings(found)


def _line_start(data: bytes, place: int, least: int) -> int:
    """Return where the line of `place` starts, with the lines that go on in it; from `least` on."""
    start = data.rfind(b"\n", least, place) + 1
    while start > least and _is_continued(data, start):
        start = data.rfind(b"\n", least, start - 1) + 1
    return max(start, least)


def _is_continued(data: bytes, line: int) -> bool:
    """Return whether what stands before a line ends in a backslash."""
    return data.endswith((b"\\\n", b"\\\r\n"), max(line - 3, 0), line)


def may_hold_code(data: bytes, start: int) -> bool:
    """Return whether the string whose quotes start at `start` may be one with code in it."""
    prefix = _PREFIX.search(data, max(start - 2, 0), start)
    return prefix is not None and not _WITH_CODE.isdisjoint(prefix[0])


def _next_mark(data: bytes, marks: list[int], at: int) -> int:
    """Return where the next triple quotes stand from `at` on, -1 if nowhere.

    Arguments: `marks` is where each kind of them was seen last; it is brought up to date.
    """
    for kind, mark in enumerate(_TRIPLES):
        if 0 <= marks[kind] < at:
            marks[kind] = data.find(mark, at)
    one, other = marks
    return one if other < 0 or 0 <= one < other else other


def closed(data: bytes, mark: bytes, at: int) -> int:
    """Return where a long string ends whose text starts at `at`; -1 if it does not."""
    while (at := data.find(mark, at)) >= 0:
        if data[at - 1] != _BACKSLASH:
            return at + 3
        text = data[max(at - 64, 0) : at]
        if (len(text) - len(text.rstrip(b"\\"))) % 2 == 0:
            return at + 3
        at += 1
    return -1
