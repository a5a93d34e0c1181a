"""Discovery of the files of a run: those of its languages that version control does not ignore."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator, Mapping
from pathlib import Path
from typing import NamedTuple

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.cache.file_stat import Stamp
from yellow_trellis.project.file_language import language_at, language_finder
from yellow_trellis.project.ignore_files import (
    IGNORE,
    Ignores,
    ignored,
    ignores_above,
    ignores_of,
    tracked_but_ignored,
)
from yellow_trellis.project.locate import folder_around, project_of

SKIPPED = frozenset(
    {".git", ".hg", ".svn", ".yellow-trellis", "__pycache__", "node_modules", ".venv", ".tox"}
)
"""Folders that hold no code of the project's own."""


class MissingPathError(TrellisError, ValueError):
    """A path that was asked for and is not there."""


class SourceFile(NamedTuple):
    """A file to look at, with what it was like when it was found."""

    path: str
    language: str
    stamp: Stamp

    @property
    def size(self) -> int:
        """Its size in bytes."""
        return self.stamp.size


OnError = Callable[[str, str], None]
"""Told of a folder that cannot be read, and why."""


def discover(
    paths: Iterable[str | Path],
    languages: frozenset[str],
    on_error: OnError | None = None,
    endings: Mapping[str, str] | None = None,
) -> list[SourceFile]:
    """Return the files of `languages` under `paths`, sorted by path.

    Ignore files (`.gitignore`) count for files that git does not track: also those above the paths
    up to the repository's top, and those that git has for the user and for one clone.
    A file or folder that is named itself is taken even if ignored. Links are not followed, and
    repositories inside of another are left to themselves.
    Arguments: `endings` are those that a configuration gives to languages.
    Errors: `MissingPathError`.
    """
    table: dict[str, SourceFile] = {}
    for argument in map(str, paths):
        if os.path.isdir(argument):
            top = os.path.normpath(argument)
            for item in _walk(top, languages, on_error, endings):
                table[item.path] = item
            continue
        name = language_at(argument, endings)
        if os.path.isfile(argument) and name is None:
            raise MissingPathError(f"{argument}: this file is in no language that is read here")
        if not os.path.isfile(argument):
            there = os.path.exists(argument)
            why = (
                "this is neither a file nor a folder"
                if there
                else "there is no such file or folder"
            )
            raise MissingPathError(f"{argument}: {why}")
        if name in languages:
            path = os.path.normpath(argument)
            table[path] = SourceFile(path, name, Stamp.of(path) or Stamp())
    return [table[path] for path in sorted(table)]


def why_skipped(
    path: str, tops: Iterable[str | Path], endings: Mapping[str, str] | None = None
) -> str:
    """Return why `discover` does not find the file `path` under `tops`; empty if it does.

    Arguments: `endings` are those that a configuration gives to languages.
    """
    file = os.path.abspath(path)
    if any(os.path.abspath(top) == file for top in tops):
        return ""
    if language_at(file, endings) is None:
        return "it is in no language that is read here"
    if os.path.islink(file):
        return "it is a link, and links are not followed"
    message = "it lies in none of the paths that were asked for"
    for top in tops:
        whole = os.path.realpath(top)
        real = os.path.join(os.path.realpath(os.path.dirname(file)), os.path.basename(file))
        if real.startswith(whole + os.sep):
            message = _why_below(real, whole, ignores_above(str(top)))
            if not message:
                return ""
    return message


def _why_below(file: str, top: str, ignores: Ignores) -> str:
    folder, tracked = top, tracked_but_ignored(top)
    parts = file[len(top) + 1 :].split(os.sep)
    for at, part in enumerate(parts):
        ignores = (*ignores, *ignores_of(folder))
        folder = os.path.join(folder, part)
        is_dir = at < len(parts) - 1
        if is_dir and (why := why_left_out(part, folder)):
            return why
        if line := "" if file in tracked else ignored(folder, is_dir, ignores):
            return f"version control ignores it: {line}"
    return ""


def why_left_out(name: str, folder: str) -> str:
    """Return why nothing in a folder is looked at; empty if it is."""
    if name in SKIPPED:
        return f"it lies in a folder {name}, which holds no code of the project's own"
    if os.path.exists(os.path.join(folder, "pyvenv.cfg")):
        return f"it lies in the virtual environment {folder}"
    if os.path.exists(os.path.join(folder, ".git")):
        return f"it lies in {folder}, which is a repository of its own"
    return ""


def _walk(
    top: str,
    languages: frozenset[str],
    on_error: OnError | None,
    endings: Mapping[str, str] | None,
) -> Iterator[SourceFile]:
    """Yield the files of `languages` below `top`, folder by folder, any number deep."""
    real = os.path.realpath(top)
    tracked = tracked_but_ignored(real)
    language_in = language_finder(endings, languages)
    folders = [(top, real, ignores_above(top), False)]
    while folders:
        folder, absolute, ignores, is_ignored = folders.pop()
        try:
            with os.scandir(folder) as entries:
                listed = list(entries)
        except OSError as wrong:
            if on_error is not None:
                on_error(folder, f"this folder cannot be read: {wrong.strerror or wrong}")
            continue
        if any(entry.name == IGNORE for entry in listed):
            ignores = (*ignores, *ignores_of(absolute))
        before = "" if folder == "." else os.path.join(folder, "")
        above = os.path.join(absolute, "")
        for entry in listed:
            is_dir = entry.is_dir(follow_symlinks=False)
            name = None if is_dir else language_in(above, entry.name)
            if not is_dir and (name not in languages or entry.is_symlink()):
                continue
            whole, path = above + entry.name, before + entry.name
            leave = is_ignored or (bool(ignores) and bool(ignored(whole, is_dir, ignores)))
            if leave and whole not in tracked:
                continue
            if name is None:
                if not why_left_out(entry.name, whole):
                    folders.append((path, whole, ignores, leave))
            elif entry.is_file():
                try:
                    stamp = Stamp.read(entry.stat())
                except OSError:
                    stamp = Stamp()  # it is read, and told about, later
                yield SourceFile(path, name, stamp)


def root_of(paths: Iterable[str | Path]) -> Path:
    """Return the root of the code base that `paths` are in, wherever a command is started.

    That is the nearest folder around all of them that version control or a configuration marks,
    else the one that holds them.
    """
    return Path(project_of(folder_around(paths)))
