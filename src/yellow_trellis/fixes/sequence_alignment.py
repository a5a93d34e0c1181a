"""Alignment of old and new tokens: their heaviest common subsequence."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

# A name or keyword says more about the shape than punctuation. A hole weighs a little less than a
# token: when two holes change places, the brackets and commas around them stay, with their line
# breaks, and only what stands between them moves.
_WORD, _MARK, _HOLE = 30, 10, 9


def _weight(sign: str) -> int:
    if sign.startswith("@") and len(sign) > 1:
        return _HOLE
    return _WORD if sign[:1].isalnum() or sign[:1] == "_" else _MARK


@lru_cache(maxsize=8192)
def align(old: Sequence[str], new: Sequence[str]) -> tuple[tuple[int, int], ...]:
    """Return pairs (position in `old`, position in `new`) of tokens that stay, ascending.

    The heaviest common subsequence is computed from the ends backwards, one row for each old token
    (Wagner and Fischer, 1974). Where several are equally heavy, tokens near the start go first.
    """
    rows, columns = len(old), len(new)
    best = [[0] * (columns + 1) for _ in range(rows + 1)]
    for i in range(rows - 1, -1, -1):
        row, below = best[i], best[i + 1]
        for j in range(columns - 1, -1, -1):
            score = max(below[j], row[j + 1])
            if old[i] == new[j]:
                score = max(score, below[j + 1] + _weight(old[i]))
            row[j] = score
    pairs: list[tuple[int, int]] = []
    i = j = 0
    while i < rows and j < columns:
        if old[i] == new[j] and best[i][j] == best[i + 1][j + 1] + _weight(old[i]):
            pairs.append((i, j))
            i, j = i + 1, j + 1
        elif best[i][j] == best[i + 1][j]:
            i += 1
        else:
            j += 1
    return tuple(pairs)
