"""Statement boundaries of a Python file, read from its bytes before any parse.

Some keywords start a statement and can stand nowhere else at the start of a line: in brackets no
`return` follows a line break. Lines that start with one of them, outside of strings and not behind
a backslash, are *firm*: code may be cut there. From the nearest firm line, logical lines are read.
What is told is certain for code that compiles; where it would not be, nothing is told.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from functools import cached_property

from yellow_trellis.languages.python.logical_lines import (
    LogicalLines,
    is_continuation,
    long_strings,
    may_hold_code,
)
from yellow_trellis.languages.scanner import NO_CODE, Span

_FIRM = re.compile(
    rb"^[ \t]*(?:return|def|class|import|raise|assert|del|pass|while|with|try|global|nonlocal"
    rb"|break|continue)(?![\w\x80-\xff])",
    re.MULTILINE,
)
_FIRST_WORD = re.compile(rb"[ \t]*([A-Za-z_]*)")
_BLANK = re.compile(rb"[ \t\f\r]*(?:#|\n|\Z)")
_PARTS = frozenset([b"else", b"except", b"finally", b"try"])
"""What starts a line that does not parse by itself, or not as the same."""
_SOFT = frozenset([b"match", b"case"])
"""The same where a colon follows; else a name."""


class StatementScanner:
    """The statements of UTF-8 `data`. Its spans are in bytes, half-open."""

    def __init__(self, data: bytes) -> None:
        self._data = data
        self._lines: dict[int, LogicalLines] = {}
        """By firm start: the logical lines from there to the next one."""

    @cached_property
    def is_clear(self) -> bool:
        """Return whether quotes make clear where the long strings are."""
        return self._long_strings is not None

    @cached_property
    def _long_strings(self) -> list[tuple[int, int]] | None:
        return long_strings(self._data)

    @cached_property
    def _firm(self) -> list[int]:
        """The starts of firm lines, ascending, after the start of the file."""
        data = self._data
        starts = [match.start() for match in _FIRM.finditer(data)]
        for first, last in self._long_strings or ():
            at = bisect_right(starts, first)
            if at < len(starts) and starts[at] < last:
                del starts[at : bisect_left(starts, last)]
        if b"\\" in data:
            starts = [start for start in starts if not is_continuation(data, start)]
        return [0, *starts] if not starts or starts[0] else starts

    @cached_property
    def _top(self) -> list[int]:
        """The firm starts between top-level statements: not indented, and below no decorator."""
        data, starts, last = self._data, [0], 0
        for start in self._firm[1:]:
            if data[start : start + 1] in (b" ", b"\t"):
                continue
            decorated = data.startswith(b"@", last) or data.find(b"\n@", last, start) >= 0
            if not (decorated and data.startswith((b"def", b"class"), start)):
                starts.append(start)
            last = start
        return starts

    def in_text(self, place: int) -> bool:
        """Return whether the byte `place` is in a long string without code in it."""
        spans = self._long_strings or []
        at = bisect_right(spans, (place, len(self._data))) - 1
        return at >= 0 and place < spans[at][1] and not may_hold_code(self._data, spans[at][0])

    def statement(self, place: int) -> Span | None:
        """Return what to parse for the simple statement, or the header, that holds `place`.

        It starts at its first word. `NO_CODE` where there is nothing but a comment; None where the
        line does not parse without its neighbours, or it is not clear where it ends.
        """
        firm = self._firm
        number = bisect_right(firm, place) - 1
        start = firm[number]
        end = firm[number + 1] if number + 1 < len(firm) else len(self._data)
        lines = self._lines.get(start)
        if lines is None:
            lines = self._lines[start] = LogicalLines(self._data, start, end)
        line = lines.at(place)
        return None if line is None else self._parseable(*line)

    def _parseable(self, start: int, end: int) -> Span | None:
        data = self._data
        if _BLANK.match(data, start) is not None:
            return NO_CODE
        word = _FIRST_WORD.match(data, start, end)
        assert word is not None
        start = word.start(1)
        if word[1] in _PARTS or data[start : start + 1] == b"\f":
            return None
        if word[1] in _SOFT and b":" in data[start:end]:
            return None
        if word[1] == b"elif":
            return start + 2, end  # as the `if` that it ends in
        if data[start : start + 1] == b"@":  # a decorator: the expression in it
            start += 1
            start += len(data[start:end]) - len(data[start:end].lstrip(b" \t"))
        return start, end

    def segment(self, place: int) -> Span:
        """Return a span of whole top-level statements around `place`, at most the file."""
        number = bisect_right(self._top, place) - 1
        last = number + 1 == len(self._top)
        return self._top[number], len(self._data) if last else self._top[number + 1]
