"""What version control knows of the files of a run: asked of git, which does the work."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Iterable, Sequence
from pathlib import Path

from yellow_trellis.mistake import Mistake


class NoRevision(Mistake, ValueError):
    """Version control was asked for something that it cannot tell, or do."""


class Repository:
    """The git repository that `folder` lies in. Paths are absolute, with links resolved."""

    def __init__(self, folder: Path) -> None:
        """Find the repository. Errors: `NoRevision`."""
        self.top = folder
        told = self._git("rev-parse", "--show-toplevel").decode("utf-8", "surrogateescape")
        self.top = Path(told.removesuffix("\n")).resolve()

    @classmethod
    def around(cls, folder: Path) -> Repository | None:
        """Return the repository that `folder` lies in; None if there is none, or no git."""
        if not any((above / ".git").exists() for above in (folder, *folder.parents)):
            return None
        try:
            return cls(folder)
        except NoRevision:
            return None

    def changed_since(self, revision: str) -> frozenset[str]:
        """Return the files that differ from `revision`, and those that are not known to git.

        Errors: `NoRevision`, for a revision that does not exist.
        """
        self._checked(revision)
        known = self._git("diff", "--name-only", "-z", "--no-renames", revision, "--")
        new = self._git("ls-files", "--others", "--exclude-standard", "-z", "--full-name")
        return frozenset(self._paths(known)) | frozenset(self._paths(new))

    def staged(self) -> frozenset[str]:
        """Return the files whose changes are staged for the next commit."""
        return frozenset(self._paths(self._git("diff", "--cached", "--name-only", "-z", "--")))

    def tracked(self, path: str) -> list[str]:
        """Return the files that git tracks at a path, or below it."""
        name = os.path.relpath(path, self.top)
        return self._paths(self._git("ls-files", "-z", "--full-name", "--", f":(literal){name}"))

    def text(self, revision: str, path: str) -> bytes | None:
        """Return what a file held at `revision`; None if it was not there."""
        name = Path(path).relative_to(self.top).as_posix()
        try:
            return self._git("cat-file", "blob", f"{revision}:{name}")
        except NoRevision:
            return None

    def uncommitted(self, paths: Iterable[str]) -> list[str]:
        """Return those of `paths` that have changes, or are new, and are in no commit."""
        asked = {os.path.realpath(path): path for path in paths}
        told = self._git("status", "--porcelain", "-z", "--no-renames", "--untracked-files=all")
        entries = [entry[3:] for entry in told.split(b"\0") if entry]
        return sorted(asked[whole] for whole in self._named(entries) if whole in asked)

    def commit(self, paths: Sequence[str], message: str) -> str:
        """Commit just `paths`, as they are; return the short name of the commit.

        Errors: `NoRevision`, with what git said: a hook may refuse.
        """
        names = "\0".join(os.path.realpath(path) for path in paths).encode(
            "utf-8", "surrogateescape"
        )
        given = ("--pathspec-from-file=-", "--pathspec-file-nul")
        self._git("commit", "--quiet", "--message", message, "--only", *given, fed=names)
        return self._git("rev-parse", "--short", "HEAD").decode().strip()

    def head(self) -> str:
        """Return the commit that is checked out. Errors: `NoRevision`, where there is none yet."""
        return self._git("rev-parse", "--verify", "--quiet", "HEAD").decode().strip()

    def _checked(self, revision: str) -> None:
        if revision.startswith("-"):
            raise NoRevision(f"{revision!r} is no revision")
        try:
            self._git("rev-parse", "--verify", "--quiet", f"{revision}^{{commit}}")
        except NoRevision:
            raise NoRevision(
                f"git knows no revision {revision!r} in {self.top}: "
                "name a branch, a tag or a commit, for instance `main`"
            ) from None

    def _paths(self, told: bytes) -> list[str]:
        return self._named([name for name in told.split(b"\0") if name])

    def _named(self, names: Iterable[bytes]) -> list[str]:
        return [str(self.top / os.fsdecode(name)) for name in names]

    def _git(self, *words: str, fed: bytes | None = None) -> bytes:
        try:
            done = subprocess.run(
                ["git", "-C", str(self.top), "-c", "core.quotepath=false", *words],
                input=fed,
                capture_output=True,
                check=False,
            )
        except OSError as wrong:
            raise NoRevision(f"git cannot be run ({wrong.strerror}): install it first") from None
        if done.returncode:
            said = done.stderr.decode("utf-8", "replace").strip() or f"status {done.returncode}"
            raise NoRevision(f"git {words[0]}: {said}")
        return done.stdout
