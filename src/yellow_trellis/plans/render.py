"""Writing a plan: the original with each primitive's pieces, slices rendered inside out."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass, field
from operator import attrgetter

from yellow_trellis.fixes import Kept
from yellow_trellis.plans.primitive import Primitive
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

_Shifts = tuple[tuple[bytes, bytes], ...]
"""How the indentation of further lines changes, old to new, the innermost slice first."""


@dataclass
class Rendered:
    """The new text, and where the extent of each fix came to stand in it."""

    data: bytes
    extents: dict[int, list[Span]] = field(default_factory=dict)
    """By number of the fix; several where a slice was duplicated, none where it was dropped."""


_BY_KEY = attrgetter("key")


class Renderer:
    """Renders accepted primitives over one tree."""

    def __init__(
        self,
        tree: Tree,
        accepted: list[Primitive],
        buried: dict[int, list[Primitive]],
        marks: list[Primitive],
    ) -> None:
        self.tree = tree
        self.source = tree.source
        self.buried = buried
        self.marks = {id(mark) for mark in marks}
        self.items = sorted([*accepted, *marks], key=_BY_KEY)
        self.starts = [item.start for item in self.items]
        self._under_way: set[tuple[int, Span]] = set()

    def render(self) -> Rendered:
        """Return the new text."""
        out = _Text()
        self._region(Span(0, len(self.source.data)), None, out, ())
        return out.finished()

    def text(self, span: Span) -> str:
        """Return what becomes of the bytes in `span`."""
        out = _Text()
        self._region(span, None, out, ())
        return out.finished().data.decode("utf-8", "surrogateescape")

    def _region(self, region: Span, owner: int | None, out: _Text, shifts: _Shifts) -> None:
        """Write the original bytes of `region`, for fix `owner` which keeps them as a slice."""
        pos = region.start
        for at in range(bisect_left(self.starts, region.start), len(self.items)):
            item = self.items[at]
            if item.start > region.end:
                break
            if item.start < pos:
                continue
            if (owner is not None or self.buried) and not self._applies(item, region, owner):
                continue
            if pos < item.start:
                self._original(pos, item.start, out, shifts)
            if id(item) in self.marks:
                out.mark(item)
            else:
                self._pieces(item, out, shifts)
            pos = max(pos, item.end)
        self._original(pos, region.end, out, shifts)

    def _original(self, start: int, end: int, out: _Text, shifts: _Shifts) -> None:
        if start >= end:
            return
        data = self.source.data
        if not shifts:
            out.write(data[start:end])
            return
        for line in data[start:end].splitlines(keepends=True):
            moves = out.at_line_start and self._is_code(start)
            out.write(_relead(line, shifts) if moves else line)
            start += len(line)

    def _applies(self, item: Primitive, region: Span, owner: int | None) -> bool:
        """Tell whether `item` is to be written where `region` is rendered."""
        if owner is not None:
            if item.inserts and not region.holds(item.anchor):
                return False
            if not region.holds(item.span):
                return False
            if item.fix == owner and (item.anchor == region or item.span == region):
                return False
        return not any(
            region.holds(over.span) and not (over.fix == owner and over.span == region)
            for over in self.buried.get(id(item), ())
        )

    def _pieces(self, item: Primitive, out: _Text, shifts: _Shifts) -> None:
        for piece in item.pieces:
            if isinstance(piece, Kept):
                self._kept(piece, item, out, shifts)
                continue
            text = piece.text.encode("utf-8", "surrogateescape")
            if b"\n" not in text:
                out.write(text)
                continue
            newline = self.source.newline_at(item.start)
            for number, line in enumerate(text.split(b"\n")):
                if number:
                    out.write(newline)
                    line = _relead(line, shifts)
                out.write(line)

    def _kept(self, piece: Kept, item: Primitive, out: _Text, shifts: _Shifts) -> None:
        if piece.indent is None and not shifts:
            start, end = piece.span
            at = bisect_left(self.starts, start)
            if at == len(self.starts) or self.starts[at] > end:  # nobody does anything in it
                out.write(self.source.data[start:end])
                return
        state = (item.fix, piece.span)
        if state in self._under_way:
            raise RecursionError("a slice was put inside itself")
        self._under_way.add(state)
        if piece.indent is not None:
            old, new = (text.encode("utf-8") for text in piece.indent)
            shifts = ((old, new), *shifts)
        out.at_line_start = False
        self._region(piece.span, item.fix, out, shifts)
        self._under_way.discard(state)

    def _is_code(self, start: int) -> bool:
        """Tell whether the line at `start` may be indented anew: no literal holds it."""
        leaf = self.tree.leaf_at(start)
        return leaf is None or leaf.start >= start or leaf.end <= start or bool(leaf.items)


def _relead(line: bytes, shifts: _Shifts) -> bytes:
    """Give a line its new indentation, shift by shift; a blank line stays blank."""
    for old, new in shifts:
        if not line.strip() and line.endswith((b"\n", b"\r")):
            return line
        if line.startswith(old):
            line = new + line[len(old) :]
        elif len(new) >= len(old):
            line = new[len(old) :] + line
        else:
            indent = len(line) - len(line.lstrip(b" \t"))
            line = line[min(indent, len(old) - len(new)) :]
    return line


class _Text:
    """The text in the making."""

    def __init__(self) -> None:
        self._parts: list[bytes] = []
        self._size = 0
        self._open: dict[int, list[int]] = {}
        self._extents: dict[int, list[Span]] = {}
        self.at_line_start = False

    def write(self, text: bytes) -> None:
        if text:
            self._parts.append(text)
            self._size += len(text)
            self.at_line_start = text[-1] in b"\n\r"

    def mark(self, edge: Primitive) -> None:
        """Note where an edge of a fix's extent stands."""
        if edge.before:
            self._open.setdefault(edge.fix, []).append(self._size)
        elif starts := self._open.get(edge.fix):
            self._extents.setdefault(edge.fix, []).append(Span(starts.pop(), self._size))

    def finished(self) -> Rendered:
        return Rendered(b"".join(self._parts), self._extents)
