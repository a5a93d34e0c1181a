"""Owners of files, read from the owners file that code hosts read."""

from __future__ import annotations

import os
from pathlib import Path

from yellow_trellis.errors import TrellisError
from yellow_trellis.ignore_patterns import fits

PLACES = ("CODEOWNERS", ".github/CODEOWNERS", ".gitlab/CODEOWNERS", "docs/CODEOWNERS")


class CodeOwnersError(TrellisError, ValueError):
    """Owners were asked for, and no file tells them, or none has that name."""


class Owners:
    """The lines of a file of owners: a pattern as in ignore files, then names. The last wins."""

    def __init__(self, root: Path) -> None:
        """Read the owners of the code under `root`, or of a folder above.

        Errors: `CodeOwnersError`.
        """
        for top in (root, *root.parents):
            files = [top / place for place in PLACES if (top / place).is_file()]
            if files:
                break
        else:
            raise CodeOwnersError(f"{root}: no file tells owners; looked for {', '.join(PLACES)}")
        self.file = files[0]
        self._top = str(top)
        self._lines: list[tuple[str, frozenset[str]]] = []
        for line in self.file.read_text("utf-8", "replace").splitlines():
            words = line.split("#", 1)[0].split()
            if words and not words[0].startswith(("[", "^[")):
                self._lines.append((words[0], frozenset(words[1:])))
        self._lines.reverse()

    def of(self, path: str) -> frozenset[str]:
        """Return the owners of a file."""
        real = os.path.realpath(path)
        for pattern, names in self._lines:
            if fits(real, self._top, (pattern,)):
                return names
        return frozenset()

    def checked(self, owner: str) -> str:
        """Return `owner` as the file writes it.

        Errors: `CodeOwnersError`, with the names there are.
        """
        every = sorted({name for _, names in self._lines for name in names})
        for name in (owner, f"@{owner}"):
            if name in every:
                return name
        raise CodeOwnersError(
            f"{self.file}: nobody is called {owner!r}; there are {', '.join(every)}"
        )
