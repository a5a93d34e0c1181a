"""`ytr survey`: what the rules find, and whether that passes."""

from __future__ import annotations

import os
import sys
from functools import cache
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option, several
from yellow_trellis.cli.console import console, notes, tell_problems
from yellow_trellis.cli.diagnostics import show_timings, show_why
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.gate_options import HELD, GateOptions, OwnFile, history_here
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    REVIEW,
    RULES,
    RuleChoice,
    LookOptions,
    format_option,
)
from yellow_trellis.cli.output import write, write_report
from yellow_trellis.cli.survey_view import Governing, show_survey
from yellow_trellis.cli.surveying import survey_report
from yellow_trellis.reports.formats import FORMATS
from yellow_trellis.reports.gate import GateResult
from yellow_trellis.reports.history import NAME, totals_of
from yellow_trellis.reports.history import record as add_to_history
from yellow_trellis.reports.json import survey_json
from yellow_trellis.runs.file_report import FindingRecord
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.schema import nearest

EXAMPLE = (
    "ytr survey --rules rules/ src/ --fail-at error    "
    "ytr survey --also sarif=out.sarif --also html=report.html"
)
TAKES: Takes = (
    PATHS,
    RULES,
    REVIEW,
    flag("--all", dest="everything", help="Show every place, not the first few of each rule."),
    HELD,
    flag(
        "--new-only",
        help="With --changed-since or --staged, count only findings that were not there before. "
        "Example: --changed-since main --new-only",
    ),
    flag("--why", dest="whence", help="Say which setting gives the findings their level."),
    flag("--record", help="Add the totals to the history that `ytr report` tells of."),
    flag("--timings", help="Show where the time goes; known files are not used."),
    option(
        "--explain",
        metavar="FILE",
        help="Say why a file is looked at or not, and by which rules. Example: --explain "
        "alder/app.py",
    ),
    format_option("text", *FORMATS),
    several(
        "--also",
        metavar="FORMAT=FILE",
        help=f"Write the survey to a file too, in a format ({', '.join(FORMATS)}); may be given "
        "several times. Example: --also sarif=out.sarif",
    ),
    LOOK,
)


def command(
    paths: tuple[str, ...],
    choice: RuleChoice,
    with_review: bool,
    everything: bool,
    gate_options: GateOptions,
    new_only: bool,
    whence: bool,
    record: bool,
    timings: bool,
    explain: str | None,
    form: str,
    also: tuple[str, ...],
    look: LookOptions,
) -> None:
    """Show what the rules find in PATHS. Nothing is written.

    PATHS are by default those of the configuration, else the current folder.
    """
    spec = choice.spec()
    if explain is not None:
        show_why(console(), explain, look.paths(paths), spec, look.run.file_filter)
        return
    if record and (choice.is_partial or look.narrow):
        raise UsageError(
            "--record is for whole surveys, which can be compared: leave out --only, --without, "
            "--tag, and what chooses among the files"
        )
    files = _files_of(also)
    formats = [FORMATS[name] for name in {form, *(name for name, _ in files)} if name != "text"]
    report = survey_report(
        paths,
        spec,
        look,
        gate_options,
        formats,
        with_review=with_review,
        new_only=new_only,
        timed=timings,
    )
    done, result = report.done, report.done.run
    if timings:
        show_timings(console() if form == "text" else notes(), result, report.seconds)
    if record:
        history = history_here() or OwnFile(Path(NAME))
        totals = totals_of(result, history.path, look.paths(paths), report.rules)
        add_to_history(totals, *history)
    governing = _governing(spec) if whence else None
    if form == "json":
        write(survey_json(done, governing))
    elif form == "text":
        show_survey(console(), report, everything=everything, governing=governing)
    else:
        write(FORMATS[form].parts(report))
    for name, file in files:
        write_report(FORMATS[name].parts(report), file)
    tell_problems(result.problems)
    if form != "text":
        notes().print(report.done.verdict())
    if result.unhandled:
        sys.exit(UNHANDLED)
    if done.fails:
        sys.exit(FOUND)


def _files_of(also: tuple[str, ...]) -> list[tuple[str, str]]:
    """Read FORMAT=FILE. Errors: `UsageError`."""
    files: list[tuple[str, str]] = []
    for text in also:
        name, _, file = text.partition("=")
        if not file:
            raise UsageError(f"--also takes FORMAT=FILE, such as sarif=out.sarif, not {text!r}")
        if name not in FORMATS:
            raise UsageError(f"--also {text}: no format is called {name}: {nearest(name, FORMATS)}")
        if not os.path.isdir(os.path.dirname(os.path.abspath(file))):
            raise UsageError(f"--also {text}: there is no folder for that file")
        files.append((name, file))
    return files


def _governing(spec: RulesSpec) -> Governing:
    """Return what says which setting gives a finding its level."""

    @cache
    def places(path: str) -> dict[str, str]:
        return {rule.name: rule.governed_by() for rule in spec.rules(os.path.abspath(path))}

    def place(finding: FindingRecord) -> str:
        return places(finding.path)[finding.rule]

    return place
