"""The files of a working tree as they were where its branch parted from a revision.

What others did to the revision since then is not taken for a change of this branch, and a file that
git knows to be renamed is the same file.
"""

from __future__ import annotations

import os
from collections.abc import Mapping
from pathlib import Path
from typing import NamedTuple

from yellow_trellis.project.file_options import FileFilter
from yellow_trellis.project.git import Repository


class EarlierFiles(NamedTuple):
    """The state that changes are counted from. Paths are absolute, with links resolved."""

    repository: Repository
    commit: str
    names: Mapping[str, str]
    """By path of a file that has changed or is new: the path that it had."""

    def text(self, path: str) -> bytes | None:
        """Return what a file held; None if it was not there."""
        path = os.path.realpath(path)
        return self.repository.text(self.commit, self.names.get(path, path))


def earlier_files(root: Path, file_filter: FileFilter) -> EarlierFiles | None:
    """Return the state that a choice of files counts changes from; None if it counts none.

    Errors: `RevisionError`.
    """
    if file_filter.staged:
        repository = Repository(root)
        return EarlierFiles(repository, "HEAD", repository.staged())
    if file_filter.since is None:
        return None
    repository = Repository(root)
    commit = repository.base_of(file_filter.since)
    return EarlierFiles(repository, commit, repository.changed_since(commit))
