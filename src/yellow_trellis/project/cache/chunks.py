"""Long lists in parts."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TypeVar

T = TypeVar("T")


def in_parts(items: Sequence[T], size: int) -> Iterator[Sequence[T]]:
    """Yield `items` in parts of `size`, the last one maybe shorter."""
    for start in range(0, len(items), size):
        yield items[start : start + size]
