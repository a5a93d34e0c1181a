"""Calls of macros in Rust, shown to the parser as calls of functions where they can be read so.

What stands between the brackets of a macro is but tokens to the grammar: ``assert_eq!(a, b.len())``
has no call in it. In most macros that are called with round brackets it is what it looks like,
expressions between commas. The mark of such a call is given to the parser as a letter of the name:
``assert_eq_(a, b.len())`` is a call, and the text of the name in it stays ``assert_eq!``.

Whether the arguments are expressions is found by parsing them on their own, so that it depends on
nothing but their text. Left as tokens are: what is no list of expressions; ``name = value``, which
assigns nothing; patterns, tokens that are shown as text; and all within the definition of a macro.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import lru_cache

from yellow_trellis.source import is_within

_CALL = re.compile(rb"(?<![\w$])[A-Za-z_]\w*!\(")
_DEFINITION = re.compile(rb"\bmacro_rules!\s*\w+\s*[(\[{]")
_PIECE = re.compile(
    rb"""
    (?P<open>[(\[{]) | (?P<close>[)\]}])
    | //[^\n]* | /\*(?:[^*]|\*(?!/))*\*/
    | \b(?:b|c)?r(?P<hashes>\#*)".*?"(?P=hashes) | "(?:\\.|[^"\\])*"
    | '(?:\\(?:u\{[0-9a-fA-F_]*\}|x..|.)|[^\\'\n])'
    """,
    re.VERBOSE | re.DOTALL,
)
"""A bracket, or what may hold one that is none."""
_TOKENS = frozenset(
    b"assert_matches cfg concat_idents debug_assert_matches macro_rules matches quote "
    b"quote_spanned stringify".split()
)
"""Macros whose arguments are patterns or tokens, also where they look like expressions."""
_NAMED = re.compile(rb"(?:\A|,)\s*[A-Za-z_]\w*\s*=(?!=)")
"""What stands in arguments of which one may be named."""
_MARK = b"!("

Parses = Callable[[bytes], bool]
"""Returns whether the grammar takes some code."""


def shown_as_calls(data: bytes, parses: Parses) -> bytes:
    """Return code with the mark of each call that can be read as one of a function as a letter.

    Arguments: `parses` returns whether code is sound.
    """
    if _MARK not in data:
        return data
    code = bytearray(data)
    calls = list(_calls(data))
    sound = _readable([data[start:end] for start, end in calls], parses)
    for (start, _), is_sound in zip(calls, sound, strict=True):
        if is_sound:
            code[start - len(_MARK)] = ord("_")
    return bytes(code)


def _calls(data: bytes) -> Iterator[tuple[int, int]]:
    """Yield the start and the end of the arguments of each call of a macro that may be read so."""
    definitions = [(m.end(), _end_of(data, m.end())) for m in _DEFINITION.finditer(data)]
    for match in _CALL.finditer(data):
        start = match.end()
        if match[0].removesuffix(_MARK) in _TOKENS or is_within(start, start, definitions):
            continue
        end = _end_of(data, start)
        if _NAMED.search(data[start:end]) is None:
            yield start, end


def _end_of(data: bytes, start: int) -> int:
    """Return where the bracket ends that is opened before the byte `start`."""
    depth = 1
    for match in _PIECE.finditer(data, start):
        depth += (match.lastgroup == "open") - (match.lastgroup == "close")
        if not depth:
            return match.start()
    return len(data)


def _readable(arguments: list[bytes], parses: Parses) -> list[bool]:
    """Return of each list of arguments whether it is one of expressions."""
    if not arguments or parses(b"".join(map(_call_of, arguments))):
        return [True] * len(arguments)
    single = lru_cache(maxsize=None)(lambda text: parses(_call_of(text)))
    return [single(text) for text in arguments]


def _call_of(arguments: bytes) -> bytes:
    return b"fn f() { f(" + arguments + b"\n); }\n"
