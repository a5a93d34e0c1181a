"""From byte offsets to lines and columns, computed once a file and only when somebody asks."""

from __future__ import annotations

import re
from bisect import bisect_right
from functools import cached_property
from itertools import accumulate

from yellow_trellis.source.encoding import INVALID
from yellow_trellis.source.span import Place

_LINE_END = re.compile(rb"\r\n|\n|\r")

_TIMES = 8  # passes over the data


class LineIndex:
    """Line starts of UTF-8 `data`; a line ends at LF, CRLF or a lone CR."""

    def __init__(self, data: bytes) -> None:
        self._data = data
        self._is_usual = b"\r" not in data
        self._counted = (0, 1)
        """An offset, and the line that holds it: those who ask nearly in order need no index."""
        self._worth = _TIMES * len(data)
        """How many bytes may still be counted through before an index costs less."""

    @cached_property
    def starts(self) -> list[int]:
        """Where each line starts, in bytes."""
        data = self._data
        found = [0, *accumulate(map(len, data.splitlines(keepends=True)))]
        if data and not data.endswith((b"\n", b"\r")):
            found.pop()
        return found

    def __len__(self) -> int:
        """Return the number of lines; text after the last line end counts as one."""
        return len(self.starts) - (self.starts[-1] == len(self._data))

    def number(self, offset: int) -> int:
        """Return the line, from 1, that holds the byte `offset`."""
        return bisect_right(self.starts, offset)

    def start(self, offset: int) -> int:
        """Return the byte at which the line of `offset` starts."""
        if self._is_usual:
            return self._data.rfind(b"\n", 0, offset) + 1
        return self.starts[self.number(offset) - 1]

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
        if self._is_usual:
            at = self._data.find(b"\n", offset)
            return at if at >= 0 else len(self._data)
        found = _LINE_END.search(self._data, offset)
        return found.start() if found else len(self._data)

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

    def shown(self, start: int, end: int) -> tuple[Place, Place, str]:
        """Return the places of the bytes `start` and `end`, and the text of the line of `start`.

        Of what is not UTF-8 each byte is a character: it is shown as U+FFFD.
        """
        first = self.place(start)
        begin, stop = self.start(start), self.end(start)
        last = Place(first.line, self._column(begin, end)) if end <= stop else self.place(end)
        text = self._data[begin:stop].decode("utf-8", "surrogateescape")
        return first, last, text if text.isascii() else INVALID.sub("\ufffd", text)

    def _column(self, line: int, offset: int) -> int:
        """Return the column, from 1, in characters, of a byte in the line that starts at `line`."""
        return len(self._data[line:offset].decode("utf-8", "surrogateescape")) + 1

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
