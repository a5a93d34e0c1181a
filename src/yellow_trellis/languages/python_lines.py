"""Statements of a Python file told by lines, so that one can be parsed without its neighbours.

What is told is cautious: None where lines and brackets do not make it plain. A statement whose end
is told too late holds more than itself; one whose end is told too early, in the middle of brackets,
shows as a syntax error.
"""

from __future__ import annotations

import re
from bisect import bisect_right, insort
from functools import lru_cache

from yellow_trellis.languages.pieces import Line, Piece
from yellow_trellis.languages.python_starts import FIRM_WORDS, goes_on, is_apart
from yellow_trellis.languages.python_strings import LongStrings, closed

_PLAIN = rb"[^\"'#\\()\[\]{}\n]*"
_STRING = rb"\"[^\"\\\n]*(?:\\.[^\"\\\n]*)*\"(?!\")|'[^'\\\n]*(?:\\.[^'\\\n]*)*'(?!')"


def _whole(depth: int, inside: bytes) -> bytes:
    """Return an expression for code that leaves no bracket open, nested so deep.

    Arguments: `inside` is an expression for plain code in brackets.
    """
    code = _PLAIN
    inner = b""
    for level in range(depth + 1):
        plain = _PLAIN if level == depth else inside
        code = rb"%s(?:(?:%s%s)%s)*" % (plain, _STRING, inner, plain)
        inner = rb"|[(\[{]%s[)\]}]" % code
    return code


_ENDS = rb"(?:#[^\n]*)?(?:\n|\Z)"
_WHOLE = re.compile(b"(" + _whole(3, _PLAIN) + b")" + _ENDS, re.DOTALL)
"""The rest of a line, or all of it, in which no bracket stays open."""
_LONG = re.compile(
    _whole(4, rb"[^\"'#\\()\[\]{}]*(?:#[^\n]*\n[^\"'#\\()\[\]{}]*)*") + _ENDS, re.DOTALL
)
"""A statement, or the header of one, that goes on over lines in brackets."""
_SURE = re.compile(
    rb"[ \t]*(?:(?:" + FIRM_WORDS + rb"|except|finally|elif)(?![\w\x80-\xff])"
    rb"|(if|for|else|async)(?![\w\x80-\xff])"
    rb"|[A-Za-z_]\w*(?:(?:\.[A-Za-z_]\w*)+[ \t]*=(?!=)"
    rb"|(?:\.[A-Za-z_]\w*)*[ \t]*(?:[-+%|&^@]|\*\*?|//?|<<|>>)=))"
)
"""How a line starts that is a statement, or the header of one, wherever it stands outside of a
string: no such thing stands in brackets. What the group takes does, but not with a colon at the end
of the line, or it does not parse."""
_TOKEN = re.compile(
    rb"\"\"\"|'''|\"(?:[^\"\\\n]|\\.)*\"|'(?:[^'\\\n]|\\.)*'|[\"']|#[^\n]*|\\\r?\n|[()\[\]{}]|\n",
    re.DOTALL,
)
_WORD = re.compile(rb"[ \t]*([A-Za-z_]*)")
_CLAUSES = frozenset([b"elif", b"else", b"except", b"finally"])
_SOFT = frozenset([b"case", b"match"])
"""Words that start a part of a statement, or are names."""
_OPENERS = frozenset([b"if", b"for", b"while", b"try", b"async"])
"""What a statement with clauses starts with."""
_HEADERS = frozenset([b"if", b"for", b"while", b"with", b"def", b"class", b"async"])


class PythonLines:
    """The statements of a file, by their lines.

    Arguments: `data` is UTF-8 code, `strings` its long strings.
    """

    def __init__(self, data: bytes, strings: LongStrings) -> None:
        self.data = data
        self._strings = strings
        self._known: dict[int, tuple[int, int] | None] = {}
        """By start of a line: start and end of the logical line that it is in."""
        self._long: list[tuple[int, int]] = []
        """Those of more than one line, in order: each is gone through once, however long."""

    def line(self, place: int, piece: Piece) -> Line | None:
        """Return what is around `place` in `piece`, of a statement with a body the header only.

        None where lines do not make it plain, or it does not parse alone.
        """
        found = self._logical(place, piece)
        if found is None:
            return None
        start, end, word = self._told(found)
        if word in _CLAUSES or word == b"try":
            return self.block(place, piece)
        if self._is_odd(start, end, word):
            return None
        return Line(start, end, word in _HEADERS)

    def block(self, place: int, piece: Piece) -> Line | None:
        """Return the statement of which `place` is in a line of its own, with its body.

        The line of a clause, such as ``except``, counts as its own. None where lines do not make it
        plain.
        """
        found = self._logical(place, piece)
        if found is None:
            return None
        start, end, word = self._told(found)
        if self._is_odd(start, end, word):
            return None
        indent = self.data[found[0] : start]
        if word in _CLAUSES:
            above = self._opener(found[0], piece.start, indent)
            if above is None:
                return None
            start = above
        stop = self._end(end, piece.end, indent)
        return None if stop is None else Line(start, stop)

    def _is_odd(self, start: int, end: int, word: bytes) -> bool:
        """Tell whether a line may be what does not parse, or not as the same, without others."""
        if word in _SOFT:
            return b":" in self.data[start:end]
        return self.data[start : start + 1] in (b"@", b"\f")

    def _told(self, line: tuple[int, int]) -> tuple[int, int, bytes]:
        """Return where the first word of a line is, where the line ends, and the word."""
        word = _WORD.match(self.data, *line)
        assert word is not None
        return word.start(1), line[1], word[1]

    def _opener(self, at: int, first: int, indent: bytes) -> int | None:
        """Return where the statement starts that the clause at the line `at` belongs to."""
        while at > first:
            at = self._line_start(at - 1)
            word = _WORD.match(self.data, at)
            assert word is not None
            own = word.start(1)
            if not self.data.startswith(indent, at):
                if self.data[own : own + 1] not in (b"\n", b"\r", b"#"):
                    return None
            elif own - at == len(indent) and word[1] and word[1] not in _CLAUSES:
                return own if word[1] in _OPENERS else None
        return None

    def _end(self, at: int, end: int, indent: bytes) -> int | None:
        """Return where the statement ends whose first line ended at `at`, at most at `end`."""
        for found in _ends_body(len(indent)).finditer(self.data, at - 1, end):
            start = found.start() + 1
            if self._strings.around(start) is not None or goes_on(self.data, start):
                continue
            if not indent.startswith(found[1]):
                return None
            if found[1] != indent or found[2] not in _CLAUSES:
                return start
        return end

    def _logical(self, place: int, piece: Piece) -> tuple[int, int] | None:
        """Return start and end of the logical line around `place`; None where it is not plain."""
        line = self._line_start(place)
        if line not in self._known:
            found = self._long_around(place)
            if found is None:
                found = self._find_logical(line, place, piece)
                if found is not None and found != (line, self.data.find(b"\n", place) + 1):
                    insort(self._long, found)
            self._known[line] = found
        return self._known[line]

    def _long_around(self, place: int) -> tuple[int, int] | None:
        at = bisect_right(self._long, (place, len(self.data))) - 1
        return self._long[at] if at >= 0 and place < self._long[at][1] else None

    def _find_logical(self, line: int, place: int, piece: Piece) -> tuple[int, int] | None:
        at = line
        if line and not is_apart(self.data, line):
            sure = self._sure_end(line)
            if sure is not None:
                return line, sure
            while at and sure is None:
                at = self._line_start(at - 1)
                sure = self._sure_end(at)
            at = at if sure is None else sure
        while (whole := _WHOLE.match(self.data, at)) is not None:
            if whole.end() > place:
                return at, whole.end()
            at = whole.end()
        long = _LONG.match(self.data, at, piece.end)
        if long is not None and long.end() > place:
            return at, long.end()
        return self._scan(at, place)

    def _sure_end(self, line: int) -> int | None:
        """Return where a line ends that is a statement, or the header of one, in any case."""
        sure = _SURE.match(self.data, line)
        if sure is None or goes_on(self.data, line):
            return None
        rest = _WHOLE.match(self.data, sure.end())
        if rest is None or (sure[1] and not rest[1].rstrip().endswith(b":")):
            return None
        return rest.end()

    def _scan(self, start: int, place: int) -> tuple[int, int] | None:
        """Return the logical line that holds `place`, of those from `start` on, token by token."""
        data, depth, at = self.data, 0, start
        while (token := _TOKEN.search(data, at)) is not None:
            at, sign = token.end(), token[0]
            if sign == b"\n":
                if not depth and at > place:
                    return start, at
                if not depth:
                    start = at
            elif sign in b"([{":
                depth += 1
            elif sign in b")]}":
                depth -= 1
            elif sign in (b'"""', b"'''"):
                at = closed(data, sign, at)
            if depth < 0 or at < 0 or sign in (b'"', b"'"):
                return None
        return None if depth else (start, len(data))

    def _line_start(self, place: int) -> int:
        """Return where the line starts that `place` is in, or the long string around that."""
        start = self.data.rfind(b"\n", 0, place) + 1
        while (string := self._strings.around(start)) is not None:
            start = self.data.rfind(b"\n", 0, string) + 1
        return start


@lru_cache(maxsize=64)
def _ends_body(width: int) -> re.Pattern[bytes]:
    return re.compile(rb"\n([ \t]{0,%d})(?![ \t])([A-Za-z_@\x80-\xff][\w\x80-\xff]*)" % width)
