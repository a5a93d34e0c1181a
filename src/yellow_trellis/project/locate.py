"""Locations of a configuration, so that nothing is loaded to read it where there is none."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable
from os.path import dirname, exists, isfile, join

OWN, SHARED = "trellis.toml", "pyproject.toml"
TOOL = "yellow-trellis"
HEADER = rb"(?m)^\s*\[+\s*tool\s*\.\s*[\"']?yellow-trellis\b"
"""What a table for this tool starts with, as a regular expression."""


_REPOSITORIES = (".git", ".hg", ".svn")
_MANIFESTS = (
    SHARED, "setup.py", "setup.cfg", "package.json", "go.mod", "Cargo.toml", "composer.json",
    "pom.xml", "build.gradle", "Gemfile", "Package.swift", "CMakeLists.txt",
)
"""What stands at the top of a project of some language."""


def folder_around(paths: Iterable[str | os.PathLike[str]]) -> str:
    """Return the real folder that holds all `paths`, one of them if it is that folder itself.

    It is the current one where there are none.
    """
    places = [os.path.realpath(path) for path in paths] or [os.path.realpath(os.getcwd())]
    folder = os.path.commonpath(places)
    while not os.path.isdir(folder) and dirname(folder) != folder:
        folder = dirname(folder)
    return folder


def project_of(folder: str) -> str:
    """Return the nearest folder around `folder` that version control or a configuration marks.

    Where none does, it is the nearest with a manifest of a project, else the one that holds the
    Python package that `folder` is in, else `folder` itself.
    """
    folders = [folder]
    while dirname(folders[-1]) != folders[-1]:
        folders.append(dirname(folders[-1]))
    for above in folders:
        if any(exists(join(above, name)) for name in _REPOSITORIES) or _has_own(above):
            return above
    for above in folders:
        if any(isfile(join(above, name)) for name in _MANIFESTS):
            return above
    return next(above for above in folders if not isfile(join(above, "__init__.py")))


def _has_own(folder: str) -> bool:
    if isfile(join(folder, OWN)):
        return True
    common = join(folder, SHARED)
    if not isfile(common):
        return False
    with open(common, "rb") as file:
        return re.search(HEADER, file.read()) is not None


def is_configured(folder: str) -> bool:
    """Return whether a configuration may hold in `folder`; a False is certain."""
    while True:
        if _has_own(folder):
            return True
        above = dirname(folder)
        if above == folder or exists(join(folder, ".git")):
            return False
        folder = above
