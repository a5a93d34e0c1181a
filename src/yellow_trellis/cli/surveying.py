"""A survey as commands make it: the run, what a baseline or a revision says of it, and the bar.

A hook waits for it at each commit; so what only some surveys need is imported by those.
"""

from __future__ import annotations

import os
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace

from yellow_trellis.cli.arguments import UsageError
from yellow_trellis.cli.console import run_shown
from yellow_trellis.cli.gate_options import GateOptions, history_here
from yellow_trellis.cli.options import LookOptions
from yellow_trellis.project.discovery import root_of
from yellow_trellis.reports.gate import GateResult
from yellow_trellis.reports.survey_report import SurveyReport
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.rule_source import RulesSpec

if TYPE_CHECKING:
    from yellow_trellis.reports.baseline import Compared
    from yellow_trellis.reports.formats import Format
    from yellow_trellis.reports.history import Totals
    from yellow_trellis.rules import RuleDefinition
    from yellow_trellis.runs.run_options import RunOptions


def survey_report(
    paths: tuple[str, ...],
    spec: RulesSpec,
    look: LookOptions,
    gate: GateOptions,
    formats: Iterable[Format],
    *,
    with_review: bool = False,
    new_only: bool = False,
    whole: bool = True,
    timed: bool = False,
) -> SurveyReport:
    """Return a survey, with all that some formats want of it.

    Arguments: `gate` is what it is held to; with `new_only` only findings count that are not there
    at the revision which changes are counted from; unless `whole` files are looked at, nothing that
    a baseline accepts is known to be gone. Errors: those of a run; `UsageError`.
    """
    if gate.warnings_as_errors:
        spec = spec._replace(warnings_as_errors="--warnings-as-errors")
    if new_only and look.run.file_filter.base is None:
        raise UsageError("--new-only needs to know since when: add --changed-since or --staged")
    if new_only and gate.baseline is not None:
        gate = gate._replace(baseline=None)  # what was there before is accepted either way
    requested = list(formats)
    marked = new_only or gate.baseline is not None
    options = replace(look.run, timed=timed, with_review=with_review, with_marks=marked)
    result, seconds = run_shown(paths, spec, look, options)
    rules = {rule.name: rule for rule in spec.ruleset()}
    if any(form.details for form in requested):
        options = replace(options, timed=False, with_marks=True, with_details=True)
        result, took = _detailed(result, spec, look, options)
        seconds += took
    compared = None
    if new_only:
        compared = _since(result, spec, look, rules)
    elif gate.baseline is not None:
        from yellow_trellis.reports.baseline import Baseline

        baseline = Baseline.read(*gate.baseline)
        compared = baseline.compared(result, rules, whole=whole and not look.run.file_filter.lines)
    rework = None
    if any(form.changes for form in requested):
        from yellow_trellis.cli.reworking import rework_shown

        rework, _ = rework_shown(paths, spec, look, with_review=with_review, compared=compared)
    done = GateResult(result, gate.bar, compared)
    history = _earlier(look.paths(paths)) if any(form.history for form in requested) else ()
    return SurveyReport(done, rules, seconds, rework, history)


def _detailed(
    result: Run, spec: RulesSpec, look: LookOptions, options: RunOptions
) -> tuple[Run, float]:
    """Return a survey with the edits of its fixes and what comments leave alone; and the seconds.

    The files with findings are run over again: so what is found, and whether it passes, does not
    depend on the formats that are asked for. Trying all fixes may take longer than a file may.
    """
    found = [report for report in result.reports if report.findings or report.excused]
    if not found:
        return result, 0.0
    again: tuple[str, ...] = ()
    if look.stdin_name is None:
        again = tuple(report.path for report in found)
        look = replace(look, names_from=None)
    detailed, seconds = run_shown(again, spec, look, options, tells=False)
    by_path = {report.path: report for report in detailed.reports}
    reports = [report.detailed(by_path.get(report.path)) for report in result.reports]
    return replace(result, reports=reports), seconds


def _since(
    result: Run, spec: RulesSpec, look: LookOptions, rules: Mapping[str, RuleDefinition]
) -> Compared:
    """Return a run compared with the same files as they were at a revision."""
    from yellow_trellis.project.earlier_files import earlier_files
    from yellow_trellis.reports.baseline import Baseline

    base = look.run.file_filter.base
    root = root_of(report.path for report in result.reports)
    state = earlier_files(root, look.run.file_filter)
    assert base is not None and state is not None  # the caller has seen to it
    texts = {
        path: text for path in sorted(state.names) if (text := state.text(path)) is not None
    }
    earlier = Run([], root)
    if texts:
        plain = replace(look.run.file_filter, since=None, staged=False, lines=False)
        options = replace(look.run, file_filter=plain, with_marks=True)
        before = replace(look, run=options, texts=texts, names_from=None)
        names = tuple(os.path.relpath(path) for path in texts)
        earlier, _ = run_shown(names, spec, before, tells=False)
    baseline = Baseline(Path("revision").absolute(), ())
    baseline = baseline.with_entries(baseline.entries_of(earlier.findings))
    return baseline.compared(result, rules, whole=False)._replace(since=base)


def _earlier(paths: tuple[str, ...]) -> list[Totals]:
    """Return the surveys of some paths in the history of the configuration, if it names one."""
    history = history_here()
    if history is None or not history.path.exists():
        return []
    from yellow_trellis.reports.history import paths_in, read

    names = paths_in(history.path, paths)
    return [item for item in read(*history) if item.paths == names]
