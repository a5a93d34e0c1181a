"""Lines with colour where somebody sees it, and nothing but text elsewhere."""

from __future__ import annotations

import os
import re
import sys
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
_STYLE = re.compile(r"\x1b\[[0-9]*m")


def styled(*parts: Part, style: str = "") -> str:
    """Return a text in a style, such as ``bold yellow``."""
    return "".join(
        _styled(*part) if isinstance(part, tuple) else _styled(part, style) for part in parts
    )


def _styled(text: str, style: str) -> str:
    if not style or not text:
        return text
    codes = sorted((_CODES[word] for word in style.split()), reverse=True)
    return "".join(f"\x1b[{code}m" for code in codes) + f"{text}\x1b[0m"


def write(text: str) -> None:
    """Write a text for programs to standard output, as it is, with a line break at its end."""
    sys.stdout.write(text if text.endswith("\n") else text + "\n")


class Output:
    """A stream for lines: results, or notes on standard error."""

    def __init__(self, *, notes: bool = False) -> None:
        self._stream = sys.stderr if notes else sys.stdout
        self._colour = _is_wanted(self._stream.isatty())

    def print(self, text: str = "") -> None:
        """Print a line, without its styles where they would not show or are not wanted."""
        if self._stream is sys.stderr:
            sys.stdout.flush()  # notes stand behind what they are about
        self._stream.write((text if self._colour else _STYLE.sub("", text)) + "\n")


def _is_wanted(is_seen: bool) -> bool:
    if os.environ.get("NO_COLOR"):
        return False
    if os.environ.get("FORCE_COLOR"):
        return True
    return is_seen and (os.name != "nt" or "WT_SESSION" in os.environ)
