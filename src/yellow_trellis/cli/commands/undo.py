"""`ytr undo`: an apply taken back, byte for byte: the last, one by name, or a part of one."""

from __future__ import annotations

import os
import sys
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, flag, option, several
from yellow_trellis.cli.console import DIM, RULE, console, counted, listed, notes, tell_problems
from yellow_trellis.cli.exit_codes import UNHANDLED, WRONG_CALL
from yellow_trellis.cli.options import FOLDER, format_option
from yellow_trellis.cli.output import styled, write
from yellow_trellis.project.git import Repository
from yellow_trellis.reports.json import VERSION, dumped
from yellow_trellis.runs.report_types import Problem
from yellow_trellis.runs.transaction.journal import RunInfo
from yellow_trellis.runs.transaction.undo import runs, undo
from yellow_trellis.visible_text import visible

EXAMPLE = "ytr undo    ytr undo --list    ytr undo --rule say-what-is-caught"
TAKES: Takes = (
    FOLDER,
    flag("--list", dest="listing", help="Show the runs on record; change nothing."),
    option("--run", metavar="NAME", help="Take back this run. Example: --run 20260302-101500-001"),
    several(
        "--file",
        dest="files",
        metavar="PATH",
        help="Take back the run in this file alone; several may be given. Example: --file "
        "alder/app.py",
    ),
    several(
        "--rule",
        dest="rules",
        metavar="RULE",
        help="Take back what this rule did; several may be given. Example: --rule not-less",
    ),
    format_option("text", "json"),
)


def command(
    folder: str,
    listing: bool,
    run: str | None,
    files: tuple[str, ...],
    rules: tuple[str, ...],
    form: str,
) -> None:
    """Take back the last apply to the code base of FOLDER (the current one by default).

    Only files are changed: commits stay, and what comes back shows as uncommitted changes. What was
    changed since stays: a file is restored as far as the lines of the run are still as it
    has left them, else it is left alone and told. Calling it again takes back the apply before.
    """
    root = _recorded_above(Path(folder).resolve())
    if listing:
        _list(root, form)
        return
    names = [os.path.relpath(Path(file).resolve(), root).replace(os.sep, "/") for file in files]
    report = undo(root, run=run, files=names, rules=rules)
    if report is None:
        recorded = len(runs(root))
        reason = f"no apply is on record in `{folder}`"
        if below := _recorded_below(root):
            reason += f"; one is in {below}: `ytr undo {below}`"
        if recorded:
            reason = f"all {counted(recorded, 'recorded run')} are already undone"
        notes().print(f"Nothing to undo: {reason}.")
        sys.exit(WRONG_CALL)
    if form == "json":
        remaining = [{"path": path, "reason": reason} for path, reason in report.left]
        messages = {"version": VERSION, "run": report.run, "restored": report.restored}
        write(dumped({**messages, "problems": remaining}))
    else:
        out = console()
        for path in report.restored[:20]:
            out.print(f"  restored {visible(path)}")
        if len(report.restored) > 20:
            out.print(f"  and {counted(len(report.restored) - 20, 'more file')}")
        item = _run_called(root, report.run)
        by = _rule_list(item.rules) if item is not None else ""
        label = f"{report.run} ({by})" if by else report.run
        out.print(f"Took back {label}: {counted(len(report.restored), 'file')} restored.")
        if report.restored and Repository.around(root) is not None:
            hint = "Commits are as they were: `git status` shows what came back."
            out.print(styled(hint, style=DIM))
    tell_problems([Problem(path, reason) for path, reason in report.left])
    if report.left:
        sys.exit(UNHANDLED)


def _recorded_above(root: Path) -> Path:
    """Return the nearest folder from `root` upwards with runs on record; `root` where none has."""
    for folder in (root, *root.parents):
        if runs(folder):
            return folder
        if (folder / ".git").exists():
            break
    return root


def _recorded_below(root: Path) -> str:
    """Return a folder right below `root` with runs on record, as it is named; empty if none has."""
    folders = (entry for entry in sorted(root.iterdir()) if entry.is_dir())
    found = next((entry for entry in folders if runs(entry)), None)
    return os.path.relpath(found) if found is not None else ""


def _run_called(root: Path, name: str) -> RunInfo | None:
    return next((item for item in runs(root) if item.name == name), None)


def _rule_list(rules: tuple[str, ...]) -> str:
    """Return the names of rules as a list in a sentence, of many the first."""
    if len(rules) <= _SHOWN:
        return listed(rules)
    return f"{', '.join(rules[:_SHOWN])} and {len(rules) - _SHOWN:,} more"


_SHOWN = 8
_STATES = {"done": "", "undone": "  taken back", "writing": "  cut short"}


def _list(root: Path, form: str) -> None:
    """Show the runs under `root`, the latest first."""
    result = runs(root)
    if form == "json":
        rows = [
            {
                "run": item.name,
                "started": item.started,
                "state": item.state,
                "rules": list(item.rules),
                "files": item.files,
            }
            for item in result
        ]
        write(dumped({"version": VERSION, "runs": rows}))
        return
    out = console()
    for item in result:
        when = item.started.replace("T", " ")
        state = _STATES.get(item.state, "")
        message = f"  {when}  {counted(item.files, 'file')}"
        out.print(styled((item.name, RULE), message, (state, DIM)))
        out.print(styled(f"    {_rule_list(item.rules)}", style=DIM))
    if not result:
        out.print("No apply is on record here.")
