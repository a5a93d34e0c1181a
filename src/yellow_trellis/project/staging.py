"""The staging area of git: what the next commit holds, and how corrected texts get into it."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import NamedTuple

from yellow_trellis.project.git import RevisionError, Repository

EMPTY = "4b825dc642cb6eb9a060e54bf8d69288fbee4904"
"""The name of the empty tree, which a first commit is compared with."""

_MODES = frozenset({"100644", "100755"})
"""Modes of regular files: links and other repositories hold no code."""


class StagedFile(NamedTuple):
    """A file as the next commit has it."""

    path: str
    """Absolute, with links resolved."""
    mode: str
    data: bytes


def is_partial_commit() -> bool:
    """Return whether git makes a commit of some paths only, with a staging area for it alone.

    What is changed there is in the commit, and not in the usual staging area afterwards.
    """
    return "next-index" in os.path.basename(os.environ.get("GIT_INDEX_FILE", ""))


def staged_files(repository: Repository) -> list[StagedFile]:
    """Return the regular files that the next commit adds or changes. Errors: `RevisionError`."""
    words = ("diff-index", "--cached", "-z", "--no-renames", "--diff-filter=AM")
    try:
        message = repository.ask(*words, "HEAD", "--")
    except RevisionError:  # there is no commit yet
        message = repository.ask(*words, EMPTY, "--")
    return _files(repository, message)


def committed_files(repository: Repository, since: str, revision: str) -> list[StagedFile]:
    """Return the regular files that differ from `since` at `revision`, as they are there.

    Errors: `RevisionError`.
    """
    words = ("diff-tree", "-r", "-z", "--no-renames", "--diff-filter=AM", since, revision, "--")
    return _files(repository, repository.ask(*words))


def _files(repository: Repository, message: bytes) -> list[StagedFile]:
    """Return the files in a raw comparison of git: a line of modes and names, then the path."""
    fields = message.split(b"\0")
    rows = [
        (line.decode("ascii").split(), os.fsdecode(name))
        for line, name in zip(fields[::2], fields[1::2], strict=False)
        if line
    ]
    entries = [(row[1], row[3], name) for row, name in rows if row[1] in _MODES]
    texts = _blobs(repository, [blob for _, blob, _ in entries])
    return [
        StagedFile(str(repository.top / name), mode, texts[blob]) for mode, blob, name in entries
    ]


def _blobs(repository: Repository, names: list[str]) -> dict[str, bytes]:
    """Return the contents of blobs by their names."""
    if not names:
        return {}
    request = "".join(f"{name}\n" for name in dict.fromkeys(names)).encode("ascii")
    message = repository.ask("cat-file", "--batch", fed=request)
    texts: dict[str, bytes] = {}
    at = 0
    while at < len(message):
        end = message.index(b"\n", at)
        name, _, size = message[at:end].decode("ascii").split()
        texts[name] = message[end + 1 : end + 1 + int(size)]
        at = end + 2 + int(size)
    return texts


def unstaged(repository: Repository) -> frozenset[str]:
    """Return the files that may have changes which are not staged. Errors: `RevisionError`."""
    names = repository.ask("diff-files", "--name-only", "-z").split(b"\0")
    return frozenset(str(repository.top / os.fsdecode(name)) for name in names if name)


def stage(repository: Repository, files: Iterable[StagedFile]) -> None:
    """Let the next commit have files as they are given. Errors: `RevisionError`."""
    lines = b""
    for file in files:
        blob = repository.ask("hash-object", "-w", "--stdin", fed=file.data).strip()
        name = Path(file.path).relative_to(repository.top).as_posix()
        lines += b"%s %s\t%s\0" % (file.mode.encode("ascii"), blob, os.fsencode(name))
    if lines:
        repository.ask("update-index", "-z", "--index-info", fed=lines)


def merge(base: bytes, ours: bytes, theirs: bytes) -> bytes | None:
    """Return a text with the changes of two others to it; None where they meet.

    That is git's own merge of three texts, line by line.
    """
    import tempfile  # few commits have a file of which only a part is staged

    with tempfile.TemporaryDirectory(prefix="ytr-merge-") as folder:
        names = []
        for name, data in (("ours", ours), ("base", base), ("theirs", theirs)):
            names.append(os.path.join(folder, name))
            Path(names[-1]).write_bytes(data)
        done = subprocess.run(
            ["git", "merge-file", "-p", "-q", *names], capture_output=True, check=False
        )
    return done.stdout if done.returncode == 0 else None


def unlike_disk(files: Iterable[StagedFile]) -> Mapping[str, bytes]:
    """Return by path what files hold, of those that the working tree has otherwise."""
    return {file.path: file.data for file in files if _on_disk(file.path) != file.data}


def _on_disk(path: str) -> bytes | None:
    try:
        return Path(path).read_bytes()
    except OSError:
        return None
