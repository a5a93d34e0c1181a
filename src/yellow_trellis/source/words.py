"""Whole words in bytes, found by plain search: far faster than a regular expression."""

from __future__ import annotations

import re
from collections.abc import Iterator

NAME = re.compile(rb"[A-Za-z_\x80-\xff][\w\x80-\xff]*")
"""A name or keyword in UTF-8."""

OF_WORDS = frozenset(
    b"abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_" + bytes(range(128, 256))
)


def words_at(
    data: bytes,
    word: bytes,
    start: int = 0,
    end: int | None = None,
    letters: frozenset[int] = OF_WORDS,
) -> Iterator[int]:
    """Yield where `word` stands in UTF-8 `data` with no letter of a word beside it.

    Arguments: `start` and `end` limit the search, in bytes; `letters` are the bytes of words.
    """
    if not word:  # it would stand everywhere
        return
    stop = len(data) if end is None else end
    size = len(word)
    at = data.find(word, start, stop)
    while at >= 0:
        behind = at + size
        if not (
            (behind < len(data) and data[behind] in letters) or (at and data[at - 1] in letters)
        ):
            yield at
        at = data.find(word, behind, stop)


def holds_word(data: bytes, word: bytes) -> bool:
    """Return whether `word` stands in `data` as a word of its own."""
    return next(words_at(data, word), None) is not None
