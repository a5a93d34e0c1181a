"""Some changes of a file taken back while later ones stay: a merge by lines."""

from __future__ import annotations

from collections.abc import Iterable

from yellow_trellis.source.diff import opcodes

Range = tuple[int, int]
"""Lines from a first one, 0-based, up to a last one that is not meant any more."""


def without(
    now: bytes, before: bytes, after: bytes, hunks: Iterable[tuple[Range, Range]]
) -> bytes | None:
    """Return the text `now` with `hunks` of the change from `before` to `after` taken back.

    Arguments: `hunks` are ranges of lines in `before` and `after`. One that is taken back already
    is passed over.
    Returns: None where lines of a hunk, or next to it, have been changed since.
    """
    old, new, lines = before.split(b"\n"), after.split(b"\n"), now.split(b"\n")
    from_new, from_old = _Alignment(new, lines), _Alignment(old, lines)
    edits: list[tuple[Range, list[bytes]]] = []
    for (old_start, old_end), (new_start, new_end) in hunks:
        place = from_new.of(new_start, new_end)
        if place is not None:
            edits.append((place, old[old_start:old_end]))
        elif from_old.of(old_start, old_end) is None:
            return None
    for (start, end), text in sorted(edits, reverse=True):
        lines[start:end] = text
    return b"\n".join(lines)


class _Alignment:
    """Map the lines of one text to those of another, in order."""

    def __init__(self, results: list[bytes], second: list[bytes]) -> None:
        self._size = len(results)
        self._shared: list[tuple[int, int, int]] = []
        at = to = 0
        for _, start, stop, _, there in opcodes(results, second):
            self._shared.append((at, start, to - at))
            at, to = stop, there
        self._shared.append((at, len(results), to - at))

    def of(self, start: int, end: int) -> Range | None:
        """Return where lines stand in the other text, if they and their neighbours are there."""
        first, last = max(start - 1, 0), min(end + 1, self._size)
        for common, stop, shift in self._shared:
            if common <= first and last <= stop:
                return start + shift, end + shift
        return None
