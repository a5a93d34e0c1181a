"""Where the logical lines of a Python file start, told by its quotes, brackets and backslashes.

A logical line is a line with all that it goes on in; a statement, or the header of one, never holds
less. No parser is asked: one regular expression goes through the file, and tokens are counted only
where brackets nest deeper than it can tell.
"""

from __future__ import annotations

import re

from yellow_trellis.languages.python_strings import closed

# No two of the ways on from a place start alike, and none ends before it has to: where the whole
# does not fit, that is known at the cost of going back along it once.
_STRING = (
    rb'"""[^"\\]*(?:(?:\\.|"(?!""))[^"\\]*)*"""|"(?!"")[^"\\\n]*(?:\\.[^"\\\n]*)*"'
    rb"|'''[^'\\]*(?:(?:\\.|'(?!''))[^'\\]*)*'''|'(?!'')[^'\\\n]*(?:\\.[^'\\\n]*)*'"
)
_PLAIN = rb"[^\"'#\\()\[\]{}\n]*"
_PLAIN_IN_BRACKETS = rb"[^\"'#\\()\[\]{}]*"
_DEEPEST = 6


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
    return rb"%s(?:(?:%s%s)%s)*(?:#[^\n]*)?(?:\n|\Z)" % (_PLAIN, known, nested, _PLAIN)


_LOGICAL = re.compile(_logical_line(), re.DOTALL)
_TOKEN = re.compile(
    rb"\"\"\"|'''|\"(?:[^\"\\\n]|\\.)*\"|'(?:[^'\\\n]|\\.)*'|[\"']|#[^\n]*|\\\r?\n|[()\[\]{}]|\n",
    re.DOTALL,
)


def logical_lines(data: bytes, at: int, end: int) -> list[int]:
    """Return where the logical lines between two places start, and where the last one ends.

    That is before `end` where quotes or brackets do not make it plain how it goes on. All in bytes.
    """
    bounds = [at]
    while at < end:
        spans = [line.span() for line in _LOGICAL.finditer(data, at, end)]
        starts, ends = zip(*spans, strict=True) if spans else ((), ())
        bounds += ends[: _in_a_row(at, starts, ends)]
        at = bounds[-1]
        if at < end:
            at = _scan(data, at, end)
            if at < 0:
                break
            bounds.append(at)
    if len(bounds) > 1 and bounds[-1] == bounds[-2]:
        bounds.pop()  # nothing stands behind the last line break
    return bounds


def _in_a_row(at: int, starts: tuple[int, ...], ends: tuple[int, ...]) -> int:
    """Return how many lines follow each other without a gap from `at` on."""
    if starts == (at, *ends[:-1]):
        return len(starts)
    found = 0
    while found < len(starts) and starts[found] == at:
        at = ends[found]
        found += 1
    return found


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
