"""The filter of the files that a run processes, and why others are skipped."""

from __future__ import annotations

from typing import NamedTuple

from msgspec import Struct

LARGEST = 4 * 1024 * 1024
"""Bytes above which a file is data rather than code."""


class FileFilter(Struct, frozen=True):
    """A restriction of the files to process.

    `since` is a revision: only files that differ from it. `staged`: only files with staged
    changes. `lines`: of these files only the changed lines. `owner`: only files of that owner.
    `largest` is in bytes. `generated`: files marked as generated too. `skip` are patterns of files
    to leave, as in ignore files, from the folder of the file `skip_from` that says so. `only_here`:
    rules over a whole code base are done in these files, whatever uses the thing elsewhere.
    `also_skip` are such patterns from the current folder, as a call says them. `endings` are pairs
    of an ending, ``.inc``, and the language of files that have it. `empty_macros` are macros of C
    and C++ that stand for nothing, ``ALDER_API``, or ``ALDER_USES()`` with arguments.
    """

    since: str | None = None
    staged: bool = False
    lines: bool = False
    owner: str | None = None
    largest: int = LARGEST
    generated: bool = False
    skip: tuple[str, ...] = ()
    skip_from: str = ""
    also_skip: tuple[str, ...] = ()
    only_here: bool = False
    endings: tuple[tuple[str, str], ...] = ()
    empty_macros: tuple[str, ...] = ()

    @property
    def base(self) -> str | None:
        """The revision that changes are counted from."""
        return "HEAD" if self.staged else self.since


EVERYTHING = FileFilter()


class SkippedFile(NamedTuple):
    """A file that is not looked at, and why."""

    path: str
    reason: str
