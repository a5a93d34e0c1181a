"""Code that a preprocessor takes out, hidden from the parser as comments of the same length.

A preprocessor takes ``ALDER_API`` out before the compiler reads the code; the parser of a grammar
sees it and loses its way. To put space in its place was refused: whoever changes the code around it
would then take it out with the space, and nobody would see it go. A comment is kept by everything
here that promises to keep comments. The same goes for ``extern "C" {`` and its ``}``, each between
directives of their own, which no grammar can bring together.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache

SHORTEST = 4
"""Letters of the shortest macro that can be hidden: a comment needs as many."""
FORM = re.compile(rf"(?P<name>[A-Za-z_]\w{{{SHORTEST - 1},}})(?P<called>\(\))?", re.ASCII)
"""The form in which such a macro is said: its name, with ``()`` if it is called."""

_TEXT = rb"""
    /\*.*?\*/ | //[^\n]*
    | R"(?P<mark>[^()\\\s]*)\(.*?\)(?P=mark)" | "(?:\\.|[^"\\\n])*"
    | (?<=[0-9A-Fa-f])'(?=[0-9A-Fa-f]) | '(?:\\.|[^'\\\n])*'
    | ^[ \t]*\#(?:\\\r?\n|[^\n])*
"""
"""What says a name without calling it: comments, strings, characters, directives."""
_ARGUMENTS = rb"\((?:[^()\"]|\"(?:\\.|[^\"\\\n])*\"|\((?:[^()]|\([^()]*\))*\))*\)"
LINKAGE = 'extern "C"'
"""Said among the names of macros: what makes a header of C one of C++ is hidden as well."""
_REST = rb"[ \t]*(?://[^\n]*|/\*[^\n]*?\*/[ \t\r]*|\r?)$"
_LINKAGE = re.compile(
    rb"^[ \t]*\#[ \t]*if(?:def[ \t]+|[ \t]+defined[ \t]*\(?[ \t]*)__cplusplus[ \t]*\)?"
    + _REST
    + rb"\s*(?:extern\s*\"C\"\s*\{|\}[ \t]*;?)"
    + _REST
    + rb"\s*\#[ \t]*endif\b"
    + _REST,
    re.MULTILINE,
)
_BLANK = re.compile(rb"[^\r\n]")


@lru_cache(maxsize=16)
def _matcher(names: tuple[str, ...]) -> re.Pattern[bytes]:
    table = {name.removesuffix("()"): name.endswith("()") for name in names}
    words = b"|".join(
        re.escape(name.encode()) + (rb"[ \t]*" + _ARGUMENTS if called else rb"(?!\w)")
        for name, called in sorted(table.items(), reverse=True)
    )
    return re.compile(
        _TEXT + rb"| (?P<macro>(?<!\w)(?:" + words.replace(b" ", rb"\ ") + rb"))",
        re.VERBOSE | re.DOTALL | re.MULTILINE,
    )


def hidden(data: bytes, names: Sequence[str]) -> bytes:
    """Return code in which each use of a macro is a comment of as many bytes and lines.

    Arguments: `names` are those of the macros, in the form of `FORM`, and `LINKAGE`.
    """
    if LINKAGE in names:
        names = [name for name in names if name != LINKAGE]
        if b"__cplusplus" in data:
            data = _LINKAGE.sub(lambda match: _as_comment(match[0]), data)
    if not any(name.removesuffix("()").encode() in data for name in names):
        return data

    def comment(match: re.Match[bytes]) -> bytes:
        if match["macro"] is None:
            return match[0]
        return _as_comment(match[0])

    return _matcher(tuple(names)).sub(comment, data)


def _as_comment(code: bytes) -> bytes:
    """Return a comment in the place of `code`, behind the blanks that it starts with."""
    text = code.lstrip(b" \t")
    end = len(text.rstrip())
    inside = _BLANK.sub(b" ", text[2 : end - 2])
    return code[: len(code) - len(text)] + b"/*" + inside + b"*/" + text[end:]
