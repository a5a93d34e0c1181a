"""Patterns as in ignore files, held against paths; the library for it is loaded when one is."""

from __future__ import annotations

import os
from functools import cache

TYPE_CHECKING = False  # that of `typing` takes as long to import as all of Python
if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec


@cache
def compiled(patterns: tuple[str, ...]) -> GitIgnoreSpec:
    """Return the matcher of `patterns`, the lines of an ignore file."""
    from pathspec import GitIgnoreSpec

    return GitIgnoreSpec.from_lines(patterns)


def fits(path: str, folder: str, patterns: tuple[str, ...]) -> bool:
    """Return whether `patterns`, written in `folder`, fit the file at `path`."""
    name = os.path.relpath(os.path.abspath(path), folder).replace(os.sep, "/")
    return bool(compiled(patterns).match_file(name))
