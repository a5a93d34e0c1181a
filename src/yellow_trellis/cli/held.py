"""Options on what a survey is held to, so that a call can differ from the configuration."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Any, NamedTuple

import click

from yellow_trellis.cli.options import from_here, settings_here
from yellow_trellis.config.settings import FAILING
from yellow_trellis.engine.verdict import Bar


class Held(NamedTuple):
    """What a survey is held to."""

    bar: Bar
    warnings_as_errors: bool
    baseline: Path | None


_HELD = (
    click.option(
        "--fail-at",
        type=click.Choice(FAILING),
        help="Exit with 1 when there is a finding of this level or a graver one; `warning`, or "
        "what the configuration says, if left out. Example: --fail-at error",
    ),
    click.option("--warnings-as-errors", is_flag=True, help="Take warnings for errors."),
    click.option(
        "--fixable-passes", is_flag=True, help="Do not exit with 1 for findings that have a fix."
    ),
    click.option(
        "--at-most",
        metavar="N",
        type=click.IntRange(min=0),
        help="Exit with 1 only when more than N findings count. Example: --at-most 20",
    ),
    click.option(
        "--baseline",
        metavar="FILE",
        type=click.Path(exists=True, dir_okay=False),
        help="Take only findings that this baseline does not accept. Example: "
        "--baseline trellis-baseline.json",
    ),
)


def held_options(command: Callable[..., Any]) -> Callable[..., Any]:
    """Add the options on what a survey is held to; the command gets them as `held`."""

    @wraps(command)
    def gathered(
        *,
        fail_at: str | None,
        warnings_as_errors: bool,
        fixable_passes: bool,
        at_most: int | None,
        baseline: str | None,
        **rest: Any,
    ) -> Any:
        said = settings_here()
        bar = Bar(
            fail_at or said.fail_at,
            fixable_passes or said.fixable_passes,
            said.at_most if at_most is None else at_most,
        )
        file = Path(baseline) if baseline is not None else baseline_here()
        return command(held=Held(bar, warnings_as_errors, file), **rest)

    for option in reversed(_HELD):
        gathered = option(gathered)
    return gathered


def baseline_here() -> Path | None:
    """Return the file of the baseline that the configuration names, as seen from here."""
    settings = settings_here()
    return Path(from_here(settings, settings.baseline)) if settings.baseline else None


def history_here() -> Path | None:
    """Return the file of the history that the configuration names, as seen from here."""
    settings = settings_here()
    return Path(from_here(settings, settings.history)) if settings.history else None
