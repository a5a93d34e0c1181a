"""Writing a plan: the original with each primitive's pieces, slices rendered inside out."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Sequence
from functools import cached_property
from itertools import islice
from operator import attrgetter

from msgspec import Struct, field

from yellow_trellis.edits import Slice
from yellow_trellis.edits.edit import BESIDE_BODY
from yellow_trellis.edits.whitespace import in_string, lines_in_strings
from yellow_trellis.plans.write_op import EXTENT, Label, Primitive
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

_Shifts = tuple[tuple[bytes, bytes], ...]
"""How the indentation of further lines changes, old to new, the innermost slice first."""


Fingerprint = tuple[int, Label, bool, int]
"""The number of a fix, what of it begins here or ends, whether it begins, and the byte."""


class Rendered(Struct, dict=True):
    """The new text, and where the extent of each fix came to stand in it."""

    data: bytes
    marks: list[Fingerprint] = field(default_factory=list)
    """The edges of fixes as they come in the text."""
    moved: list[tuple[int, Span, Span]] = field(default_factory=list)
    """Slices that were written anew: the fix, the slice, and where it came to stand."""
    written: set[int] = field(default_factory=set)
    """The ids of the primitives that stand in the text."""
    alone: list[tuple[int, Span]] = field(default_factory=list)
    """Fixes that meet no other, by number, with their extents in the original."""
    regions: list[tuple[int, int, int]] = field(default_factory=list)
    """What was written over: where it starts and ends in the original, and ends in the text."""

    @cached_property
    def extents(self) -> dict[int, list[Span]]:
        """By number of the fix; several where a slice was duplicated, none where it was dropped."""
        table: dict[int, list[Span]] = {}
        for (fix, label), spans in self.marked.items():
            if label == EXTENT:
                table[fix] = spans
        for fix, (start, end) in self.alone:
            table[fix] = [Span(self.moved_to(start), self.moved_to(end, after=True))]
        return table

    @cached_property
    def marked(self) -> dict[tuple[int, Label], list[Span]]:
        """By number of the fix and label: where what was marked came to stand."""
        table: dict[tuple[int, Label], list[Span]] = {}
        begun: dict[tuple[int, Label], list[int]] = {}
        for fix, label, begins, at in self.marks:
            if begins:
                begun.setdefault((fix, label), []).append(at)
            elif starts := begun.get((fix, label)):
                table.setdefault((fix, label), []).append(Span(starts.pop(), at))
        return table

    @cached_property
    def _region_starts(self) -> list[int]:
        return [region[0] for region in self.regions]

    def moved_to(self, at: int, *, after: bool = False) -> int:
        """Return where a byte of the original that no fix replaced is in the text.

        Arguments: `after` asks for the place behind what was inserted there.
        """
        starts = self._region_starts
        regions = bisect_right(starts, at) if after else bisect_left(starts, at)
        if not regions:
            return at
        _, end, now = self.regions[regions - 1]
        return now + at - end


_BY_KEY = attrgetter("key")


class Renderer:
    """Renders accepted primitives over one tree."""

    def __init__(
        self,
        tree: Tree,
        accepted: list[Primitive],
        buried: dict[int, list[Primitive]],
    ) -> None:
        self.tree = tree
        self.source = tree.source
        self.buried = buried
        self.items = sorted(accepted, key=_BY_KEY)
        self.starts = [item.start for item in self.items]
        self._under_way: set[tuple[int, Span]] = set()

    def render(self, alone: Iterable[tuple[int, int, bytes]] = ()) -> Rendered:
        """Return the new text.

        Arguments: `alone` are spans that nothing else touches, start and end, and their new text.
        """
        out = _Text()
        data, starts, regions = self.source.data, self.starts, out.regions
        pos = at = 0
        extra = len(starts)
        for start, end, text in sorted(alone):
            if at < extra and starts[at] < start:
                self._region(Span(pos, start), None, out, ())
                at = bisect_left(starts, start, at)
            else:
                out.parts.append(data[pos:start])
                out.size += start - pos
            out.parts.append(text)
            out.size += len(text)
            regions.append((start, end, out.size))
            pos = end
        self._region(Span(pos, len(data)), None, out, ())
        return out.finished()

    def text(self, span: Span) -> str:
        """Return what becomes of the bytes in `span`."""
        out = _Text()
        self._region(span, None, out, ())
        return out.finished().data.decode("utf-8", "surrogateescape")

    def _region(self, region: Span, owner: int | None, out: _Text, shifts: _Shifts) -> None:
        """Write the original bytes of `region`, for fix `owner` which keeps them as a slice."""
        pos, end = region
        buried = self.buried
        for item in islice(self.items, bisect_left(self.starts, pos), None):
            start = item.start
            if start > end:
                break
            if start < pos and not (item.edge and item.level == BESIDE_BODY):
                continue  # the edge of a body stays where some of its statements have gone
            over = buried.get(id(item), ()) if buried else ()
            if (over or owner is not None) and not _applies(item, over, region, owner):
                continue
            if pos < start:
                self._original(pos, start, out, shifts)
                pos = start
            if item.edge:
                out.marks.append((item.fix, item.label, item.before, out.size))
                continue
            if item.pieces:
                out.written.add(id(item))
                self._pieces(item, out, shifts)
            if pos < item.end:
                pos = item.end
            if owner is None:
                out.regions.append((start, pos, out.size))
        if pos < end:
            self._original(pos, end, out, shifts)

    def _original(self, start: int, end: int, out: _Text, shifts: _Shifts) -> None:
        data = self.source.data
        if not shifts:
            out.write(data[start:end])
            return
        for line in data[start:end].splitlines(keepends=True):
            moves = out.at_line_start() and self._is_code(start)
            out.write(_relead(line, shifts) if moves else line)
            start += len(line)

    def _pieces(self, item: Primitive, out: _Text, shifts: _Shifts) -> None:
        for piece in item.pieces:
            if isinstance(piece, Slice):
                self._render_slice(piece, item, out, shifts)
                continue
            text = piece.text.encode("utf-8", "surrogateescape")
            is_code = bool(shifts) and self._is_code(item.start)
            if is_code and out.at_line_start():
                text = _relead(text, shifts)
            if b"\n" not in text:
                out.write(text)
                continue
            newline = self.source.newline_at(item.start)
            in_strings = lines_in_strings(text, self.tree.language) if is_code else ()
            for number, line in enumerate(text.split(b"\n")):
                if number:
                    out.write(newline)
                    line = _relead(line, shifts if is_code and number not in in_strings else ())
                out.write(line)

    def _render_slice(self, piece: Slice, item: Primitive, out: _Text, shifts: _Shifts) -> None:
        if piece.indent is None and not shifts:
            start, end = piece.span
            at = bisect_left(self.starts, start)
            if at == len(self.starts) or self.starts[at] > end:  # nobody does anything in it
                out.moved.append((item.fix, piece.span, Span(out.size, out.size + end - start)))
                out.write(self.source.data[start:end])
                return
        state = (item.fix, piece.span)
        if state in self._under_way:
            raise RecursionError("a slice was put inside itself")
        self._under_way.add(state)
        if piece.indent is not None:
            old, new = (text.encode("utf-8") for text in piece.indent)
            shifts = ((old, new), *shifts)
        out.held = len(out.parts)
        begin = out.size
        self._region(piece.span, item.fix, out, shifts)
        out.moved.append((item.fix, piece.span, Span(begin, out.size)))
        self._under_way.discard(state)

    def _is_code(self, start: int) -> bool:
        """Return whether the line at `start` may be re-indented: it starts in no string."""
        return not in_string(self.tree, start)


def _applies(item: Primitive, over: Sequence[Primitive], region: Span, owner: int | None) -> bool:
    """Return whether `item`, carried off by those `over` it, is written where `region` is."""
    if owner is not None:
        if not region.holds(item.anchor if item.inserts else item.span):
            return False
        if item.fix == owner and region in (item.anchor, item.span):
            return False
        is_around = item.level == BESIDE_BODY or not region.holds(item.extent)
        if item.inserts and region == item.anchor and not over and is_around:
            return False  # it is about more than what goes elsewhere, and stays in its place
    for outer in over:
        if region.holds(outer.span) and not (outer.fix == owner and outer.span == region):
            return False
    return True


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

    __slots__ = ("held", "marks", "moved", "parts", "regions", "size", "written")

    def __init__(self) -> None:
        self.parts: list[bytes] = []
        self.size = 0
        self.marks: list[Fingerprint] = []
        """Edges of fixes."""
        self.moved: list[tuple[int, Span, Span]] = []
        """Slices that were written anew."""
        self.written: set[int] = set()
        """The ids of the primitives written."""
        self.regions: list[tuple[int, int, int]] = []
        """What was written over in the original itself, in order; see `Rendered`."""
        self.held = 0
        """How many parts there were when a kept slice began: its first line goes on another."""

    def write(self, text: bytes) -> None:
        if text:
            self.parts.append(text)
            self.size += len(text)

    def at_line_start(self) -> bool:
        """Return whether what comes next begins a line."""
        return len(self.parts) > self.held and self.parts[-1][-1] in b"\n\r"

    def finished(self) -> Rendered:
        data = b"".join(self.parts)
        return Rendered(data, self.marks, self.moved, self.written, [], self.regions)
