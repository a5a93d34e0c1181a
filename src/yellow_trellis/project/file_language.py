"""The language of a file: by what a configuration says, its ending, or what it says itself."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Mapping

from yellow_trellis.languages import language_of
from yellow_trellis.languages.c_headers import is_cpp
from yellow_trellis.project.file_options import LARGEST

_FIRST_LINE = re.compile(
    rb"#![ \t]*(?:\S*/env[ \t]+(?:-\S+[ \t]+)*)?(?:\S*/)?(?P<name>[A-Za-z-]+)[\d.]*(?=\s|\Z)"
)
_PROGRAMS = {
    b"bun": "javascript", b"deno": "typescript", b"instantfpc": "pascal", b"node": "javascript",
    b"nodejs": "javascript", b"php": "php", b"pypy": "python", b"python": "python",
    b"ruby": "ruby", b"swift": "swift", b"ts-node": "typescript",
}
"""By program that a first line names: the language that it runs."""
_HEAD = 200
HEADER = ".h"
_WITH_HEADERS = frozenset({"c", "cpp"})


def language_at(
    path: str,
    endings: Mapping[str, str] | None = None,
    among: frozenset[str] | None = None,
) -> str | None:
    """Return the language of the file at `path`; None when it is in none of ours.

    A file without an ending is told by a first line such as ``#!/usr/bin/env node``, and a header
    ``.h`` is in C++ where it says what only that can read.
    Arguments: `endings` are those that a configuration gives to languages: they go first; `among`
    are the only languages that matter, if not all do.
    """
    suffix = os.path.splitext(path)[1].lower()
    if endings and suffix in endings:
        return endings[suffix]
    if suffix == HEADER and (among is None or not among.isdisjoint(_WITH_HEADERS)):
        return _of_header(path)
    name = language_of(path, among)
    return _by_first_line(path) if name is None and not suffix else name


def language_finder(
    endings: Mapping[str, str] | None, among: frozenset[str]
) -> Callable[[str, str], str | None]:
    """Return a function for many files that gives what `language_at` does.

    It takes the folder of a file, with a separator behind it, and the name. An ending is looked up
    once.
    """
    by_suffix: dict[str, str | None] = {}

    def find(folder: str, name: str) -> str | None:
        suffix = os.path.splitext(name)[1]
        if not suffix or suffix == HEADER:
            return language_at(folder + name, endings, among)
        if suffix not in by_suffix:
            by_suffix[suffix] = language_at(name, endings, among)
        return by_suffix[suffix]

    return find


def _of_header(path: str) -> str:
    return "cpp" if is_cpp(_start_of(path, LARGEST)) else "c"


def _start_of(path: str, size: int) -> bytes:
    """Return the first bytes of a file; none of one that cannot be read."""
    if not os.path.isfile(path):  # a pipe would wait for somebody to write
        return b""
    try:
        with open(path, "rb") as file:
            return file.read(size)
    except OSError:
        return b""


def _by_first_line(path: str) -> str | None:
    match = _FIRST_LINE.match(_start_of(path, _HEAD))
    return _PROGRAMS.get(match["name"]) if match is not None else None
