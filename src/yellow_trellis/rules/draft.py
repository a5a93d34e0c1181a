"""The findings that the function of a rule yields."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from yellow_trellis.fixes import FixBuilder
    from yellow_trellis.source import Span


class Draft(NamedTuple):
    """A finding before its rule has signed it."""

    span: Span
    message: str | None
    fixes: tuple[FixBuilder, ...]
