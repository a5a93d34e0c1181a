"""One file as the rest of the library sees it: UTF-8 bytes that can be turned back exactly."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cached_property
from itertools import pairwise

from msgspec import Struct

from yellow_trellis.source import encoding
from yellow_trellis.source.empty_macros import hidden
from yellow_trellis.source.lines import LineIndex
from yellow_trellis.source.span import Place, Span

_LINE_END = re.compile(rb"\r\n|\n|\r")
_INDENT = re.compile(rb"^([ \t]+)\S", re.MULTILINE)
_BLOCK = re.compile(
    rb"^([ \t]*)[^\r\n]*[:{][ \t]*(?:(?:#|//)[^\r\n]*)?(?:\r?\n[ \t]*)*\r?\n([ \t]+)(?=[^\s#/])",
    re.MULTILINE,
)
"""A line that opens a block, with the indentation of it and of the line behind."""


class Source(Struct, frozen=True, dict=True):
    """The bytes of one file with its encoding, byte order mark and line endings.

    `data` is the file without byte order mark, in UTF-8; every span of the library is a range of
    `data`. `raw()` gives back the file. `path` is for messages only. `empty_macros` are those that
    stand for nothing, as `source.empty_macros` has them.
    """

    data: bytes
    codec: str = "utf-8"
    bom: bytes = b""
    path: str = "<text>"
    empty_macros: tuple[str, ...] = ()

    @classmethod
    def read(
        cls,
        raw: bytes,
        *,
        path: str = "<text>",
        declarations: bool = True,
        empty_macros: tuple[str, ...] = (),
    ) -> Source:
        """Make a source of the bytes `raw` of a file.

        Arguments: `declarations` tells whether the language knows PEP 263 comments.
        Errors: `UnreadableError`.
        """
        bom, codec = encoding.split_bom(raw)
        body = raw[len(bom) :]
        if codec is None and declarations and b"coding" in body[:4096]:
            codec = encoding.declared_codec(body)
        codec = codec or "utf-8"
        return cls(encoding.to_utf8(body, codec), codec, bom, path, empty_macros)

    @cached_property
    def code(self) -> bytes:
        """The text as a parser gets it: spans of it are spans of `data`."""
        return encoding.parseable(hidden(self.data, self.empty_macros))

    def raw(self, data: bytes | None = None) -> bytes:
        """Return the bytes of the file, or those it has when its UTF-8 form is `data`.

        Errors: `UnreadableError` when the file's encoding lacks a character of `data`.
        """
        return self.bom + encoding.from_utf8(self.data if data is None else data, self.codec)

    def with_data(self, data: bytes) -> Source:
        """Return the same file with another content."""
        return Source(data, self.codec, self.bom, self.path, self.empty_macros)

    @cached_property
    def lines(self) -> LineIndex:
        """The line index, made when first asked for."""
        return LineIndex(self.data)

    def text(self, span: Span) -> str:
        """Return the text of `span`; a byte that is not UTF-8 becomes a surrogate."""
        return self.data[span[0] : span[1]].decode("utf-8", "surrogateescape")

    def place(self, offset: int) -> Place:
        """Return line and column, from 1, of the byte `offset`."""
        return self.lines.place(offset)

    def line_at(self, offset: int) -> bytes:
        """Return the line that holds `offset`, without its end."""
        return self.data[self.lines.start(offset) : self.lines.end(offset)]

    def newline_at(self, offset: int) -> bytes:
        """Return the line ending that new text at `offset` takes: its line's, else the last."""
        after = _LINE_END.search(self.data, offset)
        if after:
            return after[0]
        line = self.lines.start(offset)
        before = _LINE_END.search(self.data, max(line - 2, 0), line)
        return before[0] if before else b"\n"

    def indent_at(self, offset: int) -> bytes:
        """Return the white space at the start of the line that holds `offset`."""
        line = self.line_at(offset)
        return line[: len(line) - len(line.lstrip(b" \t\f"))]

    @cached_property
    def indent_unit(self) -> bytes:
        """One step of indentation in this file: a tab, or the commonest step of spaces (else 4).

        Steps into blocks count; else, where headers go over lines, the indentation of blocks; else
        steps from any line to the next.
        """
        blocks = [(match[1], match[2]) for match in _BLOCK.finditer(self.data)]
        steps = self._steps(blocks) or self._steps((b"", inner) for _, inner in blocks)
        if not steps:
            indents = [b"", *(match[1] for match in _INDENT.finditer(self.data))]
            steps = self._steps(pairwise(indents))
        usual = [s for s in steps if s in (b"\t", b"  ", b"    ", b"        ", b"   ")]
        return max(usual, key=lambda s: (steps[s], -len(s)), default=b"    ")

    @staticmethod
    def _steps(lines: Iterable[tuple[bytes, bytes]]) -> dict[bytes, int]:
        """Count by how much the second of two lines is indented more than the first."""
        steps: dict[bytes, int] = {}
        for outer, inner in lines:
            if inner.startswith(outer) and len(inner) > len(outer):
                step = inner[len(outer) :]
                steps[step] = steps.get(step, 0) + 1
        return steps
