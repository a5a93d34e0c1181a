"""`ytr survey`: what the rules find, and whether that passes."""

from __future__ import annotations

import os
import sys
from functools import cache
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option
from yellow_trellis.cli.console import console, notes, run_shown, tell_problems
from yellow_trellis.cli.diagnostics import show_timings, show_why
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.gate_options import HELD, GateOptions, OwnFile, history_here
from yellow_trellis.cli.options import LOOK, PATHS, RULES, RunOptions, format_option, spec_of
from yellow_trellis.cli.output import write
from yellow_trellis.cli.survey_view import Governing, show_survey
from yellow_trellis.reports.baseline import Baseline
from yellow_trellis.reports.gate import Surveyed
from yellow_trellis.reports.history import NAME, totals_of
from yellow_trellis.reports.history import record as add_to_history
from yellow_trellis.reports.json import survey_json
from yellow_trellis.runs.file_report import FindingRecord
from yellow_trellis.runs.rule_source import RulesSpec

EXAMPLE = "ytr survey --rules rules/ src/ --fail-at error"
TAKES: Takes = (
    PATHS,
    *RULES,
    flag("--all", dest="everything", help="Show every place, not the first few of each rule."),
    HELD,
    flag("--why", dest="whence", help="Say which setting gives the findings their level."),
    flag("--record", help="Add the totals to the history that `ytr report` tells of."),
    flag("--timings", help="Show where the time goes; known files are not used."),
    option(
        "--explain",
        metavar="FILE",
        help="Say why a file is looked at or not, and by which rules. Example: --explain "
        "alder/app.py",
    ),
    format_option("text", "json"),
    LOOK,
)


def command(
    paths: tuple[str, ...],
    rule_paths: tuple[str, ...],
    only: tuple[str, ...],
    everything: bool,
    gate_options: GateOptions,
    whence: bool,
    record: bool,
    timings: bool,
    explain: str | None,
    form: str,
    look: RunOptions,
) -> None:
    """Show what the rules find in PATHS. Nothing is written.

    PATHS are by default those of the configuration, else the current folder.
    """
    spec = spec_of(rule_paths, only)
    if gate_options.warnings_as_errors:
        spec = spec._replace(warnings_as_errors="--warnings-as-errors")
    if explain is not None:
        show_why(console(), explain, look.paths(paths), spec, look.file_filter)
        return
    if record and (only or look.narrow):
        raise UsageError(
            "--record is for whole surveys, which can be compared: leave out --only, and what "
            "chooses among the files"
        )
    baseline = Baseline.read(*gate_options.baseline) if gate_options.baseline is not None else None
    result, seconds = run_shown(paths, spec, look, timed=timings, with_marks=baseline is not None)
    if timings:
        show_timings(notes() if form == "json" else console(), result, seconds)
    rules = {rule.name: rule.summary for rule in spec.ruleset()}
    compared = None
    if baseline is not None:
        compared = baseline.compared(result, rules, whole=not look.file_filter.lines)
    if record:
        history = history_here() or OwnFile(Path(NAME))
        add_to_history(totals_of(result, history.path, look.paths(paths), rules), *history)
    done = Surveyed(result, gate_options.bar, compared)
    governing = _governing(spec) if whence else None
    if form == "json":
        write(survey_json(done, governing))
    else:
        show_survey(console(), done, seconds, rules, everything=everything, governing=governing)
    tell_problems(result.problems)
    if result.problems:
        sys.exit(UNHANDLED)
    if done.fails:
        sys.exit(FOUND)


def _governing(spec: RulesSpec) -> Governing:
    """Return what says which setting gives a finding its level."""

    @cache
    def places(path: str) -> dict[str, str]:
        return {rule.name: rule.governed_by() for rule in spec.rules(os.path.abspath(path))}

    def place(finding: FindingRecord) -> str:
        return places(finding.path)[finding.rule]

    return place
