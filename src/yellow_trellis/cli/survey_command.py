"""`ytr survey`: what the rules find, rule by rule."""

from __future__ import annotations

import sys
from collections import Counter
from itertools import groupby

import click
from rich.console import Console
from rich.text import Text

from yellow_trellis.cli.app import FOUND, UNHANDLED
from yellow_trellis.cli.options import (
    Look,
    format_option,
    look_options,
    paths_argument,
    rules_options,
    settings_here,
    spec_of,
)
from yellow_trellis.cli.survey_extras import show_timings, show_why
from yellow_trellis.cli.terminal import (
    ASK,
    BAD,
    DIM,
    PLACE,
    RULE,
    code_line,
    console,
    counted,
    notes,
    run_shown,
    shown_path,
    tell_problems,
    visible,
)
from yellow_trellis.engine.examination import FindingRecord
from yellow_trellis.engine.runner import Run
from yellow_trellis.formats.json import survey_json
from yellow_trellis.rules import LEVELS

_SHOWN = 8
_LEVEL_STYLE = {"error": BAD, "warning": "yellow", "note": "blue"}


@click.command("survey", epilog="Example: ytr survey --rules rules/ src/ --fail-at error")
@paths_argument
@rules_options
@click.option(
    "--all", "everything", is_flag=True, help="Show every place, not the first few of each rule."
)
@click.option(
    "--fail-at",
    type=click.Choice([*LEVELS[:-1], "never"]),
    help="Exit with 1 when there is a finding of this level or a graver one; `warning`, or what "
    "the configuration says, if left out. Example: --fail-at error",
)
@click.option("--timings", is_flag=True, help="Show where the time goes; known files are not used.")
@click.option(
    "--explain",
    metavar="FILE",
    help="Say why a file is looked at or not, and by which rules. Example: --explain alder/app.py",
)
@format_option("text", "json")
@look_options
def command(
    paths: tuple[str, ...],
    rule_paths: tuple[str, ...],
    only: tuple[str, ...],
    everything: bool,
    fail_at: str | None,
    timings: bool,
    explain: str | None,
    form: str,
    look: Look,
) -> None:
    """Show what the rules find in PATHS (the current folder by default). Nothing is written."""
    spec = spec_of(rule_paths, only)
    if explain is not None:
        show_why(console(), explain, look.paths(paths), spec, look.scope)
        return
    found, seconds = run_shown(paths, spec, look, timed=timings)
    if timings:
        show_timings(notes() if form == "json" else console(), found, seconds)
    if form == "json":
        click.echo(survey_json(found))
    else:
        _show(found, seconds, everything, {rule.name: rule.summary for rule in spec.ruleset()})
    tell_problems(found.problems)
    if found.problems:
        sys.exit(UNHANDLED)
    fail_at = fail_at or settings_here().fail_at
    if fail_at != "never":
        grave = LEVELS[: LEVELS.index(fail_at) + 1]
        if any(f.level in grave for f in found.findings):
            sys.exit(FOUND)


def _show(run: Run, seconds: float, everything: bool, summaries: dict[str, str]) -> None:
    out = console()
    findings = sorted(run.findings, key=lambda f: (LEVELS.index(f.level), f.rule, f.path, f.start))
    for rule, group in groupby(findings, key=lambda f: f.rule):
        _show_rule(out, rule, list(group), everything, summaries[rule])
    _show_summary(out, run, seconds)


def _show_rule(
    out: Console, rule: str, findings: list[FindingRecord], everything: bool, summary: str
) -> None:
    fixable = sum(bool(f.fixes) for f in findings)
    level = findings[0].level
    out.print(
        Text.assemble(
            (rule, RULE),
            "  ",
            (level, _LEVEL_STYLE[level]),
            f"  {counted(len(findings), 'place')}",
            (f", {fixable:,} with a fix" if fixable else ", no fix", DIM),
        )
    )
    out.print(Text(f"  {summary}"))
    told = {f.message for f in findings} - {summary}
    if len(told) == 1 and all(f.message in told for f in findings):
        summary = told.pop()
        out.print(Text(f"  {visible(summary)}", style=DIM))
    shown = findings if everything else findings[:_SHOWN]
    for path, here in groupby(shown, key=lambda f: f.path):
        out.print(Text.assemble("  ", (shown_path(path), PLACE)))
        for one in here:
            _show_place(out, one, summary)
    if len(shown) < len(findings):
        rest = len(findings) - len(shown)
        out.print(Text(f"  and {counted(rest, 'more place')}: --all shows them", style=DIM))
    out.print()


def _show_place(out: Console, found: FindingRecord, known: str) -> None:
    text = code_line(found)
    if found.fixes and all(safety == "review" for _, safety in found.fixes):
        text.append("  its fix asks for review", style=ASK)
    out.print(text)
    if found.message != known:
        out.print(Text(f"           {visible(found.message)}", style=DIM))


def _show_summary(out: Console, run: Run, seconds: float) -> None:
    findings = run.findings
    looked = f"{counted(len(run.reports), 'file')}, {counted(run.lines, 'line')}, {seconds:.1f} s"
    _show_left(out, run)
    excused = sum(report.excused for report in run.reports)
    if excused:
        told = f"{counted(excused, 'finding')} left alone by comments in the code"
        out.print(Text(told, style=DIM))
    if not findings:
        out.print(Text(f"Nothing found ({looked})."))
        return
    rules = len({f.rule for f in findings})
    files = len({f.path for f in findings})
    fixable = sum(bool(f.fixes) for f in findings)
    out.print(
        Text.assemble(
            (counted(len(findings), "finding"), "bold"),
            f" by {counted(rules, 'rule')} in {counted(files, 'file')} ({looked}).",
        )
    )
    conflicts = sum(len(report.conflicts) for report in run.reports)
    if fixable:
        out.print(Text(f"{fixable:,} can be fixed: `ytr preview` shows how."))
    if conflicts:
        out.print(
            Text(
                f"{counted(conflicts, 'conflict')} among the fixes: `ytr clashes` shows which.",
                style=ASK,
            )
        )


def _show_left(out: Console, run: Run) -> None:
    """Say how many files were found and not looked at, by reason."""
    for reason, number in Counter(one.reason for one in run.left).most_common():
        told = f"{counted(number, 'file')} not looked at: {reason}"
        out.print(Text(told, style=DIM))
