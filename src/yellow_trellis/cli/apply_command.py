"""`ytr apply`: the fixes written, each file in one step, with a journal to take it back."""

from __future__ import annotations

import sys

import click
from rich.console import Console
from rich.text import Text

from yellow_trellis.cli.app import FOUND, UNHANDLED
from yellow_trellis.cli.asking import ask_at_terminal
from yellow_trellis.cli.changes import applied_rules, show_fates
from yellow_trellis.cli.clashes_command import show_conflicts, show_yielding
from yellow_trellis.cli.options import (
    format_option,
    paths_argument,
    review_option,
    rules_options,
    spec_of,
    workers_option,
)
from yellow_trellis.cli.terminal import (
    console,
    counted,
    notes,
    run_shown,
    shown_path,
    tell_problems,
)
from yellow_trellis.engine.discovery import common_root
from yellow_trellis.engine.examination import Problem
from yellow_trellis.engine.runner import Run
from yellow_trellis.engine.write import WriteReport, write_changes
from yellow_trellis.formats.json import rework_json


@click.command("apply", epilog="Example: ytr apply --rules rules/ src/    then: ytr undo")
@paths_argument
@rules_options
@review_option
@click.option("--strict", is_flag=True, help="Write nothing at all if any two fixes conflict.")
@click.option("--ask", "asking", is_flag=True, help="Ask about every fix before it is applied.")
@format_option("text", "json")
@workers_option
def command(
    paths: tuple[str, ...],
    rule_paths: tuple[str, ...],
    only: tuple[str, ...],
    with_review: bool,
    strict: bool,
    asking: bool,
    form: str,
    workers: int | None,
) -> None:
    """Apply the fixes to PATHS, round after round until nothing is left.

    Where two fixes conflict, the earlier rule wins and the other is looked at again in the next
    round. Every file is kept in a journal first: `ytr undo` brings all of it back. With `--ask`
    you choose fix by fix; nothing is written before the last answer.
    """
    found, seconds = run_shown(
        paths,
        spec_of(rule_paths, only),
        mode="rework",
        with_review=with_review,
        workers=workers,
        ask=ask_at_terminal if asking else None,
    )
    conflicts = sum(len(report.conflicts) for report in found.reports)
    if strict and conflicts:
        if form == "json":
            click.echo(rework_json(found, written=False, left=[]))
        else:
            show_conflicts(console(), found)
        notes().print(
            Text(f"{counted(conflicts, 'conflict')}: nothing was written, as --strict asks.")
        )
        sys.exit(FOUND)
    changes = [report.change for report in found.changed if report.change is not None]
    root = common_root(paths)
    report = write_changes(changes, root, applied_rules(found))
    if form == "json":
        click.echo(rework_json(found, written=True, left=report.left))
    else:
        _show(console(), found, report, seconds, str(root))
    problems = [*found.problems, *(Problem(path, reason) for path, reason in report.left)]
    tell_problems(problems)
    if problems:
        sys.exit(UNHANDLED)


def _show(out: Console, run: Run, report: WriteReport, seconds: float, root: str) -> None:
    if not report.written:
        show_fates(out, run)
        out.print(Text("Nothing to apply."))
        return
    for path in report.written[:20]:
        out.print(Text(f"  wrote {shown_path(path)}"))
    if len(report.written) > 20:
        out.print(Text(f"  and {counted(len(report.written) - 20, 'more file')}"))
    show_fates(out, run)
    show_yielding(out, run)
    back = "ytr undo" if shown_path(root) == "." else f"ytr undo {root}"
    out.print(
        Text(
            f"Wrote {counted(len(report.written), 'file')} ({seconds:.1f} s). "
            f"`{back}` takes it back."
        )
    )
