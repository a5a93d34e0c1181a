"""Unicode's normal forms of names: what a language compares that reads names in one of them.

Source: Unicode Standard Annex #15; PEP 3131 for Python (NFKC), RFC 2457 for Rust (NFC).
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from typing import Literal

from yellow_trellis.source.span import Span
from yellow_trellis.source.words import NAME

NormalForm = Literal["NFC", "NFKC"]


def normalized(data: bytes, form: NormalForm) -> bytes:
    """Return UTF-8 `data` in a normal form; bytes that are not UTF-8 stay."""
    if data.isascii():
        return data
    text = unicodedata.normalize(form, data.decode("utf-8", "surrogateescape"))
    return text.encode("utf-8", "surrogateescape")


def words_in_other_form(data: bytes, form: NormalForm) -> Iterator[Span]:
    """Yield the words of UTF-8 `data` that are not in a normal form, in bytes, ascending."""
    for match in NAME.finditer(data) if not data.isascii() else ():
        if not match[0].isascii() and normalized(match[0], form) != match[0]:
            yield Span(*match.span())
