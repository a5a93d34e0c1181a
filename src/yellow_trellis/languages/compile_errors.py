"""What a compiler has against a text: the place and the reason."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import NamedTuple, Union


class CompileError(NamedTuple):
    """Where and why the compiler of a language refuses a text."""

    place: int
    """The byte of the text."""
    reason: str


CompileErrors = Callable[
    [bytes, Iterable[tuple[int, int]], Union["tuple[int, int]", None]], list[CompileError]
]


def no_compiler(data: bytes, parts: object, version: object) -> list[CompileError]:
    """Return nothing: the compiler of the language is not at hand."""
    return []
