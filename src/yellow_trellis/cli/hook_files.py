"""The files by which git calls us: written beside what people have there, taken out without it.

Our lines are known one by one, so that lines which people add around or between them stay.
"""

from __future__ import annotations

import os
import re
import shlex
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import NamedTuple

from yellow_trellis.cli.arguments import UsageError
from yellow_trellis.cli.console import shown_path
from yellow_trellis.project.git import RevisionError, Repository

PRE_COMMIT, PRE_MERGE, PRE_PUSH = HOOKS = ("pre-commit", "pre-merge-commit", "pre-push")
MARK = "# Written by `ytr hook install`; `ytr hook remove` takes it out."
KEPT = ".before-ytr"
"""What is put behind the name of a hook that was there before."""

_SHELL = "#!/bin/sh"
_APART = "-P" if sys.version_info >= (3, 11) else "-I"
"""The option of Python that keeps the current folder from what is imported."""

_OURS = re.compile(
    "|".join(
        (
            re.escape(MARK),
            r"python=.*",
            r'\[ -x "\$python" \] && ytr\(\) \{.*',
            rf'before="\$0{re.escape(KEPT)}"',
            r"said=\$\(cat\)",
            r"tell\(\) \{.*",
            r'\[ ! -x "\$before" \] \|\| (tell \| )?"\$before" "\$@" \|\| exit \$\?',
            r"(tell \| )?ytr hook run [\w-]+( --[\w-]+)*( \|\| exit \$\?)?",
        )
    )
)


class HookFile(NamedTuple):
    """The file of one hook, and the file that a hook which was there before is moved to."""

    hook: str
    path: Path

    @property
    def original(self) -> Path:
        """The file of the hook that was there before."""
        return self.path.with_name(self.path.name + KEPT)

    @property
    def is_ours(self) -> bool:
        """Return whether we have written to it."""
        return self.path.is_file() and MARK.encode() in self.path.read_bytes()

    @property
    def call(self) -> str:
        """The line by which it calls us."""
        lines = self.path.read_text("utf-8").splitlines()
        return next((line for line in lines if "ytr hook run" in line), "")

    def checked(self) -> HookFile:
        """Return it, if it can be installed. Errors: `UsageError`."""
        if self.path.exists() and not self.is_ours and self.original.exists():
            raise UsageError(f"{shown_path(str(self.original))}: it is in the way: move it first")
        return self

    def install(self, options: Iterable[str]) -> None:
        """Write our lines to it; what else is in it stays. Errors: `OSError`."""
        others: list[str] = []
        at = 1
        if self.is_ours:
            lines = self.path.read_text("utf-8").splitlines()
            at = next(number for number, line in enumerate(lines) if _OURS.fullmatch(line))
            others = [line for line in lines if not _OURS.fullmatch(line)]
        elif self.path.exists():
            self.path.rename(self.original)
        self.path.parent.mkdir(parents=True, exist_ok=True)
        result = [*(others[:at] or [_SHELL]), *_lines(self.hook, options), *others[at:]]
        self._write(result)

    def remove(self) -> bool:
        """Take our lines out; return whether lines of other people are left. Errors: `UsageError`.

        The hook that was there before is back then, if there was one.
        """
        if not self.is_ours:
            raise UsageError(f"{shown_path(str(self.path))}: there is no hook of ours")
        lines = self.path.read_text("utf-8").splitlines()
        others = [line for line in lines if not _OURS.fullmatch(line)]
        is_left = any(line.strip() and line != _SHELL for line in others)
        if is_left and self.original.exists():
            raise UsageError(
                f"{shown_path(str(self.path))}: lines that are not ours have been added to it: "
                f"move them to {shown_path(str(self.original))}, the hook that was there, first"
            )
        if is_left:
            self._write(others)
            return True
        self.path.unlink()
        if self.original.exists():
            self.original.rename(self.path)
        return False

    def _write(self, lines: list[str]) -> None:
        self.path.write_text("".join(f"{line}\n" for line in lines), "utf-8")
        self.path.chmod(0o755)


def hook_file(repository: Repository, hook: str) -> HookFile:
    """Return the file of a hook, wherever the configuration of git has them."""
    name = os.fsdecode(repository.ask("rev-parse", "--git-path", f"hooks/{hook}", hooks=True))
    return HookFile(hook, repository.top / name.removesuffix("\n"))


def foreign_folder(repository: Repository) -> str:
    """Return where a configuration sends hooks, and which; empty if they are in the repository's.

    Other repositories, or other people, may share such a folder.
    """
    words = ("config", "--show-origin", "--path", "--get", "core.hooksPath")
    try:
        answer = os.fsdecode(repository.ask(*words, hooks=True)).removesuffix("\n")
    except RevisionError:
        return ""
    own = os.fsdecode(repository.ask("rev-parse", "--git-common-dir")).removesuffix("\n")
    origin, _, folder = answer.partition("\t")
    places = (repository.top / folder, repository.top / own / "hooks")
    if len(set(map(os.path.realpath, places))) == 1:
        return ""
    return f"{folder}, says core.hooksPath in {origin.removeprefix('file:')}"


def _lines(hook: str, options: Iterable[str]) -> list[str]:
    """Return what git runs: the hook that was there, then ours.

    git describes a push on standard input, which both get.
    Python runs us apart from the folder that the hook runs in, whose files are not to be imported.
    """
    words = " ".join(("hook", "run", hook, *options))
    is_told = hook == PRE_PUSH
    return [
        MARK,
        f"python={shlex.quote(sys.executable)}",
        f'[ -x "$python" ] && ytr() {{ "$python" {_APART} -m yellow_trellis "$@"; }}',
        f'before="$0{KEPT}"',
        *(["said=$(cat)", "tell() { printf '%s\\n' \"$said\"; }"] if is_told else []),
        f'[ ! -x "$before" ] || {"tell | " if is_told else ""}"$before" "$@" || exit $?',
        f'{"tell | " if is_told else ""}ytr {words} || exit $?',
    ]
