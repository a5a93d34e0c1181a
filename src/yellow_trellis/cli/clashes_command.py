"""`ytr clashes`: which fixes conflict, over which bytes, and who would win."""

from __future__ import annotations

import sys
from collections import Counter

import click
from rich.console import Console
from rich.text import Text

from yellow_trellis.cli.app import FOUND, UNHANDLED
from yellow_trellis.cli.options import (
    format_option,
    paths_argument,
    rules_options,
    spec_of,
    workers_option,
)
from yellow_trellis.cli.terminal import (
    ASK,
    DIM,
    PLACE,
    RULE,
    console,
    counted,
    run_shown,
    shown_path,
    tell_problems,
    visible,
)
from yellow_trellis.engine.run import Run
from yellow_trellis.formats.json import clashes_json
from yellow_trellis.plans.conflict import EXPLAINED, Conflict, Party


@click.command("clashes", epilog="Example: ytr clashes --rules rules/ src/ --strict")
@paths_argument
@rules_options
@click.option("--strict", is_flag=True, help="Exit with 1 if there is any conflict.")
@format_option("text", "json")
@workers_option
def command(
    paths: tuple[str, ...],
    rule_paths: tuple[str, ...],
    only: tuple[str, ...],
    strict: bool,
    form: str,
    workers: int | None,
) -> None:
    """Check the fixes against each other on PATHS, over all rounds. Nothing is written."""
    found, _ = run_shown(
        paths, spec_of(rule_paths, only), mode="rework", with_review=True, workers=workers
    )
    if form == "json":
        click.echo(clashes_json(found))
    else:
        _show(console(), found)
    tell_problems(found.problems)
    if found.problems:
        sys.exit(UNHANDLED)
    if strict and any(report.conflicts for report in found.reports):
        sys.exit(FOUND)


def _show(out: Console, run: Run) -> None:
    show_conflicts(out, run)
    kinds = Counter(c.kind for report in run.reports for c in report.conflicts)
    fixes = sum(bool(f.fixes) for f in run.findings)
    if not kinds:
        out.print(Text(f"No conflicts: {counted(fixes, 'fix', 'fixes')} compose."))
        return
    told = ", ".join(f"{n:,} {kind}" for kind, n in sorted(kinds.items()))
    out.print(
        Text.assemble(
            (counted(sum(kinds.values()), "conflict"), "bold"),
            f" among {counted(fixes, 'fix', 'fixes')}: {told}.",
        )
    )
    for kind in sorted(kinds):
        out.print(Text(f"  {kind}: {EXPLAINED[kind]}", style=DIM))
    out.print(
        Text(
            "The rule that stands first in the ruleset wins; put the other one first, narrow one "
            "of the two, or use one alone with --only."
        )
    )


def show_conflicts(out: Console, run: Run) -> None:
    """Print every conflict with its parties, their places and the code."""
    for report in run.reports:
        for conflict in dict.fromkeys(report.conflicts):
            _show_conflict(out, report.path, conflict)
            out.print()


def show_yielding(out: Console, run: Run, most: int = 5) -> None:
    """Print the conflicts between two fixes in which one went first, the first few of them."""
    found = [
        (report.path, conflict)
        for report in run.reports
        for conflict in dict.fromkeys(report.conflicts)
        if conflict.other is not None
    ]
    if found:
        out.print(Text(f"{counted(len(found), 'conflict')}; the earlier rule went first:"))
    for path, conflict in found[:most]:
        _show_conflict(out, path, conflict)
    if len(found) > most:
        out.print(
            Text(f"and {len(found) - most:,} more: `ytr undo`, then `ytr clashes`", style=DIM)
        )


def _show_conflict(out: Console, path: str, conflict: Conflict) -> None:
    place = f"{shown_path(path)}:{conflict.party.start}"
    out.print(Text.assemble((conflict.kind, ASK), "  ", (place, PLACE)))
    out.print(Text(f"  {visible(conflict.explained.splitlines()[0])}", style=DIM))
    other = conflict.other
    if other is None:
        _show_party(out, "fix of", conflict.party)
        return
    width = max(len(conflict.party.rule), len(other.rule))
    _show_party(out, "first ", conflict.party, width)
    _show_party(out, "waits ", other, width)


def _show_party(out: Console, role: str, party: Party, width: int = 0) -> None:
    first, *more = party.code.splitlines() or [""]
    code = visible(first.strip()) + (" ..." if more else "")
    place = f"at {party.start}" if party.start == party.end else f"{party.start} to {party.end}"
    out.print(
        Text.assemble(
            f"  {role}  ", (f"{party.rule:<{width}}", RULE), f"  {place}  ", (code, "bold")
        )
    )
