"""Literals as tables: which spellings have the same value.

A value is worked out only where the tables say how; all else is compared as text, which can miss
that two spellings are the same, and never takes two for the same that are not.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from functools import cached_property, lru_cache
from typing import NamedTuple

from msgspec import Struct, field


Value = str | bytes | int | float | complex

_SHORT = 64
"""Characters up to which the value of a literal is kept: the same few are asked for again."""
_DECIMAL = re.compile(r"(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?")
_OCTAL = re.compile(r"[0-7]{1,3}")


class Prefix(NamedTuple):
    """The meaning of letters before a string."""

    raw: bool = False
    """Whether a backslash stands for itself."""
    binary: bool = False
    """Whether the value is bytes."""


class Literals(Struct, frozen=True, eq=False, dict=True):
    """The spellings of strings and numbers."""

    kinds: frozenset[str] = frozenset()
    """The kinds that may be spelled in several ways."""
    quotes: tuple[str, ...] = ('"', "'")
    """What a string may start and end with, the longest first."""
    prefixes: Mapping[str, Prefix] = field(default_factory=lambda: {"": Prefix()})
    """By prefix, in lower case: its meaning; a string with any other has no known value."""
    escapes: Mapping[str, str] | None = None
    """By character behind a backslash: what the two stand for; None where no escape is known."""
    hexadecimal: Mapping[str, int] = field(default_factory=dict)
    """By letter behind a backslash: how many digits of a code point follow."""
    octal: bool = False
    """Whether up to three octal digits behind a backslash are a code point."""
    named: bool = False
    r"""Whether ``\N{...}`` is a character by its name in Unicode."""
    keeps_unknown: bool = False
    """Whether a backslash before any other character stands for itself; else it has no value."""
    joined: bool = False
    """Whether strings in a row are one."""
    between: str = r"\s"
    """What may stand between those, as a regular expression."""
    radixes: Mapping[str, int] = field(default_factory=dict)
    """By prefix of a number, in lower case: its base."""
    leading_zero: bool = False
    """Whether a decimal number may start with a zero that changes nothing."""
    separator: str = "_"
    """What may stand between digits, for those who read; empty if nothing may."""
    live: re.Pattern[str] | None = None
    """What the text of a string starts with in which there is code: it has no value before that
    runs."""
    imaginary: str = ""
    """The letter behind an imaginary number; empty if there are none."""

    def value(self, text: str) -> Value:
        """Return the value of a literal. Errors: `ValueError`, where it has none that is known."""
        return self._value(text) if len(text) > _SHORT else _kept(self, text)

    def _value(self, text: str) -> Value:
        if text[:1].isdigit() or (text[:1] == "." and text[1:2].isdigit()):
            return self._number(text)
        if self.live is not None and self.live.match(text):
            raise ValueError(text)
        parts = list(self._strings(text))
        if not parts or (len(parts) > 1 and not self.joined) or len(set(map(type, parts))) > 1:
            raise ValueError(text)
        return parts[0][:0].join(parts)  # type: ignore[arg-type]  # all are of one type

    def _number(self, text: str) -> int | float | complex:
        text = text.lower()
        if self.separator:
            if text.endswith(self.separator) or self.separator * 2 in text:
                raise ValueError(text)
            text = text.replace(self.separator, "")
        base = self.radixes.get(text[:2])
        if base is not None:
            return int(text[2:], base)
        digits = text.removesuffix(self.imaginary) if self.imaginary else text
        if _DECIMAL.fullmatch(digits) is None:
            raise ValueError(text)
        if digits != text:
            return complex(0, float(digits))
        if not digits.isdigit():
            return float(digits)
        if digits[0] == "0" and digits.strip("0") and not self.leading_zero:
            raise ValueError(text)
        return int(digits)

    @cached_property
    def _start(self) -> re.Pattern[str]:
        quotes = "|".join(map(re.escape, self.quotes))
        return re.compile(rf"(?:{self.between})*([A-Za-z]{{0,3}})({quotes})")

    @cached_property
    def _end(self) -> re.Pattern[str]:
        return re.compile(rf"(?:{self.between})*")

    def _strings(self, text: str) -> Iterator[str | bytes]:
        at = 0
        while at < len(text):
            start = self._start.match(text, at)
            if start is None or (prefix := self.prefixes.get(start[1].lower())) is None:
                raise ValueError(text)
            end = _closing(text, start.end(), start[2])
            body = text[start.end() : end].replace("\r\n", "\n").replace("\r", "\n")
            yield self._content(body, prefix)
            tail = self._end.match(text, end + len(start[2]))
            assert tail is not None  # it may be empty
            at = tail.end()

    def _content(self, body: str, prefix: Prefix) -> str | bytes:
        text = body if prefix.raw or "\\" not in body else self._unescaped(body, prefix.binary)
        if "\0" in body:
            raise ValueError(body)
        if not prefix.binary:
            return text
        if not body.isascii():
            raise ValueError(body)
        return text.encode("latin-1")

    def _unescaped(self, body: str, binary: bool) -> str:
        if self.escapes is None:
            raise ValueError(body)
        out: list[str] = []
        at = 0
        while (escape := body.find("\\", at)) >= 0:
            out.append(body[at:escape])
            text, at = self._escape(body, escape + 1, binary)
            out.append(text)
        return "".join([*out, body[at:]])

    def _escape(self, body: str, at: int, binary: bool) -> tuple[str, int]:
        """Return what the escape stands for whose backslash ends at `at`, and where it ends."""
        assert self.escapes is not None
        letter = body[at : at + 1]
        if letter in self.escapes:
            return self.escapes[letter], at + 1
        if letter in self.hexadecimal and not (binary and letter in "uU"):
            digits = body[at + 1 : at + 1 + self.hexadecimal[letter]]
            if len(digits) < self.hexadecimal[letter] or not digits.isalnum():
                raise ValueError(body)
            return chr(int(digits, 16)), at + 1 + len(digits)
        if self.octal and (digits_found := _OCTAL.match(body, at)) is not None:
            number = int(digits_found[0], 8)
            return chr(number & 0xFF if binary else number), digits_found.end()
        if letter == "N" and self.named and not binary:
            import unicodedata  # few strings name a character

            name, brace, _ = body[at + 2 :].partition("}")
            if body[at + 1 : at + 2] != "{" or not brace:
                raise ValueError(body)
            try:
                character = unicodedata.lookup(name)
            except KeyError:
                raise ValueError(body) from None
            return character, at + 3 + len(name)
        if not self.keeps_unknown or not letter:
            raise ValueError(body)
        return "\\" + letter, at + 1


def _closing(text: str, at: int, quote: str) -> int:
    """Return where the string ends whose body starts at `at`. Errors: `ValueError`."""
    while True:
        end = text.find(quote, at)
        if end < 0:
            raise ValueError(text)
        backslash = text.find("\\", at, end)
        if backslash < 0:
            return end
        at = backslash + 2


@lru_cache(maxsize=2048)
def _kept(literals: Literals, text: str) -> Value:
    return literals._value(text)
