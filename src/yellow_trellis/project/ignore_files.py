"""Ignore files that apply to a folder: its own, those above, and those outside of the code.

Of the lines that fit a path the last one of the nearest file counts; then come the repository's
`info/exclude` and the user's own file, as git has it.
"""

from __future__ import annotations

import os
from functools import cache, lru_cache
from pathlib import Path
from stat import S_ISREG
from typing import TYPE_CHECKING

from msgspec import Struct

from yellow_trellis.ignore_patterns import Globs
from yellow_trellis.project.cache.file_stat import Stamp

if TYPE_CHECKING:
    from yellow_trellis.project.git import Repository

IGNORE = ".gitignore"
_MOST = 4 * 1024 * 1024
"""Bytes of an ignore file that are read."""


class Ignore(Struct, frozen=True):
    """One ignore file: the folder it speaks for, its own path, and what it says."""

    folder: str
    file: str
    globs: Globs

    def says(self, path: str, is_dir: bool) -> tuple[bool, str] | None:
        """Return whether `path` is ignored, and the line that says so; None if none does."""
        name = path[len(self.folder) :].lstrip(os.sep).replace(os.sep, "/")
        line = self.globs.last(os.fsencode(name), is_dir)
        if line is None:
            return None
        message = f"{self.file}:{line.number}: {os.fsdecode(line.text)}"
        return not line.brings_back, message


Ignores = tuple[Ignore, ...]
"""Ignore files, each after those that it goes before."""


def ignores_above(path: str) -> Ignores:
    """Return the ignore files that speak for the folder `path` from above it, or from outside."""
    results: list[Ignore] = []
    absolute = os.path.realpath(path)
    folder, inside = absolute, [absolute]
    while not os.path.lexists(os.path.join(folder, ".git")):
        above = os.path.dirname(folder)
        if above == folder:
            return ()
        results += ignores_of(above)
        folder = above
        inside.append(folder)
    ignores = (*_outside(folder), *reversed(results))
    return () if any(ignored(item, True, ignores) for item in inside[:-1]) else ignores


def ignores_of(folder: str) -> list[Ignore]:
    """Return the ignore file that lies in a folder, if one does; a link is none, as for git."""
    return _read(os.path.join(folder, IGNORE), folder, getattr(os, "O_NOFOLLOW", 0))


def tracked_but_ignored(top: str) -> frozenset[str]:
    """Return the files that the repository at `top` tracks although patterns ignore them.

    They are real paths, with those of the folders around them. Git looks at such files like at any.
    """
    from yellow_trellis.project.git import top_of  # who names files asks nothing of git

    repository = top_of(Path(top))
    if repository is None:
        return frozenset()
    index = Stamp.of(os.path.join(repository, ".git", "index"))
    return _tracked_but_ignored(str(repository), index)


@lru_cache(maxsize=4)
def _tracked_but_ignored(top: str, index: Stamp | None) -> frozenset[str]:
    from yellow_trellis.project.git import RevisionError

    try:
        files = _repository(top).tracked_but_ignored()
    except RevisionError:  # what writes asks git again, and tells
        return frozenset()
    results: set[str] = set()
    for file in files:
        while len(file) > len(top) and file not in results:
            results.add(file)
            file = os.path.dirname(file)
    return frozenset(results)


def ignored(path: str, is_dir: bool, ignores: Ignores) -> str:
    """Return the line of an ignore file that leaves `path` out; empty if none does."""
    for ignore in reversed(ignores):
        inside = ignore.folder if ignore.folder.endswith(os.sep) else ignore.folder + os.sep
        if path.startswith(inside):
            verdict = ignore.says(path, is_dir)
            if verdict is not None:
                return verdict[1] if verdict[0] else ""
    return ""


def _outside(top: str) -> list[Ignore]:
    """Return the user's ignore file, and that of the repository at `top` which is in no commit."""
    return [item for file in _files_outside(top) for item in _read(file, top)]


@cache
def _files_outside(top: str) -> tuple[str, ...]:
    from yellow_trellis.project.git import RevisionError

    own = os.path.join(os.environ.get("XDG_CONFIG_HOME") or "~/.config", "git", "ignore")
    common = os.path.join(top, ".git", "info", "exclude")
    try:
        repository = _repository(top)
        own = repository.ignore_file or own
        common = repository.exclude_file
    except RevisionError:  # what writes asks git again, and tells
        pass
    return os.path.expanduser(own), common


@cache
def _repository(top: str) -> Repository:
    """Return the repository at `top`. Errors: `RevisionError`."""
    from yellow_trellis.project.git import Repository  # who names files asks nothing of git

    return Repository(Path(top))


def _read(file: str, folder: str, flags: int = 0) -> list[Ignore]:
    try:
        handle = os.open(file, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | flags)
        with open(handle, "rb") as item:
            if not S_ISREG(os.fstat(handle).st_mode):  # a pipe would keep us waiting
                return []
            globs = Globs.read(item.read(_MOST))
            return [Ignore(folder, file, globs)] if globs else []
    except OSError:
        return []
