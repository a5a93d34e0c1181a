"""Errors that the compiler of a language reports: place and reason."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import NamedTuple, Union


class CompileError(NamedTuple):
    """An error of the compiler of a language."""

    place: int
    """The byte of the text."""
    reason: str


CompileErrors = Callable[
    [bytes, Iterable[tuple[int, int]], Union["tuple[int, int]", None]], list[CompileError]
]


def no_compiler(data: bytes, parts: object, version: object) -> list[CompileError]:
    """Return nothing: the compiler of the language is not at hand."""
    return []
