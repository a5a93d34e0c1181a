"""`ytr preview`: the changes the fixes would make, without making them."""

from __future__ import annotations

import sys

from yellow_trellis.cli.arguments import Takes, flag
from yellow_trellis.cli.commands.clashes import show_conflicts
from yellow_trellis.cli.console import console, counted, tell_problems
from yellow_trellis.cli.diff_view import show_changes, show_fates
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    REVIEW,
    RULES,
    STRICT,
    RuleChoice,
    LookOptions,
    format_option,
)
from yellow_trellis.cli.output import write
from yellow_trellis.cli.reworking import ACCEPTED, rework_shown
from yellow_trellis.reports.json import rework_json
from yellow_trellis.runs.file_report import Run

EXAMPLE = "ytr preview --rules rules/ --only stamp-to-tick src/"
TAKES: Takes = (
    PATHS,
    RULES,
    REVIEW,
    ACCEPTED,
    STRICT,
    flag("--all", dest="everything", help="Show every change and conflict, not the first ones."),
    format_option("text", "patch", "json"),
    LOOK,
)

_LINES, _CONFLICTS = 400, 5
"""How many lines of diff, and how many conflicts, are shown unless all are asked for."""


def command(
    paths: tuple[str, ...],
    choice: RuleChoice,
    with_review: bool,
    with_accepted: bool,
    strict: bool,
    everything: bool,
    form: str,
    look: LookOptions,
) -> None:
    """Show as a diff what `ytr apply` would change in PATHS, grouped by rule, and the conflicts.

    `--format patch` prints one unified diff in path order, for other programs. What the configured
    baseline accepts is not changed without `--with-accepted`.
    """
    spec = choice.spec()
    result, seconds = rework_shown(
        paths, spec, look, with_review=with_review, with_accepted=with_accepted, tells=True
    )
    if form == "json":
        write(rework_json(result, written=False, left=[]))
    elif form == "patch":
        _print_patch(result)
    else:
        out = console()
        show_changes(out, result, None if everything else _LINES)
        conflicts = len(result.conflicts)
        if conflicts:
            out.print(f"{counted(conflicts, 'conflict')}, the first rule going before the other:")
            out.print()
            show_conflicts(out, result, None if everything else _CONFLICTS)
            out.print()
        if result.changed:
            hunks = sum(len(change.hunks) for change in result.changes)
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
    if result.unhandled:
        sys.exit(UNHANDLED)
    if strict and result.conflicts:
        sys.exit(FOUND)


def _print_patch(run: Run) -> None:
    for change in run.changes:
        sys.stdout.buffer.write(change.patch)
