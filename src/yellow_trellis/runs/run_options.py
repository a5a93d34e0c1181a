"""Limits of a run, and requirements on changed files."""

from __future__ import annotations

from msgspec import Struct



Versions = tuple[tuple[str, tuple[int, int]], ...]


class SyntaxChecks(Struct, frozen=True):
    """Requirements on changed files beyond the compiler that the library runs in.

    `versions` are pairs of a language and the oldest version of it that they must be read by, as
    (3, 9); `commands` are pairs of a language and a command that gets the path of a changed file as
    its last word.
    """

    versions: Versions = ()
    commands: tuple[tuple[str, str], ...] = ()


NO_CHECKS = SyntaxChecks()


class Limits(Struct, frozen=True):
    """Seconds for one rule on one file and for one file as a whole, bytes for a worker process.

    None is no limit.
    """

    rule: float | None = 20.0
    file: float | None = 120.0
    memory: int | None = None


USUAL = Limits()
