"""Options that several commands share, so that they mean the same everywhere."""

from __future__ import annotations

import os
import re
import sys
from collections.abc import Callable
from functools import cache, wraps
from pathlib import Path
from typing import Any, NamedTuple, TypeVar

import click

from yellow_trellis.config import Settings, settings_for
from yellow_trellis.engine.limits import USUAL, Limits
from yellow_trellis.engine.scope import EVERYTHING, LARGEST, Scope
from yellow_trellis.engine.spec import RulesSpec
from yellow_trellis.rules import Setting

F = TypeVar("F", bound=Callable[..., object])


def rules_options(command: F) -> F:
    """Add `--rules` and `--only`."""
    command = click.option(
        "--only",
        metavar="RULE",
        multiple=True,
        help="Use this rule alone; may be given several times. Example: --only stamp-to-tick",
    )(command)
    return click.option(
        "--rules",
        "-r",
        "rule_paths",
        metavar="PATH",
        multiple=True,
        help="A rule file or a folder of them; several are taken in order. Example: --rules rules/",
    )(command)


def paths_argument(command: F) -> F:
    """Add the paths to look at, the current folder by default."""
    return click.argument("paths", nargs=-1, type=click.Path())(command)


class Look(NamedTuple):
    """How files are to be looked at: which, by whom, at what cost."""

    scope: Scope = EVERYTHING
    limits: Limits = USUAL
    cache: bool = True
    workers: int | None = None
    cluster: str | None = None
    names_from: str | None = None

    @property
    def narrow(self) -> bool:
        """Whether only some of the files are looked at."""
        scope = self.scope
        chosen = scope.since or scope.staged or scope.lines or scope.owner or self.names_from
        return bool(chosen)

    def paths(self, given: tuple[str, ...]) -> tuple[str, ...]:
        """Return the paths to look at: those given, and those in a list of names."""
        if self.names_from is None:
            settings = settings_here()
            configured = tuple(from_here(settings, path) for path in settings.paths)
            return given or configured or (".",)
        if self.names_from == "-":
            text = sys.stdin.buffer.read().decode("utf-8", "surrogateescape")
        else:
            with open(self.names_from, encoding="utf-8", errors="surrogateescape") as file:
                text = file.read()
        listed = re.split(r"\0" if "\0" in text else r"\r?\n", text)
        from yellow_trellis.languages import language_of

        asked = (name for name in listed if name and language_of(name) is not None)
        return (*given, *filter(os.path.exists, asked))  # lists of changes name what is gone


def _size(context: click.Context, option: click.Parameter, value: str | None) -> int | None:
    """Return the bytes that ``800k`` or ``4M`` say."""
    if value is None:
        return None
    found = re.fullmatch(r"(\d+)([kmg]?)b?", value.strip().lower())
    if found is None:
        raise click.BadParameter(f"{value!r} is no size; say for instance 800k or 4M")
    power = " kmg".index(found[2]) if found[2] else 0
    return int(found[1]) * int(1024**power)


_LOOK = (
    click.option(
        "--changed-since",
        metavar="REVISION",
        help="Look only at files that differ from a revision. Example: --changed-since main",
    ),
    click.option("--staged", is_flag=True, help="Look only at files with staged changes."),
    click.option(
        "--changed-lines",
        is_flag=True,
        help="Of these files take only the lines that have changed. "
        "Example: --changed-since main --changed-lines",
    ),
    click.option(
        "--owned-by",
        metavar="NAME",
        help="Look only at files of an owner, as the file CODEOWNERS tells. "
        "Example: --owned-by @alder/depot",
    ),
    click.option(
        "--names-from",
        metavar="FILE",
        help="Read the paths to look at from a file, one a line; `-` is standard input. "
        "Example: git ls-files depot | ytr survey -r rules/ --names-from -",
    ),
    click.option(
        "--generated", is_flag=True, help="Look also at files that say they are generated."
    ),
    click.option(
        "--largest",
        metavar="SIZE",
        callback=_size,
        default=f"{LARGEST // 1024**2}M",
        show_default=True,
        help="Leave files that are larger. Example: --largest 500k",
    ),
    click.option(
        "--rule-seconds",
        metavar="N",
        type=click.FloatRange(min=0),
        default=USUAL.rule,
        show_default=True,
        help="Stop a rule that takes longer on one file; 0 never. Example: --rule-seconds 5",
    ),
    click.option(
        "--file-seconds",
        metavar="N",
        type=click.FloatRange(min=0),
        default=USUAL.file,
        show_default=True,
        help="Give up a file that takes longer; 0 never. Example: --file-seconds 30",
    ),
    click.option(
        "--worker-memory",
        metavar="SIZE",
        callback=_size,
        help="Memory that a worker may take. Example: --worker-memory 800M",
    ),
    click.option("--no-cache", is_flag=True, help="Use and keep nothing from run to run."),
    click.option(
        "--workers",
        metavar="N",
        type=click.IntRange(min=1),
        help="How many processes to use; one a processor by default. Example: --workers 4",
    ),
    click.option(
        "--cluster",
        metavar="ADDRESS",
        help="Let the workers of a Dask scheduler do it. Example: --cluster tcp://depot:8786",
    ),
)


def look_options(command: Callable[..., Any]) -> Callable[..., Any]:
    """Add the options on which files are looked at and how; the command gets them as `look`."""

    @wraps(command)
    def gathered(
        *,
        changed_since: str | None,
        staged: bool,
        changed_lines: bool,
        owned_by: str | None,
        names_from: str | None,
        generated: bool,
        largest: int,
        rule_seconds: float,
        file_seconds: float,
        worker_memory: int | None,
        no_cache: bool,
        workers: int | None,
        cluster: str | None,
        **rest: Any,
    ) -> Any:
        if changed_since is not None and staged:
            raise click.UsageError("--changed-since and --staged exclude each other: take one")
        if changed_lines and changed_since is None and not staged:
            raise click.UsageError(
                "--changed-lines needs to know since when: add --changed-since REVISION or --staged"
            )
        look = Look(
            Scope(
                changed_since,
                staged,
                changed_lines,
                owned_by,
                largest,
                generated,
                settings_here().skip,
                str(settings_here().file or ""),
            ),
            Limits(rule_seconds or None, file_seconds or None, worker_memory),
            not no_cache,
            workers,
            cluster,
            names_from,
        )
        return command(look=look, **rest)

    for option in reversed(_LOOK):
        gathered = option(gathered)
    return gathered


def format_option(*choices: str) -> Callable[[F], F]:
    """Add `--format`, the first choice being the default."""
    return click.option(
        "--format",
        "form",
        type=click.Choice(choices),
        default=choices[0],
        show_default=True,
        help=f"What to print. Example: --format {choices[-1]}",
    )


def review_option(command: F) -> F:
    """Add `--with-review`."""
    return click.option(
        "--with-review",
        is_flag=True,
        help="Also take fixes that may change behaviour, marked `review`.",
    )(command)


def spec_of(rule_paths: tuple[str, ...], only: tuple[str, ...]) -> RulesSpec:
    """Return where the rules come from: those named, or those of the configuration.

    Errors: a usage error when there are none; `ConfigError`.
    """
    if rule_paths:
        return RulesSpec(rule_paths, only)
    settings = settings_here()
    if not settings.rules:
        raise click.UsageError(
            "no rules are named: add --rules FILE, for instance --rules rules/, or make a "
            "configuration with `ytr init`. `ytr seek PATTERN` needs none."
        )
    paths = tuple(_rules_from_here(settings, rules) for rules in settings.rules)
    unasked = None
    if settings.unasked is not None:
        unasked = Setting("*", "unasked", settings.unasked, place=settings.places["unasked"])
    return RulesSpec(
        paths,
        only,
        settings.said,
        tuple((part.paths, part.said) for part in settings.parts),
        str(settings.folder),
        unasked,
        settings.places["warnings-as-errors"] if settings.warnings_as_errors else "",
        settings.reasons,
    )


@cache
def settings_here() -> Settings:
    """Return the settings that hold in the current folder. Errors: `ConfigError`."""
    return settings_for(Path.cwd())


def from_here(settings: Settings, path: str) -> str:
    """Return a path of the configuration as seen from the current folder."""
    return os.path.relpath(settings.folder / path)


def _rules_from_here(settings: Settings, name: str) -> str:
    """Return rules that the configuration names as seen from here; the name of a pack is left."""
    return from_here(settings, name) if (settings.folder / name).exists() else name
