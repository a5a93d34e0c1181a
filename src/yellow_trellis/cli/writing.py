"""Writing what fixes have made of files, and saying so: shared by all commands that write."""

from __future__ import annotations

from yellow_trellis.cli.commands.clashes import show_yielding
from yellow_trellis.cli.console import console, counted, shown_path, tell_problems
from yellow_trellis.cli.diff_view import applied_rules, show_fates
from yellow_trellis.cli.exit_codes import INTERRUPTED, UNHANDLED
from yellow_trellis.cli.output import Output, write
from yellow_trellis.cli.presentation import presentation
from yellow_trellis.errors import TrellisError
from yellow_trellis.project.git import RevisionError, uncommitted_of
from yellow_trellis.reports.json import rework_json
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.report_types import Problem, certain
from yellow_trellis.runs.transaction.write import WriteReport, write_changes


def write_fixes(
    result: Run,
    seconds: float,
    uncommitted: bool,
    commands: tuple[tuple[str, str], ...],
    form: str = "text",
) -> int:
    """Write the changes of a run, print what was done, and return the exit status.

    Arguments: `uncommitted` lets files with uncommitted changes be written; `commands` check the
    syntax of files. Errors: `TrellisError`, where nothing may be written.
    """
    changes = result.changes
    if not uncommitted:
        refuse_uncommitted([change.path for change in changes])
    report = write_changes(changes, result.root, applied_rules(result), commands)
    if form == "json":
        write(rework_json(result, written=True, left=report.left))
    else:
        _show(console(), result, report, seconds, str(result.root))
    problems = [*result.problems, *(Problem(path, reason) for path, reason in report.left)]
    tell_problems(problems)
    if report.interrupted:
        return INTERRUPTED
    return UNHANDLED if certain(problems) else 0


def refuse_uncommitted(paths: list[str]) -> None:
    """Stop where files to be written have changes that are in no commit. Errors: `TrellisError`."""
    try:
        result = uncommitted_of(paths)
    except RevisionError as wrong:
        raise TrellisError(
            f"{wrong}\nSo nobody knows what is in no commit: nothing was written. "
            "Mend that first, or say --uncommitted"
        ) from None
    if not result:
        return
    shown = "\n".join(f"  {shown_path(path)}" for path in result[:8])
    extra = f"\n  and {counted(len(result) - 8, 'more file')}" if len(result) > 8 else ""
    verb = "has" if len(result) == 1 else "have"
    raise TrellisError(
        f"{counted(len(result), 'file')} to be written {verb} uncommitted changes:\n"
        f"{shown}{extra}\n"
        "Nothing was written. Commit or set them aside first, or say --uncommitted"
    )


def _show(out: Output, run: Run, report: WriteReport, seconds: float, root: str) -> None:
    if not report.written:
        if not presentation().quiet:
            show_fates(out, run)
        out.print("Nothing to apply.")
        return
    shown = [] if presentation().quiet else report.written
    for path in shown[:20]:
        out.print(f"  wrote {shown_path(path)}")
    if len(shown) > 20:
        out.print(f"  and {counted(len(report.written) - 20, 'more file')}")
    if shown:
        show_fates(out, run)
        show_yielding(out, run)
    back = "ytr undo" if shown_path(root) == "." else f"ytr undo {root}"
    stopped = "Interrupted: wrote" if report.interrupted else "Wrote"
    out.print(
        f"{stopped} {counted(len(report.written), 'file')} ({seconds:.1f} s). "
        f"`{back}` takes it back."
    )
