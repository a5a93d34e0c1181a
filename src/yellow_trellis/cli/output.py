"""Lines with colour where somebody sees it, and nothing but text elsewhere.

All that a terminal shows goes through here. It may come from files, rules and names that strangers
wrote: what would steer the terminal, or hide or turn around text, is made visible. So styles travel
as marks, which `Output` alone turns into codes.
"""

from __future__ import annotations

import os
import re
import sys
from collections.abc import Iterable
from typing import Union

from yellow_trellis.cli.presentation import presentation
from yellow_trellis.cli.whole_file import whole_file
from yellow_trellis.visible_text import visible

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


def _lines_visible(text: str) -> str:
    """Return a text of several lines, each of them made visible."""
    return text if text.isprintable() else "\n".join(map(visible, text.split("\n")))


def write(text: str | Iterable[str | bytes]) -> None:
    """Write a text for programs, or its parts, to standard output, and a line break at its end.

    It is written as it is, but to a terminal, which shows it to a person.
    """
    is_seen = sys.stdout.isatty()
    last = ""
    for part in (text,) if isinstance(text, str) else text:
        if isinstance(part, bytes) and not is_seen:
            sys.stdout.flush()
            sys.stdout.buffer.write(part)
            continue
        shown = part.decode("utf-8", "replace") if isinstance(part, bytes) else part
        sys.stdout.write(_lines_visible(shown) if is_seen else shown)
        last = shown or last
    if last and not last.endswith("\n"):
        sys.stdout.write("\n")


def write_report(parts: Iterable[str | bytes], file: str) -> None:
    """Write the parts of a report to a file, all or nothing. Errors: `OSError`."""
    with whole_file(file) as stream:
        for part in parts:
            stream.write(part if isinstance(part, bytes) else part.encode("utf-8"))


class Output:
    """A stream for lines: results, or notes on standard error.

    Arguments: `grave` notes are printed even where a call asks for quiet.
    """

    def __init__(self, *, notes: bool = False, grave: bool = False) -> None:
        self._stream = sys.stderr if notes or grave else sys.stdout
        self._colour = _is_wanted(self._stream.isatty())
        self._is_silent = notes and presentation().quiet

    @property
    def has_colour(self) -> bool:
        """Return whether styles show."""
        return self._colour

    def print(self, text: str = "") -> None:
        """Print a line, without its styles where they would not show or are not wanted."""
        if self._is_silent:
            return
        if self._stream is sys.stderr:
            sys.stdout.flush()  # notes stand behind what they are about
        parts = _STYLE.split(text)  # texts and the numbers of styles in turn
        parts[::2] = map(_lines_visible, parts[::2])
        parts[1::2] = (f"\x1b[{code}m" if self._colour else "" for code in parts[1::2])
        self._stream.write("".join(parts) + "\n")


def _is_wanted(is_seen: bool) -> bool:
    color = presentation().color
    if color != "auto":
        return color == "always"
    if os.environ.get("NO_COLOR") or os.environ.get("TERM") == "dumb":
        return False
    if os.environ.get("FORCE_COLOR"):
        return True
    return is_seen and (os.name != "nt" or "WT_SESSION" in os.environ)
