"""The interface by which a language tells statements before any parse."""

from __future__ import annotations

from typing import Protocol

Span = tuple[int, int]
"""Start and end in bytes, half-open."""

NO_CODE: Span = (0, 0)
"""The answer where nothing but a comment stands."""


class Scanner(Protocol):
    """Tells from the bytes of a file which of them parse without the others.

    What it tells is certain for code without syntax errors; each method may decline.
    """

    @property
    def is_clear(self) -> bool:
        """Return whether anything can be told of the file."""
        ...

    def in_text(self, place: int) -> bool:
        """Return whether the byte `place` is surely in a string that holds no code."""
        ...

    def statement(self, place: int) -> Span | None:
        """Return what to parse for the simple statement, or the header, that holds `place`.

        `NO_CODE` where only a comment stands; None where no part of a statement parses alone.
        """
        ...

    def segment(self, place: int) -> Span:
        """Return a span of whole top-level statements around `place`."""
        ...
