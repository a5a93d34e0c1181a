"""Unified diffs, cut into hunks that know which rules made them."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Iterable, Iterator
from typing import NamedTuple

CONTEXT = 3
_NO_NEWLINE = b"\\ No newline at end of file\n"


class Hunk(NamedTuple):
    """A run of changed lines with the lines around it. Lines count from 1."""

    old_start: int
    old_count: int
    new_start: int
    new_count: int
    lines: tuple[bytes, ...]
    """Each with its sign (space, minus, plus) before it and its line ending after it."""
    rules: tuple[str, ...]
    """The rules whose fixes lie in it, in alphabetical order."""

    @property
    def header(self) -> str:
        """The line that says where the hunk stands."""
        old = _range(self.old_start, self.old_count)
        return f"@@ -{old} +{_range(self.new_start, self.new_count)} @@"


def _range(start: int, count: int) -> str:
    return str(start) if count == 1 else f"{start if count else start - 1},{count}"


def hunks_of(old: bytes, new: bytes, marks: Iterable[tuple[str, int, int]] = ()) -> list[Hunk]:
    """Return the hunks between two texts.

    Arguments: `marks` are rules with the first and last line of the old text that each changed.
    """
    ours, theirs = _lines(old), _lines(new)
    marked = list(marks)
    return [_hunk(group, ours, theirs, marked) for group in _groups(list(opcodes(ours, theirs)))]


def changed_lines(old: bytes, new: bytes) -> list[tuple[int, int]]:
    """Return first and last line, from 1, of each run of lines in `new` that are not in `old`."""
    return [(j1 + 1, j2) for _, _, _, j1, j2 in opcodes(_lines(old), _lines(new)) if j2 > j1]


def _lines(data: bytes) -> list[bytes]:
    return data.split(b"\n")[:-1] if data.endswith(b"\n") else data.split(b"\n")


_Opcode = tuple[str, int, int, int, int]


def opcodes(old: list[bytes], new: list[bytes]) -> Iterator[_Opcode]:
    """Yield the changes between two lists of lines.

    Lines that stand once in both texts, in the same order, cut the work into small pieces; only
    these are compared line by line.
    """
    i = j = 0
    for stop_i, stop_j in [*_fixed_points(old, new), (len(old), len(new))]:
        while i < stop_i and j < stop_j and old[i] == new[j]:
            i, j = i + 1, j + 1
        if i < stop_i or j < stop_j:
            from difflib import SequenceMatcher

            piece = SequenceMatcher(None, old[i:stop_i], new[j:stop_j], autojunk=False)
            for tag, i1, i2, j1, j2 in piece.get_opcodes():
                if tag != "equal":
                    yield tag, i1 + i, i2 + i, j1 + j, j2 + j
        i, j = stop_i, stop_j


def _fixed_points(old: list[bytes], new: list[bytes]) -> list[tuple[int, int]]:
    """Return positions of lines unique in both texts, as long a run in order as there is."""
    in_old, in_new = Counter(old), Counter(new)
    where = {line: j for j, line in enumerate(new) if in_new[line] == 1}
    tails: list[int] = []
    best: list[tuple[int, int, int]] = []  # position in old, in new, and the one before in `best`
    last_of: list[int] = []
    for i, line in enumerate(old):
        if in_old[line] != 1 or line not in where:
            continue
        j = where[line]
        length = bisect_left(tails, j)
        best.append((i, j, last_of[length - 1] if length else -1))
        tails[length : length + 1] = [j]
        last_of[length : length + 1] = [len(best) - 1]
    results: list[tuple[int, int]] = []
    at = last_of[-1] if last_of else -1
    while at >= 0:
        i, j, at = best[at]
        results.append((i, j))
    return results[::-1]


def _groups(changes: list[_Opcode]) -> Iterator[list[_Opcode]]:
    group: list[_Opcode] = []
    for change in changes:
        if group and change[1] - group[-1][2] > 2 * CONTEXT:
            yield group
            group = []
        group.append(change)
    if group:
        yield group


def _hunk(
    group: list[_Opcode], old: list[bytes], new: list[bytes], marks: list[tuple[str, int, int]]
) -> Hunk:
    first, last = group[0], group[-1]
    start = max(first[1] - CONTEXT, 0)
    stop = min(last[2] + CONTEXT, len(old))
    lines: list[bytes] = []
    at = start
    for _, i1, i2, j1, j2 in group:
        lines += [b" " + line + b"\n" for line in old[at:i1]]
        lines += [b"-" + line + b"\n" for line in old[i1:i2]]
        lines += [b"+" + line + b"\n" for line in new[j1:j2]]
        at = i2
    lines += [b" " + line + b"\n" for line in old[at:stop]]
    rules = {
        rule
        for rule, begin, end in marks
        for _, i1, i2, _, _ in group
        if begin <= max(i2, i1 + 1) and end > i1
    }
    new_start = first[3] - (first[1] - start)
    added = sum(c[4] - c[3] - (c[2] - c[1]) for c in group)
    return Hunk(
        start + 1,
        stop - start,
        new_start + 1,
        stop - start + added,
        tuple(lines),
        tuple(sorted(rules)),
    )


def patch(path: str, before: bytes, after: bytes, hunks: Iterable[Hunk]) -> bytes:
    """Return the unified diff of one file as bytes that patch programs read.

    Arguments: `before` and `after` are the whole texts: a missing last line end is marked.
    """
    out = [f"--- a/{path}\n+++ b/{path}\n".encode("utf-8", "surrogateescape")]
    for hunk in hunks:
        out.append(hunk.header.encode() + b"\n")
        lines = list(hunk.lines)
        last_old = not before.endswith(b"\n") and hunk.old_start + hunk.old_count > len(
            _lines(before)
        )
        last_new = not after.endswith(b"\n") and hunk.new_start + hunk.new_count > len(
            _lines(after)
        )
        if last_old or last_new:
            _mark_ends(lines, last_old, last_new)
        out += lines
    return b"".join(out)


def _mark_ends(lines: list[bytes], last_old: bool, last_new: bool) -> None:
    """Say below the last old and the last new line that no line end follows."""
    for signs, last in ((b"- ", last_old), (b"+ ", last_new)):
        at = next((i for i in range(len(lines) - 1, -1, -1) if lines[i][:1] in signs), None)
        if last and at is not None and lines[at + 1 : at + 2] != [_NO_NEWLINE]:
            lines.insert(at + 1, _NO_NEWLINE)
