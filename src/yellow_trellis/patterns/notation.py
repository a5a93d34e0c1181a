"""Reading ``@{...}`` and ``@<...>``: the holes and names of a text, a stand-in for each."""

from __future__ import annotations

import re

from msgspec import Struct

from yellow_trellis.errors import TrellisError

_OPEN = re.compile(r"\\\\(?=@[{<])|\\@\{|@\{|\\@<|@<")
_DOTTED = re.compile(r"\s*((?:@?[\w.~-]+/)*[^\W\d][\w-]*(?:\.[\w-]+)*[.:][^\W\d]\w*)\s*>")
PLAIN = re.compile(r"[^\W\d]\w*(?:\.[^\W\d]\w*)+")
"""A dotted name in a language whose modules have no paths."""
_NAME = re.compile(r"\s*([A-Za-z_]\w*)\s*([?*+]?)\s*")
_LIKE = re.compile(r"like\s")
_KIND = re.compile(r":\s*([A-Za-z_]\w*)\s*")


_LONGEST = 120
"""Characters of a line that are shown of it."""


class PatternError(TrellisError, ValueError):
    """A pattern or template that cannot be used.

    `at` is the 0-based character of the text where it goes wrong; `hint` says what to do.
    """

    def __init__(self, reason: str, text: str = "", at: int = 0, hint: str = "") -> None:
        super().__init__(reason)
        self.reason = reason
        self.text = text
        self.at = at
        self.hint = hint

    def __str__(self) -> str:
        return "\n".join([self.reason, *self.sketch(), *([self.hint] if self.hint else [])])

    def sketch(self) -> list[str]:
        """Return the line of the text that is wrong, and a line that points into it."""
        if not self.text:
            return []
        start = self.text.rfind("\n", 0, self.at) + 1
        line, at = self.text[start:].split("\n", 1)[0], self.at - start
        if len(line) > _LONGEST:
            cut = max(at - _LONGEST // 2, 0)
            line, at = line[cut : cut + _LONGEST], at - cut
        return [f"    {line}", "    " + " " * at + "^"]


class Hole(Struct, frozen=True):
    """A place in a pattern that takes code."""

    name: str
    """The name it is remembered by; ``_`` is not remembered."""
    least: int = 1
    most: int | None = 1
    """How many neighbours it takes; None is any number."""
    kind: str | None = None
    """The kind or family that it takes, if it asks for one."""
    regex: str | None = None
    """What the text must match in full, if it asks for that."""
    at: int = 0
    """Where it stands in the pattern's text, in characters from 0."""

    @property
    def many(self) -> bool:
        """Return whether the hole may take other than one neighbour."""
        return self.most != 1 or self.least != 1

    @property
    def remembered(self) -> bool:
        """Return whether the hole has a name."""
        return self.name != "_"


class SymbolRef(Struct, frozen=True):
    """A name by meaning: whatever refers to what is defined under a dotted name."""

    name: str
    """The dotted name."""
    at: int = 0
    """Where it stands in the pattern's text, in characters from 0."""


class Notation(Struct, frozen=True):
    """A text with its holes and names by meaning replaced by names that no code uses."""

    code: str
    holes: dict[str, Hole]
    """By stand-in name, in order."""
    meant: dict[str, SymbolRef]
    """By stand-in name, in order."""
    offsets: list[tuple[int, int]]
    """Pairs (character in `code`, character in the text) at each change, ascending."""

    def origin(self, at: int) -> int:
        """Return where the character `at` of `code` comes from in the text."""
        shift = 0
        for in_code, in_text in self.offsets:
            if in_code > at:
                break
            shift = in_text - in_code
        return at + shift


_COUNTS = {"": (1, 1), "?": (0, 1), "*": (0, None), "+": (1, None)}


def read_notation(text: str) -> Notation:
    """Find the holes and names by meaning of `text`.

    Errors: `PatternError` where one is not written as the notation asks.
    """
    stem = "Ytr"
    while stem in text:
        stem += "r"
    code: list[str] = []
    holes: dict[str, Hole] = {}
    table: dict[str, SymbolRef] = {}
    offsets = [(0, 0)]
    end = length = 0
    for match in _OPEN.finditer(text):
        if match.start() < end:
            continue
        code.append(text[end : match.start()])
        length += match.start() - end
        if match[0][0] == "\\":
            code.append(match[0][1:])
            length += len(match[0]) - 1
            end = match.end()
        elif match[0] == "@<":
            item, end = _read_meant(text, match.start())
            name = f"{stem}{len(table)}m"
            table[name] = item
            code.append(name)
            length += len(name)
        else:
            hole, end = _read_hole(text, match.start())
            name = f"{stem}{len(holes)}x"
            holes[name] = hole
            code.append(name)
            length += len(name)
        offsets.append((length, end))
    code.append(text[end:])
    return Notation("".join(code), holes, table, offsets)


def _read_meant(text: str, start: int) -> tuple[SymbolRef, int]:
    name = _DOTTED.match(text, start + 2)
    if name is None:
        raise PatternError(
            "a name by meaning is the dotted name under which something is defined",
            text,
            start,
            "write `@<package.module.name>`; a built-in is `@<builtins.print>`",
        )
    return SymbolRef(name[1], start), name.end()


def _read_hole(text: str, start: int) -> tuple[Hole, int]:
    name = _NAME.match(text, start + 2)
    if name is None:
        raise PatternError(
            "a hole needs a name", text, start, "write `@{name}`, or `@{_}` for any code"
        )
    at = name.end()
    kind = regex = None
    if match := _KIND.match(text, at):
        kind, at = match[1], match.end()
    if match := _LIKE.match(text, at):
        end = _closing(text, match.end(), start)
        regex, at = text[match.end() : end].strip(), end
        try:
            re.compile(regex)
        except (re.error, OverflowError, RecursionError) as wrong:
            raise PatternError(
                f"the condition of this hole is no regular expression: {wrong}", text, start
            ) from None
    if text[at : at + 1] != "}":
        label = "is never closed" if at >= len(text) else f"cannot hold {text[at]!r} here"
        raise PatternError(
            f"a hole {label}",
            text,
            min(at, len(text)),
            "a hole is written `@{name}`, `@{name*}`, `@{name: kind}` or `@{name like REGEX}`",
        )
    least, limit = _COUNTS[name[2]]
    return Hole(name[1], least, limit, kind, regex, start), at + 1


def _closing(text: str, at: int, start: int) -> int:
    depth = 0
    while at < len(text):
        char = text[at]
        if char == "\\":
            at += 1
        elif char == "{":
            depth += 1
        elif char == "}":
            if not depth:
                return at
            depth -= 1
        at += 1
    raise PatternError("a hole is never closed", text, start, "close it with `}`")
