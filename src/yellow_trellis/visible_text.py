"""Text of strangers as it is safe to show: nothing in it steers, hides or turns around the rest."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable


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


def inert(markdown: str) -> str:
    """Return Markdown that leads nowhere: its links, images and HTML are shown as they are written.

    An editor would fetch an image to show it, from wherever a stranger's rule says.
    """
    return outside_code(markdown, _LEADS, lambda match: _SHOWN.get(match[0], f"`{match[0]}`"))


_LEADS = re.compile(r"[<\[]|\b[a-zA-Z][a-zA-Z0-9+.-]*://[^\s`<>()\[\]]+|\bwww\.[^\s`<>()\[\]]+")
_SHOWN = {"<": "&lt;", "[": "\\["}


def outside_code(
    markdown: str, mark: re.Pattern[str], by: str | Callable[[re.Match[str]], str]
) -> str:
    """Return Markdown with each `mark` replaced that does not stand in code."""
    result, at = "", 0
    for code in _CODE.finditer(markdown):
        result += mark.sub(by, markdown[at : code.start()]) + code[0]
        at = code.end()
    return result + mark.sub(by, markdown[at:])


_CODE = re.compile(r"(?<![\\`])(`+)(?!`).+?(?<!`)\1(?!`)")
