"""Any file of bytes comes in, and the same bytes come out."""

import codecs
import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yellow_trellis import Place
from yellow_trellis.source import Source, UnreadableError
from yellow_trellis.source.lines import LineIndex


@pytest.mark.parametrize(
    ("raw", "codec"),
    [
        (b"x = 1\n", "utf-8"),
        (codecs.BOM_UTF8 + "ä = 1\r\n".encode(), "utf-8"),
        ("# -*- coding: latin-1 -*-\n# \u00fc\n".encode("latin-1"), "latin-1"),
        (b"#!/bin/x\n# vim: set fileencoding=cp1252 :\n# \x80\n", "cp1252"),
        (codecs.BOM_UTF16_LE + "let a = 'ö';".encode("utf-16-le"), "utf-16-le"),
        (b"# broken \xff utf-8\n", "utf-8"),
        (b"\x00\x0c nul and form feed", "utf-8"),
        (b"", "utf-8"),
    ],
)
def test_bytes_come_back(raw: bytes, codec: str) -> None:
    source = Source.read(raw)
    assert (source.codec, source.raw()) == (codec, raw)


@pytest.mark.parametrize(
    ("raw", "reason"),
    [
        (b"# coding: uft-8\n", "unknown"),
        (b"# coding: utf-16\nx", "cannot be used|does not fit|same bytes"),
        (b"# coding: ascii-is-not\n", "unknown"),
        (b"# coding: cp1252\n# \x81\n", "does not fit"),
    ],
)
def test_what_cannot_be_read_says_why(raw: bytes, reason: str) -> None:
    with pytest.raises(UnreadableError, match=reason):
        Source.read(raw)


def test_a_declaration_below_code_does_not_count() -> None:
    assert Source.read(b"x = 1\n# coding: latin-1\n").codec == "utf-8"


def test_a_character_the_encoding_lacks_is_told() -> None:
    source = Source.read(b"# coding: latin-1\n")
    with pytest.raises(UnreadableError, match="€"):
        source.raw("€".encode())


def test_places_count_characters_and_every_line_ending() -> None:
    source = Source("a\r\nüü x\rb\n\nlast".encode())
    text = source.data
    assert source.place(text.index(b"x")) == Place(2, 4)
    assert source.place(text.index(b"b")) == Place(3, 1)
    assert source.place(text.index(b"last")) == Place(5, 1)
    assert len(source.lines) == 5
    for offset in (0, text.index(b"x"), text.index(b"last")):
        assert source.lines.offset(source.place(offset)) == offset


@pytest.mark.parametrize(
    ("data", "unit"),
    [(b"if a:\n\tb\n", b"\t"), (b"if a:\n  b\n  if c:\n    d\n", b"  "), (b"a\n", b"    ")],
)
def test_the_indentation_of_a_file(data: bytes, unit: bytes) -> None:
    assert Source(data).indent_unit == unit


def test_new_text_takes_the_line_ending_around_it() -> None:
    source = Source(b"a\r\nb\nc")
    assert [source.newline_at(at) for at in (0, 3, 5)] == [b"\r\n", b"\n", b"\n"]


BAD = {0xDC00 + byte: "\ufffd" for byte in range(0x80, 0x100)}


def test_what_is_shown_of_a_span_stands_where_its_places_say() -> None:
    data = "é\n".encode() + b"a\xe2\x82 f(\xff)\xe2\n" + b"\xe2)"
    start, end = data.index(b"f("), data.index(b")") + 1
    first, last, line = LineIndex(data).shown(start, end)
    text = line.text
    assert (first, last, text) == (Place(2, 5), Place(2, 9), "a\ufffd\ufffd f(\ufffd)\ufffd")
    assert text[first.column - 1 : last.column - 1] == "f(\ufffd)"
    assert LineIndex(data).shown(start, len(data))[1] == Place(3, 3)
    for offset in range(2, len(data)):
        assert LineIndex(data).offset(LineIndex(data).place(offset)) == offset


@given(st.binary(max_size=200), st.lists(st.integers(0, 200), max_size=60))
def test_places_are_the_same_in_whatever_order_they_are_asked_for(
    data: bytes, offsets: list[int]
) -> None:
    lines = LineIndex(data)
    for offset in (min(at, len(data)) for at in offsets):
        assert lines.place(offset).line == lines.number(offset)
        place, same, line = lines.shown(offset, offset)
        assert place == same == lines.place(offset)
        assert line.text == lines.text(place.line).decode("utf-8", "surrogateescape").translate(BAD)
        assert lines.start(offset) == lines.starts[lines.number(offset) - 1]
        follow = lines.next(offset)
        assert follow is None or lines.number(follow) == lines.number(offset) + 1
        assert (follow is None) == (lines.number(offset) == len(lines.starts))


@given(
    st.lists(st.sampled_from([b"ab", "é".encode(), "車".encode(), b"\xe2", b"\x82", b"\xff", b"\r"])),
    st.lists(st.integers(0, 10_000), min_size=1, max_size=20),
)
def test_columns_of_a_long_line(parts: list[bytes], offsets: list[int]) -> None:
    data = b"x\n" + b"".join(parts) * 200 + b"\ny"
    text = data.decode("utf-8", "surrogateescape")
    starts = [0]  # in bytes, of each character
    for char in text:
        starts.append(starts[-1] + len(char.encode("utf-8", "surrogateescape")))
    lines = LineIndex(data)
    for at in offsets:
        number = at % len(starts)
        place, _, line = lines.shown(starts[number], starts[number])
        same = data[: starts[number]].replace(b"\r\n", b"\n\n").replace(b"\r", b"\n").rfind(b"\n") + 1
        assert place.column == number - starts.index(same) + 1
        rest = line.text[place.column - 1 - line.left_out :][:50].rstrip("…")
        assert text[number:].translate(BAD).startswith(rest)
        assert len(line.text) <= 1001


def test_a_file_of_one_line_is_no_dearer_than_one_of_many() -> None:
    def took(data: bytes) -> float:
        lines = LineIndex(data)
        started = time.perf_counter()
        for at in range(0, len(data), 7):
            lines.shown(at, at + 2)
        return time.perf_counter() - started

    for word in (b"f(1);  ", "f(é); ".encode()):
        one, many = word * 60_000, (word[:-1] + b"\n") * 60_000
        assert took(one) < 10 * took(many) + 0.5
