"""Runs that make the new text of files: they fix what counts, and leave what is accepted."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from msgspec.structs import replace

from yellow_trellis.cli.arguments import flag
from yellow_trellis.cli.console import ASK, counted, notes, run_shown
from yellow_trellis.cli.gate_options import OwnFile, baseline_here
from yellow_trellis.cli.options import LookOptions
from yellow_trellis.cli.output import styled
from yellow_trellis.runs.rule_source import RulesSpec

if TYPE_CHECKING:
    from yellow_trellis.reports.baseline import Compared
    from yellow_trellis.rules.known_findings import KnownFinding
    from yellow_trellis.runs.file_report import Run
    from yellow_trellis.runs.fix_selection import Ask

ACCEPTED = flag("--with-accepted", help="Also fix what the baseline accepts.")


def rework_shown(
    paths: tuple[str, ...],
    spec: RulesSpec,
    look: LookOptions,
    *,
    with_review: bool = False,
    with_accepted: bool = False,
    compared: Compared | None = None,
    baseline: OwnFile | None = None,
    ask: Ask | None = None,
    trying: bool = False,
    tells: bool = False,
) -> tuple[Run, float]:
    """Make the new text of files with a progress bar; see `run_shown`.

    Arguments: findings that `compared` knows are left, or if it is left out those that `baseline`
    accepts, the configured one if left out; `with_accepted` has them fixed as well. With `trying`
    the rules are tried on each other. Where it `tells`, it says how many are left, and what else
    there is to say of what was run over.
    """
    accepted: Mapping[str, tuple[KnownFinding, ...]] = {}
    seconds = 0.0
    if not with_accepted and spec.leaving is None:
        if compared is None:
            compared, seconds = _accepted(paths, spec, look, baseline or baseline_here())
        accepted = compared.by_path() if compared is not None else {}
    if tells and accepted:
        number = counted(sum(map(len, accepted.values())), "accepted finding")
        notes().print(styled(f"{number} not fixed: --with-accepted does.", style=ASK))
    options = replace(look.rework(with_review), accepted=accepted)
    if trying:
        options = replace(options, mode="trial")
    result, took = run_shown(paths, spec, look, options, ask, tells=tells)
    return result, seconds + took


def _accepted(
    paths: tuple[str, ...], spec: RulesSpec, look: LookOptions, file: OwnFile | None
) -> tuple[Compared | None, float]:
    """Return what a baseline says of a survey, and how long that took."""
    if file is None:
        return None, 0.0
    from yellow_trellis.reports.baseline import Baseline

    baseline = Baseline.read(*file)
    options = replace(look.run, with_marks=True)
    result, seconds = run_shown(paths, spec, look, options, tells=False)
    rules = [rule.name for rule in spec.ruleset()]
    return baseline.compared(result, rules, whole=False), seconds
