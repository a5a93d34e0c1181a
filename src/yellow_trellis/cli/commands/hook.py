"""`ytr hook`: git's own hooks that look at what is committed or pushed."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option
from yellow_trellis.cli.console import ASK, DIM, GOOD, console, counted, notes
from yellow_trellis.cli.console import shown_path, tell_problems
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.gate_options import HELD, GateOptions, OwnFile, gate_here
from yellow_trellis.cli.hook_files import (
    HOOKS,
    PRE_COMMIT,
    PRE_MERGE,
    PRE_PUSH,
    HookFile,
    foreign_folder,
    hook_file,
)
from yellow_trellis.cli.options import RULES, RuleChoice, LookOptions, settings_here
from yellow_trellis.cli.output import styled
from yellow_trellis.cli.reworking import rework_shown
from yellow_trellis.cli.survey_view import show_survey
from yellow_trellis.cli.surveying import survey_report
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.file_options import FileFilter
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

if TYPE_CHECKING:
    from yellow_trellis.reports.baseline import Compared
    from yellow_trellis.reports.survey_report import SurveyReport

ACTIONS = ("install", "remove", "show", "run")

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
        default=PRE_COMMIT,
        help=f"One of {', '.join(HOOKS)}.",
    ),
    flag("--fix", help="Before a commit, apply the safe fixes to what is staged."),
    flag("--new-only", help="Before a commit, count only findings that were not there before."),
    flag("--changed-lines", help="Before a commit, take only the lines that it changes."),
    flag(
        "--in-hooks-path",
        help="Install where core.hooksPath of git points, though others may share that folder.",
    ),
    RULES,
    HELD,
)


def command(
    action: str,
    hook: str,
    fix: bool,
    new_only: bool,
    changed_lines: bool,
    in_hooks_path: bool,
    choice: RuleChoice,
    gate_options: GateOptions,
) -> None:
    """Install, remove, show or run a hook of git that looks at what is committed or pushed.

    It looks at staged or committed text, not at the working tree. With `--fix` the safe fixes go
    into the commit and the working tree, and lines that are not staged stay so; where that cannot
    be, nothing is fixed and it is said why. A hook that is there already is kept and runs first.
    `pre-commit` goes for merges too, for which git has another hook; these are not fixed.
    """
    repository = Repository(Path.cwd())
    asked = {"--fix": fix, "--new-only": new_only, "--changed-lines": changed_lines}
    options = tuple(name for name, is_asked in asked.items() if is_asked)
    if options and hook == PRE_PUSH:
        raise UsageError(f"{options[0]} is for pre-commit: what is pushed is committed already")
    if fix and hook == PRE_MERGE:
        raise UsageError("--fix is for pre-commit: git has settled by now what a merge holds")
    if action == "run":
        if not (choice.rule_paths or settings_here().rules):
            notes().print("No rules are configured here: nothing is looked at.")
            return
        _run(repository, hook, fix, new_only, changed_lines, choice, gate_options)
        return
    if choice != RuleChoice() or gate_options != gate_here():
        raise UsageError(
            "an installed hook takes rules and levels from the configuration: options for them go "
            "with `ytr hook run`"
        )
    hooks = (PRE_COMMIT, PRE_MERGE) if hook == PRE_COMMIT else (hook,)
    files = [hook_file(repository, name) for name in hooks]
    if action == "install":
        if not in_hooks_path and (folder := foreign_folder(repository)):
            raise UsageError(
                f"hooks of this repository are in {folder}; others may share that folder: "
                "--in-hooks-path installs there"
            )
        _install(files, options)
    elif action == "remove":
        _remove(files)
    else:
        _show(repository)


def _install(files: list[HookFile], options: tuple[str, ...]) -> None:
    out = console()
    for file in [file.checked() for file in files]:
        own = [name for name in options if name != "--fix" or file.hook == PRE_COMMIT]
        file.install(own)
        path = shown_path(str(file.path))
        out.print(styled((f"Installed {file.hook}", GOOD), f": {path}"))
        if file.original.exists():
            original = shown_path(str(file.original))
            out.print(f"The hook that was there runs first: {original}.")
    if not settings_here().rules:
        out.print("No rules are configured here yet: `ytr init` does that.")


def _remove(files: list[HookFile]) -> None:
    first, *others = files
    for file in [first, *(file for file in others if file.is_ours)]:
        path = shown_path(str(file.path))
        if file.remove():
            console().print(f"Removed; lines that are not ours stay: {path}.")
        elif file.path.exists():
            console().print(f"Removed; the hook that was there is back: {path}.")
        else:
            console().print(f"Removed {path}.")


def _show(repository: Repository) -> None:
    out = console()
    for hook in HOOKS:
        file = hook_file(repository, hook)
        if file.is_ours:
            parts = [text for option, text in _TOLD.items() if option in file.call.split()]
            text = ", ".join(["installed", *parts])
            text += ", behind the hook that was there" if file.original.exists() else ""
        else:
            text = "another hook is there" if file.path.exists() else "not installed"
        out.print(f"{hook:<16} {text}")


_TOLD = {
    "--fix": "applies safe fixes",
    "--new-only": "counts new findings",
    "--changed-lines": "takes changed lines",
}


# ------------------------------------------------------------------ what a hook does


def _run(
    repository: Repository,
    hook: str,
    fix: bool,
    new_only: bool,
    changed_lines: bool,
    choice: RuleChoice,
    gate_options: GateOptions,
) -> None:
    spec = choice.spec()
    files = _pushed(repository) if hook == PRE_PUSH else _staged(repository)

    def survey() -> SurveyReport:
        look = _look(files, since=new_only or changed_lines, lines=changed_lines)
        return survey_report(
            _names(files), spec, look, gate_options, (), new_only=new_only, whole=False
        )

    if fix and files:
        look = _look(files, since=changed_lines, lines=changed_lines)
        earlier = survey().done.compared if new_only else None
        files = _fixed(repository, spec, files, look, gate_options.baseline, earlier)
    if not files:
        return
    report = survey()
    done, result = report.done, report.done.run
    if done.new or result.problems:
        show_survey(console(), report, everything=False, governing=None)
    tell_problems(result.problems)
    if result.unhandled:
        sys.exit(UNHANDLED)
    if done.fails:
        action = {PRE_COMMIT: "commit", PRE_MERGE: "merge", PRE_PUSH: "push"}[hook]
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


def _look(files: list[StagedFile], *, since: bool = False, lines: bool = False) -> LookOptions:
    """Return options of a run that takes texts of git where the working tree has others.

    Arguments: with `since` it knows what was there before the commit; with `lines` only changed
    lines count. What the code base has on the disk is known from earlier runs: a small commit saves
    most by it.
    """
    file_filter = configured_filter(settings_here(), FileFilter(staged=since, lines=lines))
    options = RunOptions(file_filter=file_filter, cache=True)
    return LookOptions(options, texts=unlike_disk(files))


def _fixed(
    repository: Repository,
    spec: RulesSpec,
    files: list[StagedFile],
    look: LookOptions,
    baseline: OwnFile | None,
    earlier: Compared | None,
) -> list[StagedFile]:
    """Apply the safe fixes to what is staged, and return what is staged then.

    Arguments: findings that `earlier` knows are left, or those that `baseline` accepts.
    """
    from yellow_trellis.runs.staged_fixes import NotStagedError, fix_staged

    done, _ = rework_shown(
        _names(files), spec, look, baseline=baseline, compared=earlier
    )
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
