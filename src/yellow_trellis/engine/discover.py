"""Which files a run looks at: those of its languages that version control does not ignore."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path

import pathspec

from yellow_trellis.languages import language_of

SKIPPED = frozenset(
    {".git", ".hg", ".svn", ".yellow-trellis", "__pycache__", "node_modules", ".venv", ".tox"}
)
"""Folders that hold no code of the project's own."""


class MissingPath(ValueError):
    """A path that was asked for and is not there."""


@dataclass(frozen=True, slots=True)
class Found:
    """A file to look at. `size` is in bytes."""

    path: str
    language: str
    size: int


@dataclass(frozen=True, slots=True)
class _Ignore:
    """One ignore file: the folder it speaks for, and its lines."""

    folder: Path
    spec: pathspec.GitIgnoreSpec

    def says(self, path: Path, is_dir: bool) -> bool | None:
        name = path.relative_to(self.folder).as_posix() + ("/" if is_dir else "")
        return self.spec.check_file(name).include


def discover(paths: Iterable[str | Path], languages: frozenset[str]) -> list[Found]:
    """Return the files of `languages` under `paths`, sorted by path.

    Ignore files (`.gitignore`) count, also those above the paths up to the repository's top.
    A file or folder that is named itself is taken even if ignored. Links are not followed.
    Errors: `MissingPath`.
    """
    found: dict[str, Found] = {}
    for given in paths:
        path = Path(given)
        if path.is_dir():
            files: Iterator[Path] = _walk(path, _ignores_above(path))
        elif path.is_file():
            files = iter((path,))
            if language_of(path.name) is None:
                raise MissingPath(f"{path}: this file is in no language that is read here")
        elif path.exists():
            raise MissingPath(f"{path}: this is neither a file nor a folder")
        else:
            raise MissingPath(f"{path}: there is no such file or folder")
        for file in files:
            name = language_of(file.name)
            if name in languages:
                found[os.path.normpath(file)] = Found(os.path.normpath(file), name, _size(file))
    return sorted(found.values(), key=lambda f: f.path)


def _size(path: Path) -> int:
    try:
        return path.stat().st_size
    except OSError:
        return 0  # it is read, and told about, later


def _ignores_above(path: Path) -> tuple[_Ignore, ...]:
    found: list[_Ignore] = []
    absolute = path.resolve()
    if (absolute / ".git").exists():
        return ()
    for above in absolute.parents:
        found += _ignore_of(above)
        if (above / ".git").exists():
            ignores = tuple(reversed(found))
            inside = (p for p in (absolute, *absolute.parents) if p.is_relative_to(above))
            named_anyway = any(_ignored(p, True, ignores) for p in inside if p != above)
            return () if named_anyway else ignores
    return ()


def _ignore_of(folder: Path) -> list[_Ignore]:
    file = folder / ".gitignore"
    try:
        lines = file.read_text("utf-8", "replace").splitlines()
    except OSError:
        return []
    return [_Ignore(folder, pathspec.GitIgnoreSpec.from_lines(lines))]


def _walk(folder: Path, ignores: tuple[_Ignore, ...]) -> Iterator[Path]:
    absolute = folder.resolve()
    ignores = (*ignores, *_ignore_of(absolute))
    try:
        entries = sorted(os.scandir(folder), key=lambda e: e.name)
    except OSError:
        return
    for entry in entries:
        is_dir = entry.is_dir(follow_symlinks=False)
        if not is_dir and (language_of(entry.name) is None or not entry.is_file()):
            continue
        if entry.is_symlink() or _ignored(absolute / entry.name, is_dir, ignores):
            continue
        path = folder / entry.name
        if not is_dir:
            yield path
        elif entry.name not in SKIPPED and not (path / "pyvenv.cfg").exists():
            yield from _walk(path, ignores)


def _ignored(path: Path, is_dir: bool, ignores: tuple[_Ignore, ...]) -> bool:
    for ignore in reversed(ignores):
        if not path.is_relative_to(ignore.folder):
            continue
        said = ignore.says(path, is_dir)
        if said is not None:
            return said
    return False


def common_root(paths: Iterable[str | Path]) -> Path:
    """Return the folder a run is rooted in: the current one, or the one that holds all `paths`."""
    here = Path.cwd().resolve()
    given = [Path(path).resolve() for path in paths] or [here]
    if all(path.is_relative_to(here) for path in given):
        return here
    root = Path(os.path.commonpath(given))
    return root if root.is_dir() else root.parent
