"""Writing a plan: the original with each primitive's pieces, slices rendered inside out."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Sequence
from functools import cached_property
from itertools import islice
from operator import attrgetter

from yellow_trellis.fixes import Kept
from yellow_trellis.plans.primitive import Primitive
from yellow_trellis.records import field, record
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

_Shifts = tuple[tuple[bytes, bytes], ...]
"""How the indentation of further lines changes, old to new, the innermost slice first."""


Mark = tuple[int, bool, int]
"""The number of a fix, whether its extent begins here or ends, and the byte."""


@record
class Rendered:
    """The new text, and where the extent of each fix came to stand in it."""

    data: bytes
    marks: list[Mark] = field(default_factory=list)
    """The edges of fixes as they come in the text."""
    alone: list[tuple[int, Span]] = field(default_factory=list)
    """Fixes that meet no other, by number, with their extents in the original."""
    regions: list[tuple[int, int, int]] = field(default_factory=list)
    """What was written over: where it starts and ends in the original, and ends in the text."""

    @cached_property
    def extents(self) -> dict[int, list[Span]]:
        """By number of the fix; several where a slice was duplicated, none where it was dropped."""
        found: dict[int, list[Span]] = {}
        begun: dict[int, list[int]] = {}
        for fix, begins, at in self.marks:
            if begins:
                begun.setdefault(fix, []).append(at)
            elif starts := begun.get(fix):
                found.setdefault(fix, []).append(Span(starts.pop(), at))
        starts = [region[0] for region in self.regions]
        for fix, (start, end) in self.alone:
            first = self._moved(start, bisect_left(starts, start))
            found[fix] = [Span(first, self._moved(end, bisect_right(starts, end)))]
        return found

    def _moved(self, at: int, regions: int) -> int:
        """Return where a byte of the original is in the text, so many regions being before it."""
        if not regions:
            return at
        _, end, now = self.regions[regions - 1]
        return now + at - end

    def carried(self, data: bytes, moved: Callable[[int], int]) -> Rendered:
        """Return the same after an edit that made `data`, and moves each byte as `moved` says."""
        marks = [(fix, begins, moved(at)) for fix, begins, at in self.marks]
        for fix, _ in self.alone:
            for start, end in self.extents[fix]:
                marks += ((fix, True, moved(start)), (fix, False, moved(end)))
        return Rendered(data, marks)


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
        more = len(starts)
        for start, end, text in sorted(alone):
            if at < more and starts[at] < start:
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
            if start < pos:
                continue
            over = buried.get(id(item), ()) if buried else ()
            if (over or owner is not None) and not _applies(item, over, region, owner):
                continue
            if pos < start:
                self._original(pos, start, out, shifts)
                pos = start
            if item.edge:
                out.marks.append((item.fix, item.before, out.size))
                continue
            if item.pieces:
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
        out.held = len(out.parts)
        self._region(piece.span, item.fix, out, shifts)
        self._under_way.discard(state)

    def _is_code(self, start: int) -> bool:
        """Tell whether the line at `start` may be indented anew: no literal holds it."""
        leaf = self.tree.leaf_at(start)
        return leaf is None or leaf.start >= start or leaf.end <= start or bool(leaf.items)


def _applies(item: Primitive, over: Sequence[Primitive], region: Span, owner: int | None) -> bool:
    """Tell whether `item`, carried off by those `over` it, is written where `region` is."""
    if owner is not None:
        if not region.holds(item.anchor if item.inserts else item.span):
            return False
        if item.fix == owner and region in (item.anchor, item.span):
            return False
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

    __slots__ = ("held", "marks", "parts", "regions", "size")

    def __init__(self) -> None:
        self.parts: list[bytes] = []
        self.size = 0
        self.marks: list[Mark] = []
        """Edges of fixes."""
        self.regions: list[tuple[int, int, int]] = []
        """What was written over in the original itself, in order; see `Rendered`."""
        self.held = 0
        """How many parts there were when a kept slice began: its first line goes on another."""

    def write(self, text: bytes) -> None:
        if text:
            self.parts.append(text)
            self.size += len(text)

    def at_line_start(self) -> bool:
        """Tell whether what comes next begins a line."""
        return len(self.parts) > self.held and self.parts[-1][-1] in b"\n\r"

    def finished(self) -> Rendered:
        return Rendered(b"".join(self.parts), self.marks, [], self.regions)
