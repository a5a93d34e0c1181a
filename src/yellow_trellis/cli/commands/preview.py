"""`ytr preview`: the changes the fixes would make, without making them."""

from __future__ import annotations

import sys

from yellow_trellis.cli.arguments import Takes
from yellow_trellis.cli.console import console, counted, run_shown, tell_problems
from yellow_trellis.cli.diff_view import show_changes, show_fates
from yellow_trellis.cli.exit_codes import UNHANDLED
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    REVIEW,
    RULES,
    RunOptions,
    format_option,
    spec_of,
)
from yellow_trellis.cli.output import write
from yellow_trellis.reports.json import rework_json
from yellow_trellis.runs.file_report import Run

EXAMPLE = "ytr preview --rules rules/ --only stamp-to-tick src/"
TAKES: Takes = (
    PATHS,
    *RULES,
    REVIEW,
    format_option("text", "patch", "json"),
    LOOK,
)


def command(
    paths: tuple[str, ...],
    rule_paths: tuple[str, ...],
    only: tuple[str, ...],
    with_review: bool,
    form: str,
    look: RunOptions,
) -> None:
    """Show as a diff what `ytr apply` would change in PATHS, grouped by rule.

    `--format patch` prints one unified diff in path order, for other programs.
    """
    result, seconds = run_shown(
        paths, spec_of(rule_paths, only), look, mode="rework", with_review=with_review
    )
    if form == "json":
        write(rework_json(result, written=False, left=[]))
    elif form == "patch":
        _print_patch(result)
    else:
        out = console()
        show_changes(out, result)
        if result.changed:
            hunks = sum(len(r.change.hunks) for r in result.changed if r.change is not None)
            out.print("What would become of the findings:")
            show_fates(out, result)
            out.print(
                f"{counted(hunks, 'change')} in {counted(len(result.changed), 'file')} "
                f"({seconds:.1f} s). Nothing is written yet: `ytr apply` does it."
            )
        else:
            out.print("No changes.")
            show_fates(out, result)
    tell_problems(result.problems)
    if result.problems:
        sys.exit(UNHANDLED)


def _print_patch(run: Run) -> None:
    stream = sys.stdout.buffer
    for report in run.changed:
        if report.change is not None:
            stream.write(report.change.patch)
