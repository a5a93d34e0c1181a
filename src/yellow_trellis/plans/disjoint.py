"""Fixes that meet no other: their text is made at once, and nothing is compared with them.

Most fixes of most runs are of this kind; what is worked out where fixes meet is not for them.
"""

from __future__ import annotations

from collections.abc import Sequence

from yellow_trellis.edits import New, Slice
from yellow_trellis.fixes import Fix
from yellow_trellis.source import Source

Sketch = tuple[int, int, int, int, "bytes | None"]
"""What a fix touches (start and end), what it replaces (start and end), and by what text, if that
is plain: no new indentation, and no edits that touch each other."""


def sketched(fix: Fix, source: Source) -> Sketch:
    """Return the sketch of a fix, as it is where no other fix comes near."""
    edits = fix.edits
    if not edits:
        return (*fix.extent, *fix.extent, None)
    data = source.data
    begin = pos = edits[0].span[0]
    parts: list[bytes] = []
    last = -1
    keeps = False
    for edit in edits:
        start, end = edit.span
        if start < pos or start == last:
            return _zone(fix, None)  # where insertions meet, their keys say which comes first
        if pos < start:
            parts.append(data[pos:start])
        for piece in edit.pieces:
            if piece.__class__ is New:
                text = piece.text.encode("utf-8", "surrogateescape")
                if b"\n" in text:
                    text = text.replace(b"\n", source.newline_at(start))
                parts.append(text)
                continue
            assert isinstance(piece, Slice)
            if piece.indent is not None:
                return _zone(fix, None)
            parts.append(data[piece.span[0] : piece.span[1]])
            keeps = True
        last = start if start == end else -1
        pos = end
    result = b"".join(parts)
    return _zone(fix, result) if keeps else (begin, pos, begin, pos, result)


def _zone(fix: Fix, result: bytes | None) -> Sketch:
    """Return the sketch of a fix that keeps slices, or of one whose text takes more."""
    edits = fix.edits
    spans = [edit.span for edit in edits]
    begin, end = min(span.start for span in spans), max(span.end for span in spans)
    spans += [piece.span for edit in edits for piece in edit.pieces if isinstance(piece, Slice)]
    low, high = min(span.start for span in spans), max(span.end for span in spans)
    if result is not None and not _moves_wholes(fix):
        result = None
    return low, high, begin, end, result


def _moves_wholes(fix: Fix) -> bool:
    """Return whether a fix edits nothing inside of the slices that it moves."""
    contents = [
        piece.span
        for edit in fix.edits
        for piece in edit.pieces
        if isinstance(piece, Slice)
        and not edit.span.start <= piece.span.start <= piece.span.end <= edit.span.end
    ]
    return all(
        edit.span.end <= span.start
        or edit.span.start >= span.end
        or span in (edit.span, edit.anchor)
        for edit in fix.edits
        for span in contents
    ) and not any(
        edit.inserts and edit.anchor != span and span.start <= edit.span.start <= span.end
        for edit in fix.edits
        for span in contents
    )


def apart(fixes: Sequence[Fix], sketches: Sequence[Sketch]) -> list[bool]:
    """Return for each fix whether it touches what no other fix touches.

    The ends of its extent count too where they are to be found again in the new text, and so do
    those of code beside which it inserts.
    """
    zones = []
    for at, (fix, sketch) in enumerate(zip(fixes, sketches, strict=True)):
        low, high = sketch[0], sketch[1]
        zones.append((low, high, at))
        ends = [edit.anchor for edit in fix.edits if edit.inserts and edit.anchor is not None]
        if is_sought(fix):
            ends.append(fix.extent)
        for start, end in ends:
            if start < low:
                zones.append((start, start, at))
            if end > high:
                zones.append((end, end, at))
    zones.sort()
    result = [True] * len(fixes)
    reach = owner = -1
    for low, high, at in zones:
        if low <= reach and at != owner:
            result[at] = result[owner] = False
        if high >= reach:
            reach, owner = high, at
    return result


def is_sought(fix: Fix) -> bool:
    """Return whether the extent of a fix is asked for in the new text."""
    return bool(fix.puts) or bool(fix.imports) or fix.width is not None
