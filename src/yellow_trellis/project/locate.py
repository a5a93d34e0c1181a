"""Locations of a configuration, so that nothing is loaded to read it where there is none."""

from __future__ import annotations

import re
from os.path import dirname, exists, isfile, join

OWN, SHARED = "trellis.toml", "pyproject.toml"
TOOL = "yellow-trellis"
HEADER = rb"(?m)^\s*\[+\s*tool\s*\.\s*[\"']?yellow-trellis\b"
"""What a table for this tool starts with, as a regular expression."""


_REPOSITORIES = (".git", ".hg", ".svn")


def project_of(folder: str) -> str:
    """Return the nearest folder around `folder` that version control or a configuration marks.

    That is `folder` itself where nothing does.
    """
    above = folder
    while True:
        if any(exists(join(above, name)) for name in _REPOSITORIES) or _has_own(above):
            return above
        if dirname(above) == above:
            return folder
        above = dirname(above)


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
