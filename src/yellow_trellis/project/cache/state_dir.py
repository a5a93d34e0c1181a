"""The folder that the library keeps for itself beside the code.

Its files are read as hostile: a repository may hold such a folder, made by whoever wrote it. So one
that is a link, that version control tracks, or that belongs to another user is not used at all.
"""

from __future__ import annotations

import os
from functools import lru_cache
from pathlib import Path
from stat import S_IMODE, S_ISDIR

from yellow_trellis.project.safe_paths import UnsafePathError

HOME = ".yellow-trellis"

MARK = "writing"
"""The file in it that names a run which has begun to write and not ended."""


def private_folder(root: Path) -> Path:
    """Return the folder for what the library keeps under `root`, which version control ignores.

    Errors: `OSError`; of that `UnsafePathError`, where there is one that is not ours, see
    `fault_of`.
    """
    if fault := fault_of(root):
        raise UnsafePathError(fault)
    folder = root / HOME
    folder.mkdir(mode=0o700, exist_ok=True)
    _make_private(folder)
    ignore = folder / ".gitignore"
    if not os.path.lexists(ignore):
        with ignore.open("x", encoding="utf-8") as file:
            file.write("*\n")
    return folder


def _make_private(folder: Path) -> None:
    """Let nobody but its owner into a folder: it holds texts of files that only they may read."""
    if not hasattr(os, "fchmod"):
        return
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW)
    try:
        if S_IMODE(os.fstat(handle).st_mode) & 0o077:
            os.fchmod(handle, 0o700)
    finally:
        os.close(handle)


def fault_of(root: Path) -> str:
    """Return why the folder under `root` must not be used, with the way out; empty if it may."""
    folder = root / HOME
    try:
        status = os.lstat(folder)
    except OSError:
        return ""  # there is none yet
    if not S_ISDIR(status.st_mode):
        return f"{folder} is a link, or no folder: take it away"
    if hasattr(os, "geteuid") and status.st_uid != os.geteuid():
        return f"{folder} belongs to another user: take it away, or run as that user"
    if _is_tracked(root):
        way_out = f"`git rm -r --cached {HOME}`, and remove it"
        return f"{folder} is tracked by git, so others may have written it: {way_out}"
    return ""


@lru_cache(maxsize=16)
def _is_tracked(root: Path) -> bool:
    """Return whether version control tracks what lies in the folder.

    Its index names each file; git is asked only where that has the name at all.
    """
    from yellow_trellis.project.git import RevisionError, Repository, top_of

    top = top_of(root)
    if top is None:
        return False
    folder = top / ".git"
    try:
        if folder.is_file():  # of a worktree, or of a submodule
            folder = top / folder.read_text("utf-8").removeprefix("gitdir:").strip()
        if HOME.removeprefix(".").encode() not in (folder / "index").read_bytes():
            return False
    except (OSError, ValueError):
        return False  # nothing was checked out by it
    try:
        return bool(Repository(root).tracked(str(root / HOME)))
    except RevisionError:
        return True
