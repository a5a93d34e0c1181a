"""Positions of the Language Server Protocol, and bytes: lines from 0, and units of an encoding."""

from __future__ import annotations

from typing import Literal, NamedTuple

from yellow_trellis.source import Place, Source, Span

PositionEncoding = Literal["utf-8", "utf-16", "utf-32"]
"""What the character of a position counts."""


class Position(NamedTuple):
    """A line, and a character in it in units of the encoding, both from 0."""

    line: int
    character: int


class Range(NamedTuple):
    """The text between two positions."""

    start: Position
    end: Position


def offset_of(source: Source, position: Position, encoding: PositionEncoding) -> int:
    """Return the byte at a position; one behind the end of a line or file is its end."""
    starts = source.lines.starts
    if position.line >= len(starts):
        return len(source.data)
    start = starts[position.line]
    line = source.data[start : source.lines.end(start)]
    count = max(position.character, 0)
    if encoding == "utf-8" or line.isascii():
        return start + min(count, len(line))
    text = line.decode("utf-8", "replace")
    if encoding == "utf-16":
        units = text.encode("utf-16-le", "surrogatepass")[: 2 * count]
        text = units.decode("utf-16-le", "ignore")  # half a character is none
    else:
        text = text[:count]
    return start + len(text.encode("utf-8"))


def position_of(source: Source, offset: int, encoding: PositionEncoding) -> Position:
    """Return the position of a byte."""
    lines = source.lines
    number = lines.number(offset) - 1
    before = source.data[lines.starts[number] : offset]
    if encoding == "utf-8" or before.isascii():
        return Position(number, len(before))
    text = before.decode("utf-8", "replace")
    units = len(text.encode("utf-16-le")) // 2 if encoding == "utf-16" else len(text)
    return Position(number, units)


def position_at(source: Source, place: Place, encoding: PositionEncoding) -> Position:
    """Return the position of a place that counts lines and characters from 1."""
    start = source.lines.starts[place.line - 1]
    line = source.data[start : source.lines.end(start)]
    if encoding == "utf-32" or line.isascii():
        return Position(place.line - 1, place.column - 1)
    before = line.decode("utf-8", "replace")[: place.column - 1]
    units = before.encode("utf-8") if encoding == "utf-8" else before.encode("utf-16-le")
    return Position(place.line - 1, len(units) // (1 if encoding == "utf-8" else 2))


def range_at(source: Source, start: Place, end: Place, encoding: PositionEncoding) -> Range:
    """Return the range between two places that count lines and characters from 1."""
    return Range(position_at(source, start, encoding), position_at(source, end, encoding))


def range_of(source: Source, span: Span, encoding: PositionEncoding) -> Range:
    """Return the range of a span."""
    start = position_of(source, span.start, encoding)
    text = source.data[span.start : span.end]
    if text.isascii() and b"\n" not in text and b"\r" not in text:
        return Range(start, Position(start.line, start.character + len(text)))
    return Range(start, position_of(source, span.end, encoding))
