"""Filters for discovered files: changed ones, an owner's, none too large."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Iterable
from pathlib import Path

from yellow_trellis.ignore_patterns import fits
from yellow_trellis.project.codeowners import Owners
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.project.file_options import FileFilter, SkippedFile


def narrowed(
    files: Iterable[SourceFile], file_filter: FileFilter, root: Path
) -> tuple[list[SourceFile], list[SkippedFile]]:
    """Return those of `files` that `file_filter` leaves, and those it does not.

    Errors: `RevisionError`, `CodeOwnersError`.
    """
    reasons = _reasons(file_filter, root)
    source_files: list[SourceFile] = []
    skipped_files: list[SkippedFile] = []
    for file in files:
        for why in reasons:
            if reason := why(file):
                skipped_files.append(SkippedFile(file.path, reason))
                break
        else:
            source_files.append(file)
    return source_files, skipped_files


def _reasons(file_filter: FileFilter, root: Path) -> list[Callable[[SourceFile], str]]:
    """Return what gives the reason to leave a file; empty to look at it."""
    results: list[Callable[[SourceFile], str]] = []
    if file_filter.skip:
        folder = os.path.dirname(file_filter.skip_from)
        by = f"skipped, says {os.path.basename(file_filter.skip_from)}"
        results.append(lambda file: by if fits(file.path, folder, file_filter.skip) else "")
    if file_filter.also_skip:
        also, here = file_filter.also_skip, os.getcwd()
        results.append(lambda file: "skipped, says --skip" if fits(file.path, here, also) else "")
    if file_filter.base is not None:
        from yellow_trellis.project.earlier_files import earlier_files

        earlier = earlier_files(root, file_filter)
        changed = earlier.names if earlier is not None else {}
        why = f"not changed since {file_filter.since}"
        why = "no staged changes" if file_filter.staged else why
        results.append(lambda file: "" if os.path.realpath(file.path) in changed else why)
    if file_filter.owner is not None:
        owners = Owners(root)
        target = owners.checked(file_filter.owner)
        results.append(
            lambda file: (
                ""
                if target in owners.of(file.path)
                else f"not owned by {target}, says {owners.file.name}"
            )
        )
    large = f"larger than {file_filter.largest:,} bytes"
    results.append(lambda file: large if file.size > file_filter.largest else "")
    return results


_HEAD = 1024
_MARK = re.compile(
    rb"@generated\b|\bdo not edit\b.{0,200}\bgenerated\b|\bgenerated\b.{0,200}\bdo not edit\b",
    re.IGNORECASE | re.DOTALL,
)


def generated(raw: bytes) -> bool:
    """Return whether a file says at its start, in a comment, that a program has written it."""
    head = raw[:_HEAD]
    mark = _MARK.search(head) if b"generated" in head.lower() else None
    if mark is None:
        return False
    line = raw.rfind(b"\n", 0, mark.start()) + 1
    return raw[line : mark.start()].lstrip().startswith((b"#", b"//", b"/*", b"*"))


GENERATED = "generated, by its own words"
