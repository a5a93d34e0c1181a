"""Fixes of what is staged: in the next commit and in the working tree, or in neither.

A file that is staged as a whole gets the corrected text in both. One of which only a part is staged
gets it in the staging area, and its working text is merged with it; what is not staged stays so.
"""

from __future__ import annotations

import os
from pathlib import Path

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.project.git import RevisionError, Repository
from yellow_trellis.project.staging import (
    StagedFile,
    is_partial_commit,
    merge,
    stage,
    unstaged,
)
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.report_types import Change
from yellow_trellis.runs.transaction.undo import undo
from yellow_trellis.runs.transaction.write import write_changes
from yellow_trellis.source.diff import hunks_of, patch


class NotStagedError(TrellisError):
    """The reason why corrected texts were written nowhere."""


def fix_staged(repository: Repository, staged: list[StagedFile], done: Run) -> list[str]:
    """Write what a run made of staged texts to the staging area and the working tree.

    Arguments: `done` is a run over `staged`, each as the next commit has it. Returns the paths of
    the files that were written. Errors: `NotStagedError`, where nothing was written, and why.
    """
    fixed = {
        os.path.realpath(report.change.path): report.change
        for report in done.reports
        if report.change is not None
    }
    files = [file for file in staged if file.path in fixed]
    if not files:
        return []
    for file in files:
        if fixed[file.path].digest != digest_of(file.data):
            raise NotStagedError(f"{file.path}: it was changed while it was looked at: try again")
    if is_partial_commit():
        raise NotStagedError(
            "this commit takes only some paths, and git would leave the fixes out of what is "
            "staged afterwards: stage them, and commit without paths"
        )
    apart = unstaged(repository)
    changes = [
        change
        for file in files
        if (change := _in_tree(file, fixed[file.path], file.path in apart)) is not None
    ]
    hunks = (hunk for change in fixed.values() for hunk in change.hunks)
    rules = sorted({rule for hunk in hunks for rule in hunk.rules})
    report = write_changes(changes, repository.top, rules)
    try:
        if report.left:
            path, reason = report.left[0]
            raise NotStagedError(f"{path}: {reason}")
        stage(repository, [file._replace(data=fixed[file.path].raw) for file in files])
    except (NotStagedError, RevisionError) as error:
        if report.written:
            undo(repository.top)
        raise NotStagedError(str(error)) from None
    return [file.path for file in files]


def _in_tree(file: StagedFile, change: Change, is_apart: bool) -> Change | None:
    """Return the change of the file in the working tree; None if it is not there.

    Errors: `NotStagedError`, where that cannot be told.
    """
    try:
        now = Path(file.path).read_bytes()
    except FileNotFoundError:
        return None
    except OSError as error:
        raise NotStagedError(f"{file.path}: cannot be read: {error.strerror or error}") from None
    base, new = file.data, change.raw
    if b"\r\n" in now and b"\r\n" not in base:  # git gives a working tree such line ends
        base, new = (text.replace(b"\n", b"\r\n") for text in (base, new))
    if now == base:
        text = new
    elif not is_apart:
        raise NotStagedError(
            f"{file.path}: git filters it on its way, so it cannot be fixed in both"
        )
    else:
        joined = merge(base, now, new)
        if joined is None:
            raise NotStagedError(
                f"{file.path}: a fix meets lines that are changed and not staged: "
                "stage them, or set them aside"
            )
        text = joined
    hunks = hunks_of(now, text)
    diff = patch(file.path, now, text, hunks)
    return change._replace(
        path=file.path, digest=digest_of(now), raw=text, hunks=tuple(hunks), patch=diff
    )
