"""Options for the gate of a survey, so that a call can differ from the configuration."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from yellow_trellis.cli.arguments import Group, file_there, flag, option, whole
from yellow_trellis.cli.options import from_here, settings_here
from yellow_trellis.project.settings import FAILING
from yellow_trellis.reports.gate import Threshold


class OwnFile(NamedTuple):
    """A file that we keep: its path, and the folder that it lies below where settings name it."""

    path: Path
    top: Path | None = None


class GateOptions(NamedTuple):
    """The criteria by which a survey passes."""

    bar: Threshold
    warnings_as_errors: bool
    baseline: OwnFile | None


_HELD = (
    option(
        "--fail-at",
        choices=FAILING,
        help="Exit with 1 when there is a finding of this level or higher; `warning`, or "
        "what the configuration says, if left out. Example: --fail-at error",
    ),
    flag("--warnings-as-errors", help="Treat warnings as errors."),
    flag(
        "--fixable-passes",
        help="Do not exit with 1 for findings that have a fix, safe or to review.",
    ),
    option(
        "--at-most",
        metavar="N",
        type=whole,
        help="Exit with 1 only when more than N findings count. Example: --at-most 20",
    ),
    option(
        "--baseline",
        metavar="FILE",
        type=file_there,
        help="Take only findings that this baseline does not accept. Example: "
        "--baseline trellis-baseline.json",
    ),
)


def _gate_options(
    *,
    fail_at: str | None,
    warnings_as_errors: bool,
    fixable_passes: bool,
    at_most: int | None,
    baseline: str | None,
) -> GateOptions:
    statement = settings_here()
    bar = Threshold(
        fail_at or statement.fail_at,
        fixable_passes or statement.fixable_passes,
        statement.at_most if at_most is None else at_most,
    )
    file = OwnFile(Path(baseline)) if baseline is not None else baseline_here()
    return GateOptions(bar, warnings_as_errors, file)


def gate_here() -> GateOptions:
    """Return the threshold of a survey for which a call gives none."""
    return _gate_options(
        fail_at=None, warnings_as_errors=False, fixable_passes=False, at_most=None, baseline=None
    )


HELD = Group("gate_options", "pass or fail", _HELD, _gate_options)
"""What a survey is held to."""


def baseline_here() -> OwnFile | None:
    """Return the file of the baseline that the configuration names, as seen from here."""
    return _own(settings_here().baseline)


def history_here() -> OwnFile | None:
    """Return the file of the history that the configuration names, as seen from here."""
    return _own(settings_here().history)


def _own(name: str | None) -> OwnFile | None:
    settings = settings_here()
    return OwnFile(Path(from_here(settings, name)), settings.folder) if name else None
