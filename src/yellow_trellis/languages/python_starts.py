"""Whether a line of a Python file starts a statement, told by it and the line before it."""

from __future__ import annotations

import re

from yellow_trellis.languages.python_ends import FIRM_WORDS

_FIRM = re.compile(
    rb"[ \t]*(?:(?:" + FIRM_WORDS + rb")(?![\w\x80-\xff])"
    rb"|from[ \t]+[\w.\x80-\xff]+[ \t]+import(?![\w\x80-\xff])"
    rb"|(?:if|for|async)(?![\w\x80-\xff])[^\n]*:[ \t]*(?:#[^\n]*)?\r?(?:\n|\Z)"
    rb"|@[^\n]*\n[ \t]*(?:@|(?:def|class|async)(?![\w\x80-\xff])))"
)
"""How lines look that start a statement, as nothing of the kind stands in brackets, or nothing that
parses when it is cut there."""

# A line ends in an operand that ends with one of these bytes, but not with one of these words; what
# starts so does not go on from an operand.
_ENDS_OPERAND = frozenset(b")]}\"'_") | {b for b in range(256) if b > 127 or chr(b).isalnum()}
_NO_OPERAND = re.compile(
    rb"(?<!\w)(?:and|as|async|await|else|for|from|if|in|is|lambda|not|or|print|yield)\Z"
)
_LONGEST = len(b"lambda")
_STARTS_OPERAND = re.compile(
    rb"[ \t]*(?!(?:and|as|async|else|for|from|if|in|is|not|or)(?![\w\x80-\xff]))"
    rb"[A-Za-z_]\w*(?![\w\x80-\xff\"'])"
)
_NEAR = 400
"""Bytes before a line that are looked at; in them, the line before it must start."""


def is_start(data: bytes, line: int) -> bool:
    """Return whether the line at `line`, outside of any string, starts a statement for sure."""
    return line == 0 or _FIRM.match(data, line) is not None or is_apart(data, line)


def is_apart(data: bytes, line: int) -> bool:
    """Return whether the line at `line` cannot be the rest of what stands before it.

    A name does not follow an operand, in brackets or not.
    """
    if _STARTS_OPERAND.match(data, line) is None:
        return False
    before = data[max(line - _NEAR, 0) : line].rstrip()
    at = before.rfind(b"\n") + 1
    while at > 0 and before[at:].lstrip().startswith(b"#"):
        before = before[:at].rstrip()
        at = before.rfind(b"\n") + 1
    return (
        (at > 0 or line <= _NEAR)
        and before != b""
        and before[-1] in _ENDS_OPERAND
        and b"#" not in before[at:]
        and _NO_OPERAND.search(before, max(len(before) - _LONGEST, 0)) is None
    )
