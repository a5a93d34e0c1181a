"""A change of a text as an editor makes it."""

from __future__ import annotations

from typing import NamedTuple

from yellow_trellis.editor.positions import PositionEncoding, Range, offset_of
from yellow_trellis.source import Source, Span


class TextChange(NamedTuple):
    """New text in place of a range; of all of the text where there is none."""

    range: Range | None
    text: str


class Written(NamedTuple):
    """A text after a change: `length` bytes stand in the place of the span `old`."""

    source: Source
    old: Span
    length: int


def changed(source: Source, change: TextChange, encoding: PositionEncoding) -> Written:
    """Return a text after a change of it."""
    data = change.text.encode("utf-8", "replace")  # half of a pair of code units is no character
    old = Span(0, len(source.data))
    if change.range is not None:
        start = offset_of(source, change.range.start, encoding)
        old = Span(start, max(start, offset_of(source, change.range.end, encoding)))
    text = source.data[: old.start] + data + source.data[old.end :]
    return Written(source.with_data(text), old, len(data))
