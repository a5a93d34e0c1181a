"""What a run is asked for: which files, and what one of them may cost."""

from __future__ import annotations

from dataclasses import dataclass


LARGEST = 4 * 1024 * 1024
"""Bytes above which a file is data rather than code."""


@dataclass(frozen=True)
class Scope:
    """What to look at, of all that is found.

    `since` is a revision: only files that differ from it. `staged`: only files with staged
    changes. `lines`: of these files only the changed lines. `owner`: only files of that owner.
    `largest` is in bytes. `generated`: files marked as generated too. `skip` are patterns of files
    to leave, as in ignore files, from the folder of the file `skip_from` that says so. `only_here`:
    rules over a whole code base are done in these files, whatever uses the thing elsewhere.
    """

    since: str | None = None
    staged: bool = False
    lines: bool = False
    owner: str | None = None
    largest: int = LARGEST
    generated: bool = False
    skip: tuple[str, ...] = ()
    skip_from: str = ""
    only_here: bool = False

    @property
    def base(self) -> str | None:
        """The revision that changes are counted from."""
        return "HEAD" if self.staged else self.since


EVERYTHING = Scope()


@dataclass(frozen=True)
class SyntaxChecks:
    """What changed files are held to beside the compiler that the library runs in.

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
