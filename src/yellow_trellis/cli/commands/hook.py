"""`ytr hook`: git's own hooks that look at what is committed or pushed."""

from __future__ import annotations

import os
import shlex
import sys
from collections.abc import Iterable
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option
from yellow_trellis.cli.console import ASK, DIM, GOOD, console, counted, notes
from yellow_trellis.cli.console import shown_path, tell_problems
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.gate_options import HELD, GateOptions, OwnFile, gate_here
from yellow_trellis.cli.options import RULES, RuleChoice, LookOptions, settings_here
from yellow_trellis.cli.output import styled
from yellow_trellis.cli.reworking import rework_shown
from yellow_trellis.cli.survey_view import show_survey
from yellow_trellis.cli.surveying import survey_report
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.git import RevisionError, Repository
from yellow_trellis.project.staging import (
    StagedFile,
    committed_files,
    staged_files,
    unlike_disk,
)
from yellow_trellis.runs.configured import configured_filter
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.run_options import RunOptions

ACTIONS = ("install", "remove", "show", "run")
HOOKS = ("pre-commit", "pre-push")
MARK = "# Written by `ytr hook install`; `ytr hook remove` takes it out."
KEPT = ".before-ytr"
"""What is put behind the name of a hook that was there before."""

_APART = "-P" if sys.version_info >= (3, 11) else "-I"
"""The option of Python that keeps the current folder from what is imported."""

_NOTHING = "0" * 40
"""What git says for a revision that is not there."""

EXAMPLE = "ytr hook install --fix    ytr hook run pre-commit"
TAKES: Takes = (
    option("action", metavar="ACTION", choices=ACTIONS, help=f"One of {', '.join(ACTIONS)}."),
    option(
        "hook",
        metavar="HOOK",
        nargs="?",
        choices=HOOKS,
        default=HOOKS[0],
        help=f"One of {', '.join(HOOKS)}.",
    ),
    flag("--fix", help="Before a commit, apply the safe fixes to what is staged."),
    RULES,
    HELD,
)


def command(
    action: str, hook: str, fix: bool, choice: RuleChoice, gate_options: GateOptions
) -> None:
    """Install, remove, show or run a hook of git that looks at what is committed or pushed.

    It looks at staged or committed text, not at the working tree. With `--fix` the safe fixes go
    into the commit and the working tree, and lines that are not staged stay so; where that cannot
    be, nothing is fixed and it is said why. A hook that is there already is kept and runs first.
    """
    repository = Repository(Path.cwd())
    if action == "run":
        _run(repository, hook, fix, choice, gate_options)
        return
    if choice != RuleChoice() or gate_options != gate_here():
        raise UsageError(
            "an installed hook takes rules and levels from the configuration: options for them go "
            "with `ytr hook run`"
        )
    if fix and hook != "pre-commit":
        raise UsageError("--fix is for pre-commit: what is pushed is committed already")
    file = _file(repository, hook)
    if action == "install":
        _install(file, hook, fix)
    elif action == "remove":
        _remove(file)
    else:
        _show(repository)


# ------------------------------------------------------------------ files of hooks


def _file(repository: Repository, hook: str) -> Path:
    """Return the file of a hook, wherever the configuration of git has them."""
    name = os.fsdecode(repository.ask("rev-parse", "--git-path", f"hooks/{hook}", hooks=True))
    return repository.top / name.removesuffix("\n")


def _is_ours(file: Path) -> bool:
    return file.is_file() and MARK.encode() in file.read_bytes()


def _install(file: Path, hook: str, fix: bool) -> None:
    original = file.with_name(file.name + KEPT)
    if file.exists() and not _is_ours(file):
        if original.exists():
            raise UsageError(f"{original}: it is in the way: move it first")
        file.rename(original)
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(_script(hook, fix), "utf-8")
    file.chmod(0o755)
    out = console()
    out.print(styled((f"Installed {hook}", GOOD), f": {shown_path(str(file))}"))
    if original.exists():
        out.print(f"The hook that was there runs first: {shown_path(str(original))}.")
    if not settings_here().rules:
        out.print("No rules are configured here yet: `ytr init` does that.")


def _script(hook: str, fix: bool) -> str:
    """Return what git runs: the hook that was there, then ours.

    git describes a push on standard input, which both get.
    Python runs us apart from the folder that the hook runs in, whose files are not to be imported.
    """
    words = f"hook run {hook}" + (" --fix" if fix else "")
    is_told = hook == "pre-push"
    lines = [
        "#!/bin/sh",
        MARK,
        f"python={shlex.quote(sys.executable)}",
        f'[ -x "$python" ] && ytr() {{ "$python" {_APART} -m yellow_trellis "$@"; }}',
        f'before="$0{KEPT}"',
        *(["said=$(cat)", "tell() { printf '%s\\n' \"$said\"; }"] if is_told else []),
        f'[ ! -x "$before" ] || {"tell | " if is_told else ""}"$before" "$@" || exit $?',
        f'{"tell | " if is_told else ""}ytr {words}',
    ]
    return "".join(f"{line}\n" for line in lines)


def _remove(file: Path) -> None:
    if not _is_ours(file):
        raise UsageError(f"{shown_path(str(file))}: there is no hook of ours")
    file.unlink()
    original = file.with_name(file.name + KEPT)
    if original.exists():
        original.rename(file)
        console().print(f"Removed; the hook that was there is back: {shown_path(str(file))}.")
    else:
        console().print(f"Removed {shown_path(str(file))}.")


def _show(repository: Repository) -> None:
    out = console()
    for hook in HOOKS:
        file = _file(repository, hook)
        if _is_ours(file):
            fixes = ", applies safe fixes" if "--fix" in file.read_text("utf-8") else ""
            before = file.with_name(file.name + KEPT).exists()
            text = f"installed{fixes}" + (", behind the hook that was there" if before else "")
        else:
            text = "another hook is there" if file.exists() else "not installed"
        out.print(f"{hook:<11} {text}")


# ------------------------------------------------------------------ what a hook does


def _run(
    repository: Repository, hook: str, fix: bool, choice: RuleChoice, gate_options: GateOptions
) -> None:
    spec = choice.spec()
    files = _staged(repository) if hook == "pre-commit" else _pushed(repository)
    if fix and files:
        files = _fixed(repository, spec, files, gate_options.baseline)
    if not files:
        return
    report = survey_report(_names(files), spec, _look(files), gate_options, (), whole=False)
    done, result = report.done, report.done.run
    if done.new or result.problems:
        show_survey(console(), report, everything=False, governing=None)
    tell_problems(result.problems)
    if result.unhandled:
        sys.exit(UNHANDLED)
    if done.fails:
        action = "commit" if hook == "pre-commit" else "push"
        text = f"The {action} is stopped; `git {action} --no-verify` goes on."
        notes().print(styled(text, style=ASK))
        sys.exit(FOUND)


def _chosen(files: Iterable[StagedFile]) -> list[StagedFile]:
    """Return the files that are code, and lie where the configuration has rules look."""
    settings = settings_here()
    endings = dict(settings.endings)
    tops = [os.path.realpath(settings.folder / top) for top in settings.paths]
    return [
        file
        for file in files
        if (not tops or any(Path(file.path).is_relative_to(top) for top in tops))
        and language_at(file.path, endings) is not None  # it may look at what is installed
    ]


def _staged(repository: Repository) -> list[StagedFile]:
    """Return the staged files to look at."""
    return _chosen(staged_files(repository))


def _names(files: list[StagedFile]) -> tuple[str, ...]:
    return tuple(os.path.relpath(file.path) for file in files)


def _look(files: list[StagedFile]) -> LookOptions:
    """Return options of a run that takes texts of git where the working tree has others.

    What the code base has on the disk is known from earlier runs: a small commit saves most by it.
    """
    options = RunOptions(file_filter=configured_filter(settings_here()), cache=True)
    return LookOptions(options, texts=unlike_disk(files))


def _fixed(
    repository: Repository, spec: RulesSpec, files: list[StagedFile], baseline: OwnFile | None
) -> list[StagedFile]:
    """Apply the safe fixes to what is staged, and return what is staged then."""
    from yellow_trellis.runs.staged_fixes import NotStagedError, fix_staged

    look = _look(files)
    done, _ = rework_shown(_names(files), spec, look, baseline=baseline)
    try:
        paths = fix_staged(repository, files, done)
    except NotStagedError as error:
        notes().print(styled(f"Nothing was fixed: {error}.", style=ASK))
        return files
    if not paths:
        return files
    out = notes()
    for path in paths[:20]:
        out.print(styled(f"  fixed {shown_path(path)}", style=DIM))
    number = counted(len(paths), "file")
    out.print(f"Fixed {number}, in the commit and in the working tree; `ytr undo` mends that.")
    return _staged(repository)


def _pushed(repository: Repository) -> list[StagedFile]:
    """Return the files that a push changes, as git tells of it on standard input."""
    files: dict[str, StagedFile] = {}
    text = "" if sys.stdin.isatty() else sys.stdin.read()
    for line in text.splitlines():
        words = line.split()
        if len(words) != 4 or words[1] == _NOTHING:
            continue
        since = words[3] if words[3] != _NOTHING else _base(repository, words[1])
        try:
            committed = committed_files(repository, since, words[1])
        except RevisionError:  # what the remote has is not known here
            committed = committed_files(repository, _base(repository, words[1]), words[1])
        files.update((file.path, file) for file in committed)
    return _chosen(files.values())


def _base(repository: Repository, revision: str) -> str:
    """Return the commit at which a revision parted from what any remote has."""
    from yellow_trellis.project.staging import EMPTY

    remotes = repository.ask("for-each-ref", "--format=%(objectname)", "refs/remotes").split()
    for remote in remotes:
        try:
            return repository.ask("merge-base", revision, remote.decode()).decode().strip()
        except RevisionError:
            continue
    return EMPTY
