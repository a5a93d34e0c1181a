"""Patterns as in ignore files, which mean what they mean to git, byte for byte.

They were held by a library before: it takes a path below what `!*/` brings back for brought back
itself, and characters for bytes. A pattern is cut at its slashes, and each part becomes a regular
expression that cannot go back over a star, so that none takes more than a path is long.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterable, Iterator
from functools import cache, cached_property, lru_cache

_CLASSES = {
    b"alnum": rb"0-9A-Za-z",
    b"alpha": rb"A-Za-z",
    b"blank": rb" \t",
    b"cntrl": rb"\x00-\x1f\x7f",
    b"digit": rb"0-9",
    b"graph": rb"\x21-\x7e",
    b"lower": rb"a-z",
    b"print": rb"\x20-\x7e",
    b"punct": rb"\x21-\x2f\x3a-\x40\x5b-\x60\x7b-\x7e",
    b"space": rb"\x09-\x0d\x20",
    b"upper": rb"A-Z",
    b"xdigit": rb"0-9A-Fa-f",
}
_ANY, _DEEP, _SLASH = b"*", b"**", b"/"
_SPECIAL = frozenset(b"*?[\\")
_Token = tuple[bytes, bytes]
"""A star, two, or a slash, by itself; or an empty name and the expression for one byte."""


class _Malformed(ValueError):
    """A pattern that git takes, and that fits nothing."""


class Line:
    """One line of an ignore file that is a pattern.

    `number` counts from 1. `brings_back`: what it fits is not ignored.
    """

    def __init__(self, number: int, text: bytes) -> None:
        self.number = number
        self.text = text
        self.brings_back = text.startswith(b"!")
        pattern = text.removeprefix(b"!")
        self.only_folders = pattern.endswith(b"/")
        self._pattern = pattern.removesuffix(b"/")
        self.is_of_name = b"/" not in self._pattern
        """Whether it is about names in any folder, and not about paths."""

    @cached_property
    def name(self) -> bytes | None:
        """The one name that a pattern without wildcards is about."""
        return self._pattern if self.is_of_name and not _SPECIAL & {*self._pattern} else None

    @cached_property
    def _ways(self) -> list[_Parts]:
        """In which ways the parts of a path may fit."""
        try:
            if self.is_of_name:
                return [_parts_of(self._pattern, deep=False)]
            return list(_ways_of(self._pattern.removeprefix(b"/")))
        except _Malformed:
            return []

    def fits(self, parts: list[bytes], is_folder: bool) -> bool:
        """Return whether it fits a path, in its parts from the folder of the ignore file."""
        if self.only_folders and not is_folder:
            return False
        if self.is_of_name:
            parts = parts[-1:]
        return any(_fits(way, parts) for way in self._ways)


_Parts = list["re.Pattern[bytes] | None"]
"""What the parts of a path must be; None stands for any number of folders."""


def _fits(target: _Parts, parts: list[bytes]) -> bool:
    """Return whether parts of a path fit; what follows any number of folders fits the nearest.

    That is enough: from a nearer end more is within reach than from one farther off.
    """
    at = w = 0
    again: tuple[int, int] | None = None
    while at < len(parts):
        if w < len(target) and (part := target[w]) is None:
            if w == len(target) - 1:
                return True  # at the end it takes all that is left, and that is something
            again, w = (w + 1, at), w + 1
        elif w < len(target) and part is not None and part.fullmatch(parts[at]):
            at, w = at + 1, w + 1
        elif again is not None:
            w, at = again[0], again[1] + 1
            again = (w, at)
        else:
            return False
    return w == len(target)


def _ways_of(pattern: bytes) -> Iterator[_Parts]:
    """Yield in which ways a path may fit.

    Git compares what stands before the first wildcard by itself; so two stars right behind a word
    count as if the pattern began with them: `a**/b` fits `ab` and all that `a*/**/b` fits.
    """
    start = next((n for n, byte in enumerate(pattern) if byte in _SPECIAL), len(pattern))
    word, tail = pattern[:start], pattern[start:]
    while word and not word.endswith(b"/") and (stars := _STARS.match(tail)):
        tail = tail[stars.end() :]
        if not tail:
            yield _parts_of(word + b"*")
            yield _parts_of(word + b"*/**")
            return
        may_be_none, tail = tail.startswith(b"/"), tail.removeprefix(b"\\")[1:]
        yield _parts_of(word + b"*/**/" + tail)
        if not may_be_none:
            return
    yield _parts_of(word + tail)


_STARS = re.compile(rb"\*\*+(?=/|\\/|\Z)")


def _parts_of(pattern: bytes, deep: bool = True) -> _Parts:
    parts: list[list[_Token]] = [[]]
    for token in _tokens(pattern, deep):
        if token[0] == _SLASH:
            parts.append([])
        else:
            parts[-1].append(token)
    return [None if part == [(_DEEP, b"")] else re.compile(_expression(part)) for part in parts]


def _expression(tokens: list[_Token]) -> bytes:
    """Return the expression for one part of a path.

    What stands between two stars is taken where it first fits, in a look ahead that is not entered
    again: so stars do not multiply.
    """
    pieces: list[bytes] = [b""]
    for star, item in tokens:
        if star:
            pieces.append(b"")
        else:
            pieces[-1] += item
    if len(pieces) == 1:
        return b"(?s:" + pieces[0] + b")"
    first, *middle, last = pieces
    contents = [
        b"(?=(?P<p%d>.*?%s))(?P=p%d)" % (number, piece, number)
        for number, piece in enumerate(middle)
        if piece
    ]
    return b"(?s:" + first + b"".join(contents) + b".*" + last + b")"


def _tokens(pattern: bytes, deep: bool) -> Iterator[_Token]:
    """Yield the tokens of a pattern; with `deep`, two stars between slashes are any folders."""
    at = 0
    while at < len(pattern):
        item = pattern[at : at + 1]
        at += 1
        if item == b"*":
            begin = at - 1
            while pattern[at : at + 1] == b"*":
                at += 1
            opens = begin == 0 or pattern[begin - 1 : begin] == b"/"
            closes = pattern[at : at + 1] in (b"", b"/") or pattern[at : at + 2] == b"\\/"
            several = at - begin > 1 and deep and opens and closes
            if several and pattern[at : at + 1] == b"\\":
                yield from ((_ANY, b""), (_SLASH, b""))  # a slash in hiding: one folder at least
            yield (_DEEP if several else _ANY), b""
        elif item == b"?":
            yield b"", b"."
        elif item == b"[":
            expression, at = _class(pattern, at)
            yield b"", expression
        elif item == b"\\":
            if at == len(pattern):
                raise _Malformed
            item = pattern[at : at + 1]
            at += 1
            yield (_SLASH, b"") if item == b"/" else (b"", re.escape(item))
        else:
            yield (_SLASH, b"") if item == b"/" else (b"", re.escape(item))


def _class(pattern: bytes, at: int) -> tuple[bytes, int]:
    """Return the expression for a class of bytes whose bracket is before `at`, and its end."""

    def byte(where: int) -> bytes:
        if where >= len(pattern):
            raise _Malformed
        return pattern[where : where + 1]

    negated = byte(at) in (b"!", b"^")
    at += negated
    results: set[int] = set()
    names = b""
    before = b""
    first = True
    while first or byte(at) != b"]":
        first = False
        item, at = byte(at), at + 1
        if item == b"\\":
            item, at = byte(at), at + 1
            results |= {item[0]}
        elif item == b"-" and before and byte(at) != b"]":
            item, at = byte(at), at + 1
            if item == b"\\":
                item, at = byte(at), at + 1
            results |= {*range(before[0], item[0] + 1)}
            item = b""
        elif item == b"[" and byte(at) == b":":
            end = pattern.find(b"]", at + 1)
            if end < 0:
                raise _Malformed
            if end == at + 1 or pattern[end - 1 : end] != b":":
                results |= {item[0]}
            else:
                name = pattern[at + 1 : end - 1]
                if name not in _CLASSES:
                    raise _Malformed
                names += _CLASSES[name]
                item, at = b"", end + 1
        else:
            results |= {item[0]}
        before = item
    inside = b"".join(re.escape(bytes([number])) for number in sorted(results)) + names
    if not inside:
        return (b"." if negated else rb"(?!)"), at + 1
    return b"[" + (b"^" if negated else b"") + inside + b"]", at + 1


class Globs:
    """The patterns of an ignore file; of those that fit, the last one counts."""

    def __init__(self, lines: Iterable[Line]) -> None:
        self._lines = list(lines)
        self._by_name: dict[bytes, list[Line]] = {}
        self._others: list[Line] = []
        for line in self._lines:
            if line.name is not None:
                self._by_name.setdefault(line.name, []).append(line)
            else:
                self._others.append(line)

    def __bool__(self) -> bool:
        """Return whether there is any pattern."""
        return bool(self._lines)

    @classmethod
    def read(cls, data: bytes) -> Globs:
        """Read the bytes of an ignore file; a line that is no pattern is passed over."""
        lines = data.removeprefix(b"\xef\xbb\xbf").split(b"\n")
        results = []
        for number, line in enumerate(lines, 1):
            text = _without_spaces(line.removesuffix(b"\r").partition(b"\0")[0])
            if text and not text.startswith(b"#"):
                results.append(Line(number, text))
        return cls(results)

    def last(self, path: bytes, is_folder: bool) -> Line | None:
        """Return the line that decides on `path` itself, from the folder of the ignore file."""
        parts = path.split(b"/")
        name = self._by_name.get(parts[-1], ())
        result = next((item for item in reversed(name) if is_folder or not item.only_folders), None)
        for line in reversed(self._others):
            if result is not None and line.number < result.number:
                break
            if line.fits(parts, is_folder):
                return line
        return result

    def ignore(self, path: bytes) -> bool:
        """Return whether the file at `path`, or a folder that it lies in, is ignored."""
        parts = path.split(b"/")
        for end in range(1, len(parts) + 1):
            line = self.last(b"/".join(parts[:end]), is_folder=end < len(parts))
            if line is not None and not line.brings_back:
                return True
        return False


def _without_spaces(line: bytes) -> bytes:
    """Return a line without the spaces at its end; one behind a backslash stays."""
    bare = line.rstrip(b" ")
    slashes = len(bare) - len(bare.rstrip(b"\\"))
    return bare + b" " if slashes % 2 and len(bare) < len(line) else bare


@cache
def _read_globs(patterns: tuple[str, ...]) -> Globs:
    return Globs.read("\n".join(patterns).encode("utf-8", "surrogateescape"))


@lru_cache(maxsize=4096)
def _real(folder: str) -> str:
    return os.path.realpath(folder)


def fits(path: str, folder: str, patterns: tuple[str, ...]) -> bool:
    """Return whether `patterns`, written in `folder`, fit the file at `path`, or a folder of it.

    A path through a link is that of the real folder.
    """
    above, leaf = os.path.split(path)
    name = os.path.relpath(_real(os.path.join(os.getcwd(), above)), _real(folder or "."))
    name = os.path.normpath(os.path.join(name, leaf)).replace(os.sep, "/")
    return _read_globs(patterns).ignore(os.fsencode(name))
