"""From byte offsets to lines and columns, computed once a file and only when somebody asks."""

from __future__ import annotations

import re
from bisect import bisect_right
from functools import cached_property
from itertools import accumulate
from typing import NamedTuple

from yellow_trellis.source.encoding import INVALID
from yellow_trellis.source.span import Place

_LINE_END = re.compile(rb"\r\n|\n|\r")

_TIMES = 8  # passes over the data
_LONG = 1000
"""Bytes up to which a line is shown as a whole, and counted through anew for each column."""
_BEFORE, _AFTER = 100, 400
"""Bytes of a longer line that are shown before a place in it, and from there on."""


class Shown(NamedTuple):
    """A line as it is shown: its text, and how many characters before that are left out."""

    text: str
    left_out: int = 0


class LineIndex:
    """Line starts of UTF-8 `data`; a line ends at LF, CRLF or a lone CR.

    What is asked of a line that it was asked of before costs no look through all of that line:
    some files are one line.
    """

    def __init__(self, data: bytes) -> None:
        self._data = data
        self._is_usual = b"\r" not in data
        self._counted = (0, 1)
        """An offset, and the line that holds it: those who ask nearly in order need no index."""
        self._worth = _TIMES * len(data)
        """How many bytes may still be counted through before an index costs less."""
        self._begun = (0, 0)
        """Where a line starts, and a byte up to which it is known to go on."""
        self._ended = (0, -1)
        """A byte, and where the line that holds it ends."""
        self._counts: dict[int, list[int]] = {}
        """By start of a long line: the characters before each of its blocks."""

    @cached_property
    def starts(self) -> list[int]:
        """The start of each line, in bytes."""
        data = self._data
        results = [0, *accumulate(map(len, data.splitlines(keepends=True)))]
        if data and not data.endswith((b"\n", b"\r")):
            results.pop()
        return results

    def __len__(self) -> int:
        """Return the number of lines; text after the last line end counts as one."""
        return len(self.starts) - (self.starts[-1] == len(self._data))

    def number(self, offset: int) -> int:
        """Return the line, from 1, that holds the byte `offset`."""
        return bisect_right(self.starts, offset)

    def point(self, offset: int) -> tuple[int, int]:
        """Return the row, and the column in bytes, of `offset` as the parser counts them, from 0.

        To the parser a line ends at LF only.
        """
        start = self._data.rfind(b"\n", 0, offset) + 1
        return self._data.count(b"\n", 0, start), offset - start

    def start(self, offset: int) -> int:
        """Return the byte at which the line of `offset` starts."""
        if not self._is_usual:
            return self.starts[self.number(offset) - 1]
        begin, entry = self._begun
        if not begin <= offset <= entry:
            inside = begin <= entry < offset
            at = self._data.rfind(b"\n", entry if inside else 0, offset)
            if at >= 0 or not inside:
                begin = at + 1
            self._begun = begin, offset
        return begin

    def next(self, offset: int) -> int | None:
        """Return the byte at which the line after that of `offset` starts; None if it is the last.

        Behind the last line ending starts a line, too.
        """
        if self._is_usual:
            return self._data.find(b"\n", offset) + 1 or None
        number = self.number(offset)
        return self.starts[number] if number < len(self.starts) else None

    def end(self, offset: int) -> int:
        """Return the byte at which the line of `offset` ends, before its line ending."""
        entry, end = self._ended
        if not entry <= offset <= end:
            if self._is_usual:
                end = self._data.find(b"\n", offset)
            else:
                match = _LINE_END.search(self._data, offset)
                end = match.start() if match else -1
            if end < 0:
                end = len(self._data)
            self._ended = offset, end
        return end

    def place(self, offset: int) -> Place:
        """Return line and column (from 1, in characters) of the byte `offset`."""
        if not self._is_usual or self._worth < 0:
            line = self.number(offset)
        else:
            last, line = self._counted
            if offset < last:
                line -= self._data.count(b"\n", offset, last)
            else:
                line += self._data.count(b"\n", last, offset)
            self._counted = offset, line
            self._worth -= abs(offset - last)
        return Place(line, self._column(self.start(offset), offset))

    def shown(self, start: int, end: int) -> tuple[Place, Place, Shown]:
        """Return the places of the bytes `start` and `end`, and the line of `start`.

        Of what is not UTF-8 each byte is a character: it is shown as U+FFFD. Of a long line a part
        is shown.
        """
        first = self.place(start)
        begin, stop = self.start(start), self.end(start)
        last = Place(first.line, self._column(begin, end)) if end <= stop else self.place(end)
        left, right = begin, stop
        if stop - begin > _LONG:
            left = self._whole(max(begin, start - _BEFORE), begin)
            right = self._whole(min(stop, start + _AFTER), begin)
        text = self._data[left:right].decode("utf-8", "surrogateescape")
        if not text.isascii():
            text = INVALID.sub("\ufffd", text)
        left_out = self._column(begin, left) - 1 if left > begin else 0
        return first, last, Shown(text if right == stop else text + "…", left_out)

    @cached_property
    def _is_ascii(self) -> bool:
        return self._data.isascii()

    def _column(self, line: int, offset: int) -> int:
        """Return the column, from 1, in characters, of a byte in the line that starts at `line`."""
        if self._is_ascii:
            return offset - line + 1
        if offset - line <= _LONG:
            return self._characters(line, offset) + 1
        counts = self._counts.setdefault(line, [0])
        block = (offset - line) // _LONG
        for number in range(len(counts), block + 1):
            at, end = (self._whole(line + n * _LONG, line) for n in (number - 1, number))
            counts.append(counts[-1] + self._characters(at, end))
        return counts[block] + self._characters(self._whole(line + block * _LONG, line), offset) + 1

    def _characters(self, start: int, end: int) -> int:
        return len(self._data[start:end].decode("utf-8", "surrogateescape"))

    def _whole(self, at: int, least: int) -> int:
        """Return `at`, or a byte before it where it lies in a character."""
        data = self._data
        lead = at
        while lead > least and at - lead < 3 and lead < len(data) and data[lead] & 0xC0 == 0x80:
            lead -= 1
        is_lead = lead < len(data) and data[lead] >= 0xC0
        return lead if is_lead else at

    def offset(self, place: Place) -> int:
        """Return the byte offset of `place`, cut to the end of its line and of the data."""
        if place.line > len(self.starts):
            return len(self._data)
        start = self.starts[place.line - 1]
        line = self._data[start : self.end(start)].decode("utf-8", "surrogateescape")
        return start + len(line[: place.column - 1].encode("utf-8", "surrogateescape"))

    def text(self, line: int) -> bytes:
        """Return the bytes of `line` (from 1) without its line ending."""
        start = self.starts[line - 1]
        return self._data[start : self.end(start)]


def line_count(data: bytes) -> int:
    """Return how many lines bytes have; a last one need not end."""
    return data.count(b"\n") + (not data.endswith(b"\n") and bool(data))
