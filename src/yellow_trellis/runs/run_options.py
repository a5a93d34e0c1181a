"""Limits of a run, and requirements on changed files."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class SyntaxChecks:
    """Requirements on changed files beyond the compiler that the library runs in.

    `python` is the oldest version of Python that they must be read by, as (3, 9). `commands` are
    pairs of a language and a command that gets the path of a changed file as its last word.
    """

    python: tuple[int, int] | None = None
    commands: tuple[tuple[str, str], ...] = ()


NO_CHECKS = SyntaxChecks()


@dataclass(frozen=True)
class Limits:
    """Seconds for one rule on one file and for one file as a whole, bytes for a worker process.

    None is no limit.
    """

    rule: float | None = 20.0
    file: float | None = 120.0
    memory: int | None = None


USUAL = Limits()
