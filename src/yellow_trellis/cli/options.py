"""Options that several commands share, so that they mean the same everywhere."""

from __future__ import annotations

import os
import re
import sys
from collections.abc import Mapping
from functools import cache
from typing import TYPE_CHECKING, NamedTuple

from msgspec import Struct, field
from msgspec.structs import replace

from yellow_trellis.cli.arguments import (
    Group,
    CommandOption,
    UsageError,
    flag,
    folder_there,
    option,
    positive,
    seconds,
    several,
    size,
    version,
)
from yellow_trellis.cli.presentation import presentation
from yellow_trellis.project.file_options import LARGEST, FileFilter
from yellow_trellis.project.locate import folder_around, is_configured
from yellow_trellis.runs.run_options import USUAL, Limits, RunOptions, SyntaxChecks, python_versions
from yellow_trellis.schema import nearest

if TYPE_CHECKING:
    from yellow_trellis.project.settings import Settings
    from yellow_trellis.runs.rule_source import RulesSpec

PATHS = option(
    "paths",
    metavar="PATHS",
    nargs="*",
    default=[],
    help="Files and folders to look at (default: those configured, else the current folder).",
    is_place=True,
)
FOLDER = option(
    "folder",
    metavar="FOLDER",
    nargs="?",
    default=".",
    type=folder_there,
    help="A folder of the code base (the current one by default).",
)
_RULES = (
    several(
        "--rules",
        "-r",
        dest="rule_paths",
        metavar="PATH",
        help="A rule file or a folder of them; several are taken in order. Example: --rules rules/",
    ),
    several(
        "--only",
        metavar="RULE",
        help="Use this rule alone; may be given several times. Example: --only stamp-to-tick",
    ),
    several(
        "--without",
        metavar="RULE",
        help="Do without this rule; may be given several times. Example: --without one-none",
    ),
    several(
        "--tag",
        dest="tags",
        metavar="TAG",
        help="Use only rules with this tag; with several, those that have any. Example: --tag log",
    ),
)


class RuleChoice(NamedTuple):
    """The rules that a call asks for."""

    rule_paths: tuple[str, ...] = ()
    only: tuple[str, ...] = ()
    without: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()

    @property
    def is_partial(self) -> bool:
        """Return whether some rules of those named are left out."""
        return bool(self.only or self.without or self.tags)

    def spec(self) -> RulesSpec:
        """Return where the rules come from: those named, or those of the configuration.

        Errors: a usage error when there are none; `ConfigError`; `RuleError`.
        """
        spec = spec_of(self.rule_paths, self.only)
        if not (self.without or self.tags):
            return spec
        rules = list(spec.ruleset())
        names = {rule.name for rule in rules}
        for name in self.without:
            if name not in names:
                raise UsageError(f"--without {name}: no rule is called so: {nearest(name, names)}")
        tags = {tag for rule in rules for tag in rule.tags}
        for tag in self.tags:
            if tag not in tags:
                raise UsageError(f"--tag {tag}: no rule has it: {nearest(tag, tags)}")
        chosen = [
            rule.name
            for rule in rules
            if rule.name not in self.without
            and (not self.tags or not set(self.tags).isdisjoint(rule.tags))
        ]
        if not chosen:
            raise UsageError("no rule is left by --without and --tag")
        return spec._replace(only=tuple(chosen))


RULES = Group("choice", "rules", _RULES, lambda **chosen: RuleChoice(**chosen))
"""Which rules are used."""

UNCOMMITTED = flag("--uncommitted", help="Also write files with uncommitted changes.")
STRICT = flag("--strict", help="Let any conflict between two fixes make it fail, with status 1.")
REVIEW = flag("--with-review", help="Also take fixes that may change behaviour, marked `review`.")


def format_option(*choices: str) -> CommandOption:
    """Return `--format`, the first choice being the default."""
    return option(
        "--format",
        dest="form",
        choices=choices,
        default=choices[0],
        help=f"What to print. Example: --format {choices[-1]}",
    )


class LookOptions(Struct, frozen=True):
    """Options of a run as a command gets them: with what only the command knows."""

    run: RunOptions = RunOptions(cache=True)
    cluster: str | None = None
    names_from: str | None = None
    untrusted: str = ""
    """The configuration that names commands for checks of syntax, and why they are not trusted."""
    stdin_name: str | None = None
    """The name of the file that standard input holds, if it holds one."""
    texts: Mapping[str, bytes] = field(default_factory=dict)
    """By real path the bytes that count instead of those on the disk."""

    def rework(self, with_review: bool = False) -> RunOptions:
        """Return the options of a run that makes the new text of each file."""
        return replace(self.run, mode="rework", with_review=with_review)

    def unsaved(self) -> Mapping[str, bytes]:
        """Return by real path the bytes that count instead of those on the disk."""
        if self.stdin_name is None:
            return self.texts
        return {os.path.realpath(self.stdin_name): _stdin()}

    def commands(self) -> tuple[tuple[str, str], ...]:
        """Return the commands that check what is to be written. Errors: `NotTrustedError`."""
        if self.untrusted:
            from yellow_trellis.project.trust import WAY_OUT, NotTrustedError

            raise NotTrustedError(
                f"{self.untrusted}; it names a command by `check-syntax`, and to run that is to "
                f"run code that came with the folder: {WAY_OUT}"
            )
        return self.run.syntax.commands

    @property
    def narrow(self) -> bool:
        """Return whether only some of the files are processed."""
        file_filter = self.run.file_filter
        by_change = file_filter.since or file_filter.staged or file_filter.lines
        chosen = by_change or file_filter.owner or self.names_from
        return bool(chosen)

    def paths(self, arguments: tuple[str, ...]) -> tuple[str, ...]:
        """Return the paths to look at: those given, and those in a list of names."""
        if self.stdin_name is not None:
            if arguments or self.names_from is not None:
                raise UsageError("--stdin-name names the file itself: leave out PATHS")
            return (self.stdin_name,)
        if self.names_from is None and arguments:
            return arguments
        if self.names_from is None:
            settings = settings_here()
            configured = tuple(from_here(settings, path) for path in settings.paths)
            return configured or (".",)
        if self.names_from == "-":
            text = sys.stdin.buffer.read().decode("utf-8", "surrogateescape")
        else:
            with open(self.names_from, encoding="utf-8", errors="surrogateescape") as file:
                text = file.read()
        listed = re.split(r"\0" if "\0" in text else r"\r?\n", text)
        from yellow_trellis.project.file_language import language_at

        endings = dict(settings_here().endings)
        queries = (name for name in listed if name and language_at(name, endings) is not None)
        return (*arguments, *filter(os.path.exists, queries))  # lists of changes name what is gone


_LOOK = (
    option(
        "--changed-since",
        metavar="REVISION",
        help="Look only at files that this branch has changed since it parted from a revision. "
        "Example: --changed-since main",
    ),
    flag("--staged", help="Look only at files with staged changes."),
    flag(
        "--changed-lines",
        help="Of these files take only the lines that have changed. "
        "Example: --changed-since main --changed-lines",
    ),
    option(
        "--owned-by",
        metavar="NAME",
        help="Look only at files of an owner, as the file CODEOWNERS tells. "
        "Example: --owned-by @alder/depot",
    ),
    option(
        "--names-from",
        metavar="FILE",
        help="Read the paths to look at from a file, one a line; `-` is standard input. "
        "Example: git ls-files depot | ytr survey -r rules/ --names-from -",
    ),
    several(
        "--skip",
        metavar="GLOB",
        help="Leave out files that a pattern fits, written as in ignore files; several may be "
        "given. Example: --skip 'vendor/'",
    ),
    flag("--generated", help="Look also at files that say they are generated."),
    flag(
        "--only-here",
        help="Rename and move in PATHS although files outside of them use the thing too.",
    ),
    option(
        "--largest",
        metavar="SIZE",
        type=size,
        default=f"{LARGEST // 1024**2}M",
        help="Leave files that are larger. Example: --largest 500k",
    ),
    option(
        "--rule-seconds",
        metavar="N",
        type=seconds,
        default=USUAL.limits.rule,
        help="Seconds a rule may spend per file; 0: no limit. Example: --rule-seconds 5",
    ),
    option(
        "--file-seconds",
        metavar="N",
        type=seconds,
        default=USUAL.limits.file,
        help="Give up a file that takes longer; 0 never. Example: --file-seconds 30",
    ),
    option(
        "--worker-memory",
        metavar="SIZE",
        type=size,
        help="Memory that a worker may take. Example: --worker-memory 800M",
    ),
    option(
        "--python-version",
        metavar="VERSION",
        type=version,
        help="The oldest Python that changed files must be read by. Example: --python-version 3.9",
    ),
    several(
        "--check-syntax",
        metavar="LANGUAGE=COMMAND",
        help="Have a command check each changed file of a language before it is written. "
        "Example: --check-syntax 'javascript=node --check'",
    ),
    flag(
        "--whole-files",
        help="Parse every file whole, without the shortcuts for rules that look at little of it; "
        "the findings are the same. Example: --whole-files",
    ),
    option(
        "--stdin-name",
        is_place=True,
        metavar="FILE",
        help="Take standard input for the text of this file, which need not exist. Example: "
        "ytr survey --stdin-name alder/app.py < draft.py",
    ),
    flag("--no-cache", help="Use and keep nothing from run to run."),
    option(
        "--workers",
        metavar="N",
        type=positive,
        help="How many processes to use; one a processor by default. Example: --workers 4",
    ),
    option(
        "--cluster",
        metavar="ADDRESS",
        help="Let the workers of a Dask scheduler do it. Example: --cluster tcp://depot:8786",
    ),
)


def _look(
    *,
    changed_since: str | None,
    staged: bool,
    changed_lines: bool,
    owned_by: str | None,
    names_from: str | None,
    skip: tuple[str, ...],
    generated: bool,
    only_here: bool,
    largest: int,
    rule_seconds: float,
    file_seconds: float,
    worker_memory: int | None,
    python_version: tuple[int, int] | None,
    check_syntax: tuple[str, ...],
    whole_files: bool,
    stdin_name: str | None,
    no_cache: bool,
    workers: int | None,
    cluster: str | None,
) -> LookOptions:
    if changed_since is not None and staged:
        raise UsageError("--changed-since and --staged exclude each other: take one")
    if changed_lines and changed_since is None and not staged:
        raise UsageError(
            "--changed-lines needs to know since when: add --changed-since REVISION or --staged"
        )
    file_filter = FileFilter(
        changed_since, staged, changed_lines, owned_by, largest, generated, only_here=only_here
    )
    commands: dict[str, str] = {}
    untrusted = ""
    if configured_here():
        from yellow_trellis.runs.configured import configured_filter

        settings = settings_here()
        file_filter = configured_filter(settings, file_filter)
        python_version = python_version or settings.python_version
        commands = dict(settings.check_syntax)
        if commands:
            from yellow_trellis.project.trust import why_not_trusted

            if reason := why_not_trusted(settings):
                untrusted = f"{settings.file}: {reason}"
    commands.update(map(_check, check_syntax))
    if skip:
        file_filter = replace(file_filter, also_skip=skip)
    options = RunOptions(
        whole_files=whole_files,
        file_filter=file_filter,
        limits=Limits(rule_seconds or None, file_seconds or None, worker_memory),
        syntax=SyntaxChecks(python_versions(python_version), tuple(sorted(commands.items()))),
        cache=not no_cache,
        workers=workers,
    )
    return LookOptions(options, cluster, names_from, untrusted, stdin_name)


@cache
def _stdin() -> bytes:
    return sys.stdin.buffer.read()


def _check(text: str) -> tuple[str, str]:
    """Read LANGUAGE=COMMAND. Errors: `UsageError`."""
    language, _, command = text.partition("=")
    from yellow_trellis.project.settings import checked_language

    if not command.strip():
        raise UsageError(f"--check-syntax takes LANGUAGE=COMMAND, not {text!r}")
    if wrong := checked_language(language):
        raise UsageError(f"--check-syntax {text!r}: {wrong}")
    return language, command.strip()


LOOK = Group("look", "files and limits", _LOOK, _look)
"""Which files are looked at, and how."""


def spec_of(rule_paths: tuple[str, ...], only: tuple[str, ...]) -> RulesSpec:
    """Return where the rules come from: those named, or those of the configuration.

    Errors: a usage error when there are none; `ConfigError`.
    """
    from yellow_trellis.runs.configured import configured_rules
    from yellow_trellis.runs.rule_source import RulesSpec

    if rule_paths:
        return RulesSpec(rule_paths, only)
    settings = settings_here()
    if not settings.rules:
        raise UsageError(
            "no rules are named: add --rules FILE, for instance --rules rules/, or make a "
            "configuration with `ytr init`. `ytr seek PATTERN` needs none."
        )
    return configured_rules(settings, _why_no_code(settings), only, os.path.relpath)


def _why_no_code(settings: Settings) -> str:
    """Return why rules in Python that the configuration names may not be run; empty if they may."""
    from yellow_trellis.project.trust import WAY_OUT, why_not_trusted

    reason = why_not_trusted(settings)
    return reason and (
        f"this is Python, and the configuration names it; {reason}; to run it is to run code "
        f"that came with the folder: {WAY_OUT}; or name it with --rules"
    )


def configured_here() -> bool:
    """Return whether a configuration may hold here; a False is certain."""
    chosen = presentation()
    if chosen.no_config or chosen.config is not None:
        return not chosen.no_config
    return is_configured(folder_around(chosen.places))


def settings_here() -> Settings:
    """Return the settings that hold: those that the call names, or those of the code it names.

    Where it names no code they are those of the current folder. Errors: `ConfigError`.
    """
    chosen = presentation()
    return _settings(chosen.config, chosen.no_config, folder_around(chosen.places))


@cache
def _settings(config: str | None, no_config: bool, folder: str) -> Settings:
    from pathlib import Path

    from yellow_trellis.project.settings import Settings, settings_for, settings_in_file

    if no_config:
        return Settings()
    if config is not None:
        return settings_in_file(Path(config).resolve())
    return settings_for(Path(folder))


def from_here(settings: Settings, path: str) -> str:
    """Return a path of the configuration as seen from the current folder."""
    return os.path.relpath(settings.folder / path)
