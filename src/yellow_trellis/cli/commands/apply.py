"""`ytr apply`: the fixes written, each file in one step, with a journal to take it back."""

from __future__ import annotations

import sys
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option, several
from yellow_trellis.cli.commands.clashes import show_conflicts, show_yielding
from yellow_trellis.cli.commits import apply_and_commit
from yellow_trellis.cli.console import (
    ASK,
    console,
    counted,
    notes,
    run_shown,
    shown_path,
    tell_problems,
)
from yellow_trellis.cli.diff_view import applied_rules, show_fates
from yellow_trellis.cli.exit_codes import FOUND, INTERRUPTED, UNHANDLED
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    REVIEW,
    RULES,
    RunOptions,
    format_option,
    spec_of,
)
from yellow_trellis.cli.output import Output, styled, write
from yellow_trellis.cli.prompt import ask_at_terminal
from yellow_trellis.errors import TrellisError
from yellow_trellis.project.cache.state_dir import HOME, MARK
from yellow_trellis.project.discovery import common_root
from yellow_trellis.project.git import NoRevision, uncommitted_of
from yellow_trellis.reports.json import rework_json
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.report_types import Problem
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.transaction.undo import roll_back
from yellow_trellis.runs.transaction.write import WriteReport, write_changes

EXAMPLE = "ytr apply --rules rules/ src/"
TAKES: Takes = (
    PATHS,
    *RULES,
    REVIEW,
    flag("--strict", help="Write nothing at all if any two fixes conflict."),
    flag("--ask", dest="asking", help="Ask about every fix before it is applied."),
    flag(
        "--uncommitted",
        help="Also write files with uncommitted changes.",
    ),
    flag("--commit", dest="committing", help="Make one commit for each rule that changes code."),
    several(
        "--leave",
        dest="leaving",
        metavar="RULE",
        help="Fix nothing, but leave all present findings of a rule alone, by comments. "
        "Example: --leave say-what-is-caught --reason 'it goes with the old exchange'",
    ),
    option("--reason", metavar="TEXT", help="Why, for --leave. Example: --reason 'read by v1'"),
    format_option("text", "json"),
    LOOK,
)


def command(
    paths: tuple[str, ...],
    rule_paths: tuple[str, ...],
    only: tuple[str, ...],
    with_review: bool,
    strict: bool,
    asking: bool,
    uncommitted: bool,
    committing: bool,
    leaving: tuple[str, ...],
    reason: str | None,
    form: str,
    look: RunOptions,
) -> None:
    """Apply the fixes to PATHS, round after round until nothing is left.

    Where two fixes conflict, the earlier rule wins and the other is looked at again in the next
    round. Every file is kept in a journal first: `ytr undo` brings all of it back. With `--ask`
    you choose fix by fix; nothing is written before the last answer.
    """
    spec = spec_of(rule_paths, only)
    if leaving:
        spec = _to_leave(spec, only, leaving, reason)
    elif reason is not None:
        raise UsageError("--reason says why something is left: add --leave RULE")
    argument = look.paths(paths)
    _finish_earlier(common_root(argument))
    if committing:
        if asking or strict or uncommitted or form != "text":
            raise UsageError("--commit goes with none of --ask, --strict, --uncommitted, json")
        apply_and_commit(argument, spec, look, with_review)
        return
    result, seconds = run_shown(
        argument,
        spec,
        look,
        mode="rework",
        with_review=with_review,
        ask=ask_at_terminal if asking else None,
    )
    conflicts = sum(len(report.conflicts) for report in result.reports)
    if strict and conflicts:
        if form == "json":
            write(rework_json(result, written=False, left=[]))
        else:
            show_conflicts(console(), result)
        notes().print(f"{counted(conflicts, 'conflict')}: nothing was written, as --strict asks.")
        sys.exit(FOUND)
    changes = [report.change for report in result.changed if report.change is not None]
    if not uncommitted:
        refuse_uncommitted([change.path for change in changes])
    commands = look.commands()
    report = write_changes(changes, result.root, applied_rules(result), commands)
    if form == "json":
        write(rework_json(result, written=True, left=report.left))
    else:
        _show(console(), result, report, seconds, str(result.root))
    problems = [*result.problems, *(Problem(path, reason) for path, reason in report.left)]
    tell_problems(problems)
    if report.interrupted:
        sys.exit(INTERRUPTED)
    if problems:
        sys.exit(UNHANDLED)


def _to_leave(
    spec: RulesSpec, only: tuple[str, ...], rules: tuple[str, ...], reason: str | None
) -> RulesSpec:
    """Return the rules whose findings are to get comments that leave them alone."""
    if only:
        raise UsageError("--leave names its rules itself: leave out --only")
    if spec.reasons and not reason:
        raise UsageError("the configuration asks for reasons: add --reason TEXT")
    text = " ".join((reason or "").split())
    return spec._replace(only=rules, leaving=text)


def _finish_earlier(root: Path) -> None:
    """Take back what an earlier apply under `root` has left half done, and say so."""
    report = roll_back(root)
    if report is None or not (report.restored or report.left):
        return
    done = "Taken back as far as that goes" if report.left else "It was taken back"
    notes().print(
        styled(
            f"An earlier apply was cut short while it wrote. {done}, "
            f"{counted(len(report.restored), 'file')} restored.",
            style=ASK,
        )
    )
    tell_problems([Problem(path, reason) for path, reason in report.left])
    if report.left:
        notes().print(
            "Nothing was written. Mend that and try again; or put these files right by hand, and "
            f"remove `{HOME}/{MARK}`."
        )
        sys.exit(UNHANDLED)


def refuse_uncommitted(paths: list[str]) -> None:
    """Stop where files to be written have changes that are in no commit. Errors: `TrellisError`."""
    try:
        result = uncommitted_of(paths)
    except NoRevision as wrong:
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
        show_fates(out, run)
        out.print("Nothing to apply.")
        return
    for path in report.written[:20]:
        out.print(f"  wrote {shown_path(path)}")
    if len(report.written) > 20:
        out.print(f"  and {counted(len(report.written) - 20, 'more file')}")
    show_fates(out, run)
    show_yielding(out, run)
    back = "ytr undo" if shown_path(root) == "." else f"ytr undo {root}"
    stopped = "Interrupted: wrote" if report.interrupted else "Wrote"
    out.print(
        f"{stopped} {counted(len(report.written), 'file')} ({seconds:.1f} s). "
        f"`{back}` takes it back."
    )
