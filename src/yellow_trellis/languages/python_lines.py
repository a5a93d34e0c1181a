"""Statements of a Python file told by its logical lines, to be parsed without their neighbours.

What is told is cautious: None where lines do not make it plain. A statement whose end is told too
late holds more than itself; what does not parse alone shows as a syntax error.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from functools import cached_property, lru_cache

from yellow_trellis.languages.pieces import Line
from yellow_trellis.languages.python_logical import LogicalLines, texts_in
from yellow_trellis.source import held

_WORD = re.compile(rb"[ \t]*([A-Za-z_]*)")
_NOTHING = re.compile(rb"[ \t\f\r]*(?:#|\n|\Z)")
_COMMENT = re.compile(rb"[ \t\r\n\f]*#")
_COMMENT_LINE = re.compile(rb"^([ \t]*)#", re.MULTILINE)
_FORM_FEED = 0x0C
_CLAUSES = frozenset([b"elif", b"else", b"except", b"finally"])
_SOFT = frozenset([b"case", b"match"])
"""Words that start a part of a statement, or are names."""
_OPENERS = frozenset([b"if", b"for", b"while", b"try", b"async"])
"""What a statement with clauses starts with."""
_DEFINITION = re.compile(rb"\n[ \t\f]*(?:async[ \t\f\\\r\n]+)?(?:def|class)\b")
_HEADERS = frozenset([b"if", b"for", b"while", b"with", b"def", b"class", b"async"])

_MOST_LOOKED, _SMALL = 20, 64 * 1024
"""How often each byte may be looked at, and bytes that may be anyway, until lines are not plain."""


class PythonLines:
    """The statements of a piece of a file, by their lines.

    Arguments: `data` is UTF-8 code; the piece is from `start` to `end` in it.
    """

    def __init__(self, data: bytes, start: int, end: int) -> None:
        self._told_lines = LogicalLines(data, start, end)
        self.bounds = self._told_lines.bounds
        self._data = data
        self._stop = end
        self._lines: dict[int, Line | None] = {}
        """By number of a logical line, from 0."""
        self._blocks: dict[int, Line | None] = {}
        self._looked = 0
        """Bytes looked at for where statements end and clauses belong."""
        self._texts: dict[int, list[tuple[int, int]]] = {}

    def number(self, place: int) -> int | None:
        if place >= self.bounds[-1] and not self._told_lines.reach(place):
            return None
        return bisect_right(self.bounds, place) - 1

    def in_string(self, number: int, place: int) -> bool:
        texts = self._texts.get(number)
        if texts is None:
            texts = list(texts_in(self._data, *self.bounds[number : number + 2]))
            self._texts[number] = texts
        return held(place, place + 1, texts)

    def line(self, number: int) -> Line | None:
        if number not in self._lines:
            self._lines[number] = self._line(number)
        return self._lines[number]

    def head(self, number: int) -> tuple[Line, ...] | None:
        if _NOTHING.match(self._data, self.bounds[number]) is not None:
            return ()
        start, end, word = self._told(number)
        if b"#" in self._data[start:end] or _COMMENT.match(self._data, end) is not None:
            block = self.block(number)
            return None if block is None else (block,)
        if word not in _CLAUSES:
            line = self.line(number)
            return None if line is None else (line,)
        above = self._opener(number, self._data[self.bounds[number] : start])
        if above is None or self._is_odd(start, end, word):
            return None
        own, stop, opener = self._told(above)
        if opener == b"try" and word not in (b"except", b"finally"):
            block = self.block(number)
            return None if block is None else (block,)
        return Line(own, stop, (own,)), Line(start, end, (start,))

    def around(self, number: int) -> tuple[Line, ...] | None:
        if self._definitions is None:
            return None
        start = self.bounds[number]
        last = bisect_left(self._definitions, start, key=lambda one: one[-1][0].start)
        nest = self._definitions[last - 1] if last else ()
        return tuple(header for header, end in nest if end > start)

    def definition(self) -> Line | None:
        return self._definitions[0][0][0] if self._definitions else None

    @cached_property
    def _definitions(self) -> list[tuple[tuple[Line, int], ...]] | None:
        """The header and the end of each function and class, after those around it, in order.

        None where lines do not make it plain.
        """
        begin = self.bounds[0]
        found: list[tuple[tuple[Line, int], ...]] = []
        nest: tuple[tuple[Line, int], ...] = ()
        for one in _DEFINITION.finditer(b"\n" + self._data[begin : self._stop]):
            start = begin + one.start()
            number = self.number(start)
            if number is None:
                return None
            if self.bounds[number] != start:
                continue  # it is in a text, or in brackets
            header, block = self.line(number), self.block(number)
            if header is None or block is None:
                return None
            nest = (*(outer for outer in nest if outer[1] > start), (header, block.end))
            found.append(nest)
        return found

    def is_clause(self, number: int) -> bool:
        return self._told(number)[2] in _CLAUSES

    def block(self, number: int) -> Line | None:
        if number not in self._blocks:
            self._blocks[number] = self._block(number)
        return self._blocks[number]

    def body_end(self, number: int) -> Line | None:
        header = self.line(number)
        if header is None or not header.cut:
            return None
        indent = self._data[self.bounds[number] : header.cut[-1]]
        stop = self._end(header.end, indent)
        return None if stop is None else self._last(number + 1, stop, len(indent))

    def end(self) -> Line | None:
        return self._last(0, self._stop, 0)

    def unindented(self, at: int) -> int | None:
        """Return where the first statement behind `at` starts that is not indented.

        That is the end of the piece if there is none; None where lines do not make it plain.
        """
        return self._end(at, b"")

    def _last(self, first: int, stop: int, width: int) -> Line | None:
        """Return the last statement in the lines from a number on, with what ends at `stop`.

        Arguments: `width` is how far the header is indented of whose body it is the last.
        """
        if not self._told_lines.reach(stop - 1):
            return None
        number = bisect_left(self.bounds, stop) - 1
        while number >= first and _NOTHING.match(self._data, self.bounds[number]) is not None:
            number -= 1
        if number < first:
            return None
        start, _, word = self._told(number)
        if word in _CLAUSES or self._is_odd(start, stop, word):
            return None
        own = start - self.bounds[number]
        if own <= width:
            return None
        notes = _COMMENT_LINE.finditer(self._data, self.bounds[number + 1], stop)
        if any(width < len(one[1]) < own for one in notes):
            return None  # it ends a body around this statement, which is not there
        # a body starts where its last statement does, as far as it is parsed
        return Line(self.bounds[number], stop, (start,))

    def _line(self, number: int) -> Line | None:
        start, end, word = self._told(number)
        if word in _CLAUSES or word == b"try":
            return self.block(number)
        if self._data[start : start + 1] == b"@":
            return self._decorated(number, start)
        if self._is_odd(start, end, word):
            return None
        return Line(start, end, (start,) if word in _HEADERS else ())

    def _decorated(self, number: int, start: int) -> Line | None:
        """Return a decorator with the header of what it decorates."""
        while self._told_lines.reach(self.bounds[number + 1]):
            number += 1
            own, end, word = self._told(number)
            if word in (b"def", b"class", b"async"):
                return Line(start, end, (start, own))
            is_decorator = self._data[own : own + 1] == b"@"
            if not is_decorator and _NOTHING.match(self._data, own) is None:
                return None
        return None

    def _block(self, number: int) -> Line | None:
        start, end, word = self._told(number)
        if self._is_odd(start, end, word):
            return None
        indent = self._data[self.bounds[number] : start]
        if word in _CLAUSES:
            above = self._opener(number, indent)
            if above is None:
                return None
            start = self._told(above)[0]
        stop = self._end(end, indent)
        return None if stop is None else Line(start, stop)

    def _is_odd(self, start: int, end: int, word: bytes) -> bool:
        """Return whether a line may be what does not parse, or not as the same, without others."""
        if word in _SOFT:
            return b":" in self._data[start:end]
        return self._data[start : start + 1] in (b"@", b"\f")

    def _told(self, number: int) -> tuple[int, int, bytes]:
        """Return where the first word of a line is, where the line ends, and the word."""
        word = _WORD.match(self._data, self.bounds[number], self.bounds[number + 1])
        assert word is not None
        return word.start(1), self.bounds[number + 1], word[1]

    def _opener(self, number: int, indent: bytes) -> int | None:
        """Return the number of the line that starts what the clause in a line belongs to."""
        if self._is_costly:
            return None
        for above in range(number - 1, -1, -1):
            at = self.bounds[above]
            self._looked += self.bounds[above + 1] - at
            own, _, word = self._told(above)
            if not self._data.startswith(indent, at):
                if self._data[own : own + 1] not in (b"\n", b"\r", b"#"):
                    return None
            elif own - at == len(indent) and word and word not in _CLAUSES:
                return above if word in _OPENERS else None
        return None

    @property
    def _is_costly(self) -> bool:
        """Whether bodies lie in bodies so deep that it costs less to parse them."""
        return self._looked > _MOST_LOOKED * (self._stop - self.bounds[0]) + _SMALL

    def _end(self, at: int, indent: bytes) -> int | None:
        """Return where the statement ends whose first line, so indented, ended at `at`."""
        if self._is_costly:
            return None
        bounds = self.bounds
        for found in _ends_body(len(indent)).finditer(self._data, at - 1, self._stop):
            start = found.start() + 1
            if not self._told_lines.reach(start):
                return None
            if bounds[bisect_left(bounds, start)] != start:
                continue
            if not indent.startswith(found[1]) or self._data[found.end(1)] == _FORM_FEED:
                return None
            if found[1] != indent or found[2] not in _CLAUSES:
                self._looked += start - at
                return start
        self._looked += self._stop - at
        return self._stop


@lru_cache(maxsize=64)
def _ends_body(width: int) -> re.Pattern[bytes]:
    return re.compile(rb"\n([ \t]{0,%d})(?=[^ \t\r\n#])([\w\x80-\xff]*)" % width)
