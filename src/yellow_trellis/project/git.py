"""Queries to git about the files of a run.

The configuration of a repository may name programs: for a hook, a pager, a filter, to compare files
or to watch them. None of them is run by a question; hooks are only where commits are asked for.
"""

from __future__ import annotations

import os
import subprocess
from collections.abc import Iterable, Sequence
from functools import cached_property
from pathlib import Path

from yellow_trellis.errors import TrellisError


class RevisionError(TrellisError, ValueError):
    """Version control was asked for something that it cannot tell, or do."""


class Repository:
    """The git repository that `folder` lies in. Paths are absolute, with links resolved."""

    def __init__(self, folder: Path) -> None:
        """Find the repository. Errors: `RevisionError`."""
        # from the folder with the `.git` on: another folder below it may be a repository as well,
        # without a working tree, with a configuration that came with the code
        self.top = top_of(folder) or folder
        message = self._git("rev-parse", "--show-toplevel").decode("utf-8", "surrogateescape")
        self.top = Path(message.removesuffix("\n")).resolve()

    @classmethod
    def around(cls, folder: Path) -> Repository | None:
        """Return the repository that `folder` lies in; None if there is none.

        Errors: `RevisionError`, where there is one and git cannot tell of it.
        """
        return cls(folder) if top_of(folder) is not None else None

    def base_of(self, revision: str) -> str:
        """Return the commit at which what is checked out parted from a revision.

        Arguments: `revision` may be ``A...B``, where B is what is checked out.
        Errors: `RevisionError`, for a revision that is not there, and where no such commit is.
        """
        revision, dots, tip = revision.partition("...")
        commit = self._checked(revision)
        if dots and tip and self._checked(tip) != self.head():
            raise RevisionError(
                f"{tip}: it is not what is checked out, and files are looked at as they are "
                f"in the working tree: `git switch {tip}` first"
            )
        try:
            return self._git("merge-base", commit, "HEAD").decode().strip()
        except RevisionError:
            reason = f"{revision} and what is checked out have no commit in common"
            if self._is_shallow():
                reason += " in this shallow clone: `git fetch --unshallow` brings the rest"
            raise RevisionError(reason) from None

    def changed_since(self, commit: str) -> dict[str, str]:
        """Return by path the files that differ from a commit, with the paths that they had.

        Files that are not known to git are among them.
        """
        names = self._changed(commit)
        new = self._git("ls-files", "--others", "--exclude-standard", "-z", "--full-name")
        return {**{path: path for path in self._paths(new)}, **names}

    def staged(self) -> dict[str, str]:
        """Return by path the files with staged changes, with the paths that they had."""
        return self._changed("--cached")

    def _changed(self, what: str) -> dict[str, str]:
        words = iter(self._git("diff", "--name-status", *_RENAMES, what, "--").split(b"\0"))
        names: dict[str, str] = {}
        for status in words:
            if not status:
                break
            earlier = path = self._absolute([next(words)])[0]
            if status.startswith(b"R"):
                (path,) = self._absolute([next(words)])
            if not status.startswith(b"D"):
                names[path] = earlier
        return names

    def tracked(self, path: str) -> list[str]:
        """Return the files that git tracks at a path, or below it."""
        name = os.path.relpath(path, self.top)
        return self._paths(self._git("ls-files", "-z", "--full-name", "--", f":(literal){name}"))

    def tracked_but_ignored(self) -> list[str]:
        """Return the files that git tracks although a pattern ignores them."""
        words = ("--cached", "--ignored", "--exclude-standard", "-z", "--full-name")
        return self._paths(self._git("ls-files", *words))

    def text(self, revision: str, path: str) -> bytes | None:
        """Return what a file held at `revision`; None if it was not there."""
        name = Path(path).relative_to(self.top).as_posix()
        try:
            return self._git("cat-file", "blob", f"{revision}:{name}")
        except RevisionError:
            return None

    def uncommitted(self, paths: Iterable[str]) -> list[str]:
        """Return those of `paths` that have changes, or are in no commit: new or ignored ones.

        Errors: `RevisionError`.
        """
        queries = {os.path.realpath(path): path for path in paths}
        message = self._git(
            *("status", "--porcelain", "-z", "--no-renames", "--untracked-files=no"),
            "--ignore-submodules=all",
        )
        entries = [entry[3:] for entry in message.split(b"\0") if entry]
        entry = frozenset(self._paths(self._git("ls-files", "-z", "--full-name")))
        changed = frozenset(self._absolute(entries)) | (queries.keys() - entry)
        return sorted(queries[whole] for whole in changed & queries.keys())

    def commit(self, paths: Sequence[str], message: str, author: str | None = None) -> str:
        """Commit just `paths`, as they are; return the short name of the commit.

        Arguments: `author` is whom it is by, ``Name <address>``; whom git knows if left out.
        Errors: `RevisionError`, with what git said: a hook may refuse.
        """
        names = "\0".join(os.path.realpath(path) for path in paths).encode(
            "utf-8", "surrogateescape"
        )
        arguments = ("--pathspec-from-file=-", "--pathspec-file-nul")
        by = ("--author", author) if author is not None else ()
        words = ("commit", "--quiet", "--message", message, *by, "--only", *arguments)
        self._run(*words, fed=names, asks=False)  # its hooks and filters are asked for with it
        return self._git("rev-parse", "--short", "HEAD").decode().strip()

    def head(self) -> str:
        """Return the commit that is checked out.

        Errors: `RevisionError`, where there is none yet.
        """
        return self._commit("HEAD")

    def _commit(self, revision: str) -> str:
        name = f"{revision}^{{commit}}"
        return self._git("rev-parse", "--verify", "--quiet", name).decode().strip()

    def ask(self, *words: str, fed: bytes | None = None, hooks: bool = False) -> bytes:
        """Return what git answers to a question, or does to its staging area.

        Arguments: `fed` goes to its standard input; with `hooks` it is told where hooks are.
        Errors: `RevisionError`, with what git said.
        """
        if hooks:
            return self._run(*words, fed=fed)
        return self._run(*_NO_HOOKS, *self._inert_for(words[0]), *words, fed=fed)

    @property
    def exclude_file(self) -> str:
        """The file with patterns of what is to be ignored in this clone only."""
        message = self._git("rev-parse", "--git-path", "info/exclude")
        return os.path.join(self.top, os.fsdecode(message.removesuffix(b"\n")))

    @property
    def ignore_file(self) -> str:
        """The file with patterns of what the user ignores everywhere; empty where none is named."""
        try:
            message = self._git("config", "--path", "--get", "core.excludesFile")
        except RevisionError:
            return ""
        return os.fsdecode(message.removesuffix(b"\n"))

    def _is_shallow(self) -> bool:
        return self._git("rev-parse", "--is-shallow-repository").strip() == b"true"

    def _checked(self, revision: str) -> str:
        """Return the commit that a revision names. Errors: `RevisionError`."""
        if not revision or revision.startswith("-"):
            raise RevisionError(f"{revision!r} is no revision")
        try:
            return self._commit(revision)
        except RevisionError:
            hint = "name a branch, a tag or a commit, for instance `main`"
            if self._is_shallow():
                refs = "+refs/heads/*:refs/remotes/origin/*"
                hint = (
                    f"this clone is shallow: `git fetch --unshallow origin '{refs}'` brings all "
                    "branches, by names such as `origin/main`"
                )
            raise RevisionError(
                f"git knows no revision {revision!r} in {self.top}: {hint}"
            ) from None

    def _paths(self, message: bytes) -> list[str]:
        return self._absolute([name for name in message.split(b"\0") if name])

    def _absolute(self, names: Iterable[bytes]) -> list[str]:
        return [str(self.top / os.fsdecode(name)) for name in names]

    def _git(self, *words: str) -> bytes:
        """Ask git a question; nothing that the repository names is run for it."""
        return self._run(*_NO_HOOKS, *self._inert_for(words[0]), *words)

    def _inert_for(self, word: str) -> tuple[str, ...]:
        """Return the options that keep a question from running programs of the configuration."""
        return self._inert if word in _COMPARING else ()

    @cached_property
    def _inert(self) -> tuple[str, ...]:
        return _without_filters(self._run("config", "--name-only", "-z", "--list"))

    def _run(self, *words: str, fed: bytes | None = None, asks: bool = True) -> bytes:
        try:
            done = subprocess.run(
                ["git", "-C", str(self.top), *_NO_PROGRAMS, *words],
                input=fed,
                stdin=subprocess.DEVNULL if fed is None else None,
                capture_output=True,
                check=False,
                env={**_environment(), **(_NO_FETCHING if asks else {})},
            )
        except OSError as wrong:
            raise RevisionError(f"git cannot be run ({wrong.strerror}): install it first") from None
        if done.returncode:
            error_text = done.stderr.decode(
                "utf-8", "replace"
            ).strip() or f"status {done.returncode}"
            word = next((word for word in words if word in _ASKED), words[0])
            raise RevisionError(f"git {word}: {error_text}")
        return done.stdout


_NO_PROGRAMS = (
    *("--no-pager", "--no-optional-locks", "-c", "core.quotepath=false"),
    *("-c", "core.fsmonitor=false", "-c", "core.untrackedCache=false"),
)
_RENAMES = ("-z", "-M", "--no-ext-diff", "--no-textconv", "--ignore-submodules=all")
_NO_HOOKS = ("-c", f"core.hooksPath={os.devnull}", "-c", "core.alternateRefsCommand=")
_NO_FETCHING = {"GIT_ALLOW_PROTOCOL": "none", "GIT_NO_LAZY_FETCH": "1", "GIT_TERMINAL_PROMPT": "0"}
"""What a clone lacks is not fetched for a question: the way to do that may be a program."""
_COMPARING = frozenset({"diff", "diff-files", "diff-index", "diff-tree", "status"})
"""Questions for which git may run filters over files."""
_ASKED = frozenset(
    {"cat-file", "commit", "config", "diff", "ls-files", "merge-base", "rev-parse", "status"}
)
_ELSEWHERE = (
    *("GIT_DIR", "GIT_WORK_TREE", "GIT_COMMON_DIR", "GIT_NAMESPACE", "GIT_EXTERNAL_DIFF"),
    *("GIT_OBJECT_DIRECTORY", "GIT_ALTERNATE_OBJECT_DIRECTORIES", "GIT_CEILING_DIRECTORIES"),
)
"""Variables that lead git to another repository than that of the folder, or to a program."""


def uncommitted_of(paths: Iterable[str]) -> list[str]:
    """Return those of `paths` that have changes, or are in no commit, whatever repository has them.

    A file in no repository is none of them. Errors: `RevisionError`, where one cannot tell.
    """
    by_top: dict[Path, list[str]] = {}
    tops: dict[str, Path | None] = {}
    for path in paths:
        folder = os.path.dirname(os.path.realpath(path))
        if folder not in tops:
            tops[folder] = top_of(Path(folder))
        top = tops[folder]
        if top is not None:
            by_top.setdefault(top, []).append(path)
    items = [item for top, some in by_top.items() for item in Repository(top).uncommitted(some)]
    return sorted(items)


def top_of(folder: Path) -> Path | None:
    """Return the folder around `folder`, or that itself, that holds a ``.git``; None without."""
    around = (folder, *folder.parents)
    return next((above for above in around if os.path.lexists(above / ".git")), None)


def _environment() -> dict[str, str]:
    return {name: value for name, value in os.environ.items() if name not in _ELSEWHERE}


def _without_filters(message: bytes) -> tuple[str, ...]:
    """Return the options that keep git from running the filters of its configuration.

    Arguments: `message` are the names in the configuration, each ended by a zero byte.
    """
    names = {os.fsdecode(name) for name in message.split(b"\0")}
    filters = {name.rpartition(".")[0] for name in names if name.startswith("filter.")}
    results: list[str] = []
    for name in sorted(filters):
        for key in ("clean=", "smudge=", "process=", "required=false"):
            results += ("-c", f"{name}.{key}")
    return tuple(results)
