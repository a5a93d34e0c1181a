"""The smallest changes from one text to another, line by line."""

from __future__ import annotations

import os
from collections.abc import Iterator
from itertools import accumulate

from yellow_trellis.editor.positions import PositionEncoding, range_of
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.source import Source, Span
from yellow_trellis.source.diff import opcodes


def text_changes(source: Source, data: bytes, encoding: PositionEncoding) -> list[TextChange]:
    """Return the changes from a text to `data`, in UTF-8: in order, none touching another."""
    old, new = source.data.splitlines(keepends=True), data.splitlines(keepends=True)
    starts = [0, *accumulate(map(len, old))]
    changes: list[TextChange] = []
    for i1, i2, j1, j2 in _blocks(old, new):
        text = b"".join(new[j1:j2])
        start, end, text = _trimmed(source.data, starts[i1], starts[i2], text)
        where = range_of(source, Span(start, end), encoding)
        changes.append(TextChange(where, text.decode("utf-8")))
    return changes


def _blocks(old: list[bytes], new: list[bytes]) -> Iterator[tuple[int, int, int, int]]:
    """Yield runs of lines that differ; line by line where as many come as go."""
    for _, i1, i2, j1, j2 in opcodes(old, new):
        if i2 - i1 != j2 - j1:
            yield i1, i2, j1, j2
            continue
        for i, j in zip(range(i1, i2), range(j1, j2), strict=True):
            if old[i] != new[j]:
                yield i, i + 1, j, j + 1


def _trimmed(data: bytes, start: int, end: int, text: bytes) -> tuple[int, int, bytes]:
    """Return a change without what is the same at both of its ends; no character is cut."""
    old = data[start:end].decode("utf-8")
    new = text.decode("utf-8")
    head = len(os.path.commonprefix([old, new]))
    tail = len(os.path.commonprefix([old[head:][::-1], new[head:][::-1]]))
    if old[head - 1 : head] == "\r" or old[len(old) - tail - 1 : len(old) - tail] == "\r":
        return start, end, text  # half of a line ending has no position of its own
    before = len(old[:head].encode("utf-8"))
    behind = len(old[len(old) - tail :].encode("utf-8")) if tail else 0
    return start + before, end - behind, text[before : len(text) - behind]
