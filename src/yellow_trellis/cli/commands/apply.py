"""`ytr apply`: the fixes written, each file in one step, with a journal to take it back."""

from __future__ import annotations

import sys
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option, several
from yellow_trellis.cli.commands.clashes import show_conflicts
from yellow_trellis.cli.commits import apply_and_commit
from yellow_trellis.cli.console import (
    ASK,
    console,
    counted,
    notes,
    tell_problems,
)
from yellow_trellis.cli.diff_view import applied_rules, show_fates
from yellow_trellis.cli.diff_view import show_refused
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    REVIEW,
    RULES,
    STRICT,
    UNCOMMITTED,
    RuleChoice,
    LookOptions,
    format_option,
)
from yellow_trellis.cli.output import styled, write
from yellow_trellis.cli.prompt import ask_at_terminal
from yellow_trellis.cli.reworking import ACCEPTED, rework_shown
from yellow_trellis.cli.writing import write_fixes
from yellow_trellis.project.cache.state_dir import HOME, MARK
from yellow_trellis.project.discovery import root_of
from yellow_trellis.reports.json import rework_json
from yellow_trellis.runs.report_types import Problem
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.transaction.undo import roll_back

EXAMPLE = "ytr apply --rules rules/ src/"
TAKES: Takes = (
    PATHS,
    RULES,
    REVIEW,
    ACCEPTED,
    STRICT,
    flag("--ask", dest="asking", help="Ask about every fix before it is applied."),
    UNCOMMITTED,
    flag("--commit", dest="committing", help="Make one commit for each rule that changes code."),
    option(
        "--author",
        metavar="AUTHOR",
        help="Whom the commits are by; whom git knows, if left out. Example: --author "
        "'Trellis <trellis@alder.example>'",
    ),
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
    choice: RuleChoice,
    with_review: bool,
    with_accepted: bool,
    strict: bool,
    asking: bool,
    uncommitted: bool,
    committing: bool,
    author: str | None,
    leaving: tuple[str, ...],
    reason: str | None,
    form: str,
    look: LookOptions,
) -> None:
    """Apply the fixes to PATHS, round after round until nothing is left.

    Where two fixes conflict, the earlier rule wins and the other is looked at again in the next
    round. Every file is kept in a journal first: `ytr undo` brings all of it back. With `--ask`
    you choose fix by fix; nothing is written before the last answer. What the configured baseline
    accepts is not fixed without `--with-accepted`. With `--stdin-name` the fixed
    text goes to standard output, and no file is written.
    """
    spec = choice.spec()
    if leaving:
        spec = _to_leave(spec, choice, leaving, reason)
    elif reason is not None:
        raise UsageError("--reason says why something is left: add --leave RULE")
    argument = look.paths(paths)
    if look.stdin_name is not None:
        _print_fixed(spec, look, with_review, with_accepted)
        return
    _finish_earlier(root_of(argument))
    if author is not None and not committing:
        raise UsageError("--author goes with --commit")
    if committing:
        if asking or strict or uncommitted or form != "text":
            raise UsageError("--commit goes with none of --ask, --strict, --uncommitted, json")
        apply_and_commit(argument, spec, look, with_review, with_accepted, author)
        return
    ask = ask_at_terminal if asking else None
    result, seconds = rework_shown(
        argument,
        spec,
        look,
        with_review=with_review,
        with_accepted=with_accepted,
        ask=ask,
        tells=True,
    )
    conflicts = len(result.conflicts)
    if strict and conflicts:
        if form == "json":
            write(rework_json(result, written=False, left=[]))
        else:
            show_conflicts(console(), result)
        notes().print(f"{counted(conflicts, 'conflict')}: nothing was written, as --strict asks.")
        sys.exit(FOUND)
    status = write_fixes(result, seconds, uncommitted, look.commands(), form)
    if status:
        sys.exit(status)


def _print_fixed(
    spec: RulesSpec, look: LookOptions, with_review: bool, with_accepted: bool
) -> None:
    """Print the text on standard input as the fixes leave it."""
    result, _ = rework_shown(
        (), spec, look, with_review=with_review, with_accepted=with_accepted, tells=True
    )
    (raw,) = look.unsaved().values()
    for change in result.changes:
        raw = change.raw
    write([raw])
    show_refused(notes(), result)
    tell_problems(result.problems)
    if result.unhandled:
        sys.exit(UNHANDLED)


def _to_leave(
    spec: RulesSpec, choice: RuleChoice, rules: tuple[str, ...], reason: str | None
) -> RulesSpec:
    """Return the rules whose findings are to get comments that leave them alone."""
    if choice.is_partial:
        raise UsageError(
            "--leave names its rules itself: leave out --only, --without and --tag"
        )
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
