"""Reading ``@{...}`` and ``@<...>``: the holes and names of a text, a stand-in for each."""

from __future__ import annotations

import re
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis.errors import TrellisError

_OPEN = re.compile(r"\\\\(?=@[{<])|\\@\{|@\{|\\@<|@<")
_DOTTED = re.compile(r"\s*((?:@?[\w.~-]+/)*[^\W\d][\w-]*(?:\.[\w-]+)*[.:][^\W\d]\w*)\s*>")
PLAIN = re.compile(r"[^\W\d]\w*(?:\.[^\W\d]\w*)+")
"""A dotted name in a language whose modules have no paths."""
_NAME = re.compile(r"\s*([A-Za-z_]\w*|(?=~))\s*([?*+~]?)\s*")
_OPTIONAL = re.compile(r"\s*(?:([A-Za-z_]\w*)\s*\?=|\?)")
_LIKE = re.compile(r"like\s")
_KIND = re.compile(r":\s*([A-Za-z_]\w*)\s*")


_BLANKS = re.compile(r"[ \t]+|\r?\n[ \t]*")
_TIGHT = frozenset(":;,)]")
"""Marks that code has no space before."""
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


HoleForm = Literal["", "open", "optional"]


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
    form: HoleForm = ""
    """``open`` for whatever else stands in a head, ``optional`` for code that may be missing."""

    @property
    def many(self) -> bool:
        """Return whether the hole may take other than one neighbour."""
        return self.most != 1 or self.least != 1

    @property
    def remembered(self) -> bool:
        """Return whether the hole has a name."""
        return self.name != "_"

    @property
    def numbered(self) -> bool:
        """Return whether it is a part of a head without a name, which goes by its number."""
        return self.name[:1] == "~"


class HeadPart(Struct, frozen=True):
    """A part of a pattern that code may lack: ``@{x~}``, or ``@{? code}``.

    `start` and `end` are 0-based characters of `Notation.code`; they are equal for ``@{x~}``.
    """

    hole: Hole
    start: int
    end: int
    gap: str = ""
    """The space before it."""
    gap_behind: str = ""
    """The space behind it."""
    holes: tuple[str, ...] = ()
    """The stand-in names of the holes in it."""
    inner: tuple[int, int] = (0, 0)
    """Where the code in it stands in the pattern's text, in characters from 0."""


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
    parts: tuple[HeadPart, ...] = ()
    """The parts of heads that code may lack, in order."""

    def refuse_same_names(self, text: str) -> None:
        """Refuse a part that has the name of another, or of a hole.

        Errors: `PatternError`.
        """
        names: set[str] = set()
        for hole in (*(part.hole for part in self.parts), *self.holes.values()):
            if hole.name in names:
                raise PatternError(
                    f"the part `{hole.name}` has the name of another hole",
                    text,
                    hole.at,
                    "give each part that code may lack a name of its own, or none",
                )
            if hole.form:
                names.add(hole.name)

    def origin(self, at: int) -> int:
        """Return where the character `at` of `code` comes from in the text."""
        shift = 0
        for in_code, in_text in self.offsets:
            if in_code > at:
                break
            shift = in_text - in_code
        return at + shift


def without_part(text: str, part: HeadPart) -> str:
    """Return a pattern without a part that may be missing, and without the space it leaves."""
    before, behind = text[: part.hole.at], text[part.inner[1] + 1 :]
    if behind[:1] in _TIGHT:
        return before.rstrip(" \t") + behind
    if not before or before[-1].isspace():
        return before + behind.lstrip(" \t")
    return before + behind


_COUNTS = {"": (1, 1), "?": (0, 1), "*": (0, None), "+": (1, None), "~": (0, None)}


def read_notation(text: str) -> Notation:
    """Find the holes, the names by meaning and the parts that may be missing of `text`.

    Errors: `PatternError` where one is not written as the notation asks.
    """
    reader = _Reader(text)
    reader.read(0, len(text))
    parts = tuple(sorted(reader.parts, key=lambda part: part.hole.at))
    return Notation(reader.code, reader.holes, reader.meant, reader.offsets, parts)


class _Reader:
    """Reads a text piece by piece: code as it is, stand-ins for the rest."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.code = ""
        self.holes: dict[str, Hole] = {}
        self.meant: dict[str, SymbolRef] = {}
        self.parts: list[HeadPart] = []
        self.offsets = [(0, 0)]
        self._stem = "Ytr"
        while self._stem in text:
            self._stem += "r"

    def read(self, start: int, stop: int) -> None:
        """Read the characters `start` to `stop` of the text."""
        end = start
        for match in _OPEN.finditer(self.text, start, stop):
            if match.start() < end:
                continue
            self.code += self.text[end : match.start()]
            if match[0][0] == "\\":
                self.code += match[0][1:]
                end = match.end()
            elif match[0] == "@<":
                item, end = _read_meant(self.text, match.start())
                name = f"{self._stem}{len(self.meant)}m"
                self.meant[name] = item
                self.code += name
            elif optional := _OPTIONAL.match(self.text, match.end()):
                end = self._read_optional(optional[1], match.start(), optional.end())
            else:
                hole, end = _read_hole(self.text, match.start())
                if hole.form == "open":
                    end = self._put_open(hole, end)
                else:
                    name = f"{self._stem}{len(self.holes)}x"
                    self.holes[name] = hole
                    self.code += name
            self.offsets.append((len(self.code), end))
        self.code += self.text[end:stop]

    def _read_optional(self, name: str | None, start: int, at: int) -> int:
        """Read code that may be missing, from character `at` on; return where it ends."""
        end = _closing(self.text, at, start)
        key = self._part_name(Hole(name or "_", at=start))
        hole = Hole(key, 0, None, at=start, form="optional")
        gap, place = self._last_blanks(), len(self.code)
        if self._starts_line(gap) and (blanks := _BLANKS.match(self.text, at)) is not None:
            at = blanks.end()
        parts, holes = len(self.parts), len(self.holes)
        self.offsets.append((place, at))
        self.read(at, end)
        if len(self.parts) > parts:
            raise PatternError(
                "a part that may be missing stands in another",
                self.text,
                self.parts[-1].hole.at,
                "write one behind the other, or leave the inner one open: `@{~}`",
            )
        if not self.code[place:].strip():
            raise PatternError(
                "a part that may be missing has no code",
                self.text,
                start,
                "write `@{? code}`, or `@{~}` for whatever else may stand here",
            )
        inner = tuple(self.holes)[holes:]
        self.parts.append(HeadPart(hole, place, len(self.code), gap, "", inner, (at, end)))
        return end + 1

    def _put_open(self, hole: Hole, end: int) -> int:
        """Note where whatever else may stand; return where the code goes on.

        Of the space around it the code keeps what it would have without.
        """
        key = self._part_name(hole)
        gap = self._last_blanks()
        blanks = _BLANKS.match(self.text, end)
        behind = blanks[0] if blanks is not None else ""
        end += len(behind)
        if gap and self.text[end : end + 1] in _TIGHT:
            self.code = self.code[: -len(gap)]
        place = len(self.code)
        if not gap and not self._starts_line(gap):
            self.code += behind
        self.parts.append(HeadPart(replace(hole, name=key), place, place, gap, behind))
        return end

    def _starts_line(self, gap: str) -> bool:
        """Return whether no code stands before `gap`, the blanks that the code ends with."""
        return not self.code[: len(self.code) - len(gap)].rpartition("\n")[2]

    def _last_blanks(self) -> str:
        return self.code[len(self.code.rstrip(" \t")) :]

    def _part_name(self, hole: Hole) -> str:
        """Return the name of a part of a head, a number for one without."""
        return hole.name if hole.remembered else f"~{len(self.parts)}"


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
            "a hole is written `@{name}`, `@{name*}`, `@{name: kind}` or `@{name like REGEX}`, "
            "code that may be missing `@{? code}` or `@{name?= code}`",
        )
    least, limit = _COUNTS[name[2]]
    form: HoleForm = "open" if name[2] == "~" else ""
    if form and (kind or regex):
        raise PatternError(
            "a hole for whatever else may stand in a head asks for nothing",
            text,
            start,
            f"write `@{{{name[1]}~}}` alone",
        )
    return Hole(name[1] or "_", least, limit, kind, regex, start, form), at + 1


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
