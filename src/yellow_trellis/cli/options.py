"""Options that several commands share, so that they mean the same everywhere."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

import click

from yellow_trellis.engine.runner import RulesSpec

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


def workers_option(command: F) -> F:
    """Add `--workers`."""
    return click.option(
        "--workers",
        metavar="N",
        type=click.IntRange(min=1),
        help="How many processes to use; one a processor by default. Example: --workers 4",
    )(command)


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
    """Return where the rules come from. Errors: a usage error when no rules are named."""
    if not rule_paths:
        raise click.UsageError(
            "no rules are named: add --rules FILE, for instance --rules rules/. "
            "`ytr seek PATTERN` needs none."
        )
    return RulesSpec(rule_paths, only)
