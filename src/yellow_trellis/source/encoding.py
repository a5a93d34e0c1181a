"""Decoding and encoding, so that an untouched file stays the same byte for byte.

The tree is always built over UTF-8. A file in UTF-8 is its own UTF-8 form, even where a byte is
wrong; any other encoding is translated, and refused when the way back would not give the same
bytes, because then no rewrite of it could be exact.
"""

from __future__ import annotations

import codecs
import re

from yellow_trellis.errors import TrellisError

_BOMS = (
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF32_LE, "utf-32-le"),
    (codecs.BOM_UTF32_BE, "utf-32-be"),
    (codecs.BOM_UTF16_LE, "utf-16-le"),
    (codecs.BOM_UTF16_BE, "utf-16-be"),
)
# PEP 263: a comment in one of the first two lines, the first being blank or a comment.
_DECLARED = rb"^[ \t\f]*#.*?coding[:=][ \t]*([-\w.]+)"
_BLANK = rb"^[ \t\f]*(?:#.*)?$"
INVALID = re.compile("[\udc80-\udcff]")
"""What a byte that is not UTF-8 becomes in text."""


class UnreadableError(TrellisError, ValueError):
    """A file whose bytes cannot be read as text, or could not be written back as they were."""


def split_bom(raw: bytes) -> tuple[bytes, str | None]:
    """Return the byte order mark of `raw` (empty if none) and the encoding it stands for."""
    for bom, codec in _BOMS:
        if raw.startswith(bom):
            return bom, codec
    return b"", None


def declared_codec(raw: bytes) -> str | None:
    """Return the encoding a PEP 263 comment of `raw` declares, if there is one.

    Source: PEP 263 and the language reference, "Encoding declarations".
    """
    for line in re.split(rb"\r\n|\r|\n", raw[:4096], maxsplit=2)[:2]:
        if match := re.match(_DECLARED, line):
            return match[1].decode("ascii")
        if not re.match(_BLANK, line):
            break
    return None


def to_utf8(body: bytes, codec: str) -> bytes:
    """Translate `body` (without byte order mark) to UTF-8.

    Errors: `UnreadableError` when the codec is unknown, the bytes do not fit it, or the way back
    would give other bytes.
    """
    try:
        name = codecs.lookup(codec).name
    except LookupError:
        raise UnreadableError(
            f"the file declares the encoding {codec!r}, which is unknown"
        ) from None
    if name in ("utf-8", "ascii"):
        return body
    try:
        text = body.decode(name)
        same = text.encode(name) == body
        data = text.encode("utf-8")
    except UnicodeDecodeError as wrong:
        raise UnreadableError(f"byte {wrong.start} does not fit the encoding {codec}") from None
    except (UnicodeError, LookupError, TypeError) as wrong:
        raise UnreadableError(
            f"the encoding {codec} cannot be used for a source file: {wrong}"
        ) from None
    if not same:
        raise UnreadableError(f"the encoding {codec} would not give the same bytes back")
    return data


def from_utf8(data: bytes, codec: str) -> bytes:
    """Translate UTF-8 `data` back to `codec`.

    Errors: `UnreadableError` when a character does not exist in `codec`.
    """
    name = codecs.lookup(codec).name
    if name in ("utf-8", "ascii"):
        if name == "ascii" and not data.isascii():
            raise UnreadableError("the encoding ascii has no character for the new text")
        return data
    try:
        return data.decode("utf-8").encode(name)
    except UnicodeEncodeError as wrong:
        lost = wrong.object[wrong.start : wrong.end]
        raise UnreadableError(f"the encoding {codec} has no character {lost!r}") from None


def parseable(data: bytes) -> bytes:
    """Return `data` with each byte that is not UTF-8 replaced by one byte the parser can skip.

    The length stays, so spans of the result are spans of `data`.
    """
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        text = data.decode("utf-8", "surrogateescape")
        return INVALID.sub("\x1a", text).encode("utf-8")
    return data
