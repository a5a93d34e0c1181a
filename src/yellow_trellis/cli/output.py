"""Lines with colour where somebody sees it, and nothing but text elsewhere.

All that a terminal shows goes through here. It may come from files, rules and names that strangers
wrote: what would steer the terminal, or hide or turn around text, is made visible. So styles travel
as marks, which `Output` alone turns into codes.
"""

from __future__ import annotations

import os
import re
import sys
import unicodedata
from collections.abc import Iterable
from typing import Union

Part = Union[str, tuple[str, str]]
"""Text, or text and the style it has of its own."""

# Codes of ECMA-48, "select graphic rendition".
_COLOURS = ("black", "red", "green", "yellow", "blue", "magenta", "cyan", "white")
_CODES = {
    "bold": 1,
    **{colour: 30 + at for at, colour in enumerate(_COLOURS)},
    **{f"bright_{colour}": 90 + at for at, colour in enumerate(_COLOURS)},
}
_OPEN, _CLOSE = "\ufdd0", "\ufdd1"
"""Characters that no text has, around the number of a style."""
_STYLE = re.compile(f"{_OPEN}([0-9]+){_CLOSE}")


def styled(*parts: Part, style: str = "") -> str:
    """Return a text in a style, such as ``bold yellow``."""
    return "".join(
        _styled(*part) if isinstance(part, tuple) else _styled(part, style) for part in parts
    )


def _styled(text: str, style: str) -> str:
    if not style or not text:
        return text
    codes = sorted((_CODES[word] for word in style.split()), reverse=True)
    return "".join(f"{_OPEN}{code}{_CLOSE}" for code in codes) + f"{text}{_OPEN}0{_CLOSE}"


def visible(text: str) -> str:
    """Return `text` with characters that steer, hide or turn around text made visible.

    These are the control and format characters of Unicode (Cc, Cf), its separators of lines and
    paragraphs (Zl, Zp), surrogates (Cs), which stand for bytes that are no text, and what it has
    not assigned.
    """
    return text if text.isprintable() else "".join(map(_shown, text))


_HIDDEN = frozenset({"Cc", "Cf", "Cn", "Cs", "Zl", "Zp"})


def _shown(char: str) -> str:
    code = ord(char)
    if char == "\t":
        return "    "
    if code < 32:
        return chr(0x2400 + code)
    if unicodedata.category(char) not in _HIDDEN:
        return char
    if 0xDC80 <= code <= 0xDCFF:
        return f"\\x{code - 0xDC00:02x}"
    if code < 0x100:
        return f"\\x{code:02x}" if code != 0x7F else "\u2421"
    return f"\\u{code:04x}" if code < 0x10000 else f"\\U{code:08x}"


def _lines_visible(text: str) -> str:
    """Return a text of several lines, each of them made visible."""
    return text if text.isprintable() else "\n".join(map(visible, text.split("\n")))


def write(text: str | Iterable[str]) -> None:
    """Write a text for programs, or its parts, to standard output, and a line break at its end.

    It is written as it is, but to a terminal, which shows it to a person.
    """
    is_seen = sys.stdout.isatty()
    last = ""
    for part in (text,) if isinstance(text, str) else text:
        sys.stdout.write(_lines_visible(part) if is_seen else part)
        last = part or last
    if not last.endswith("\n"):
        sys.stdout.write("\n")


class Output:
    """A stream for lines: results, or notes on standard error."""

    def __init__(self, *, notes: bool = False) -> None:
        self._stream = sys.stderr if notes else sys.stdout
        self._colour = _is_wanted(self._stream.isatty())

    def print(self, text: str = "") -> None:
        """Print a line, without its styles where they would not show or are not wanted."""
        if self._stream is sys.stderr:
            sys.stdout.flush()  # notes stand behind what they are about
        parts = _STYLE.split(text)  # texts and the numbers of styles in turn
        parts[::2] = map(_lines_visible, parts[::2])
        parts[1::2] = (f"\x1b[{code}m" if self._colour else "" for code in parts[1::2])
        self._stream.write("".join(parts) + "\n")


def _is_wanted(is_seen: bool) -> bool:
    if os.environ.get("NO_COLOR") or os.environ.get("TERM") == "dumb":
        return False
    if os.environ.get("FORCE_COLOR"):
        return True
    return is_seen and (os.name != "nt" or "WT_SESSION" in os.environ)
