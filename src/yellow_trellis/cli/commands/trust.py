"""`ytr trust`: let the configuration of a folder name code to be run: rules in Python, checks."""

from __future__ import annotations

import os
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option
from yellow_trellis.cli.console import console, shown_path
from yellow_trellis.cli.options import format_option
from yellow_trellis.cli.output import write
from yellow_trellis.project.named_code import named_code
from yellow_trellis.project.settings import settings_for
from yellow_trellis.project.trust import changes, set_trusted, store, trusted
from yellow_trellis.reports.json import VERSION, dumped
from yellow_trellis.visible_text import visible

EXAMPLE = "ytr trust    ytr trust --list    ytr trust --remove ../old"
TAKES: Takes = (
    option(
        "folder",
        metavar="FOLDER",
        nargs="?",
        default=".",
        help="A folder with a configuration, or one below it.",
    ),
    flag("--list", dest="listing", help="Show the folders that are trusted; change nothing."),
    flag("--remove", help="Trust the folder no longer."),
    format_option("text", "json"),
)


def command(folder: str, listing: bool, remove: bool, form: str) -> None:
    """Let the code be run that the configuration of FOLDER (the current one by default) names now.

    A configuration comes with the code, so rules in Python that it names, and commands that check
    files, are run only after you have trusted them. Look at them first. Their contents are what
    you trust, with those of what they import beside them: where one changes, you are asked again,
    and told which. What you name on the command line yourself needs no trust. The list is kept in
    your home, not in the folder.
    """
    if listing:
        _list(form)
        return
    if form != "text":
        raise UsageError("--format json goes with --list")
    settings = settings_for(Path(os.path.realpath(folder)))
    if settings.file is None and not remove:
        raise UsageError(f"{folder}: there is no configuration here that could name code")
    top = Path(os.path.realpath(folder)) if settings.file is None else settings.folder
    before = trusted().get(os.path.realpath(top))
    code = None if remove else named_code(settings)  # what is told is what is trusted
    changed = set_trusted(top, code)
    shown = shown_path(str(top))
    out = console()
    if remove:
        no_more = "is trusted no longer" if changed else "was not trusted"
        out.print(f"The configuration of `{shown}` {no_more}.")
        return
    news = "as it is now" if before is None else "with what is new in it"
    state = news if changed else "as before"
    out.print(f"The code that the configuration of `{shown}` names is trusted, {state}.")
    if settings.rules:
        out.print(f"  its rules: {visible(', '.join(settings.rules))}")
    for language, line in settings.check_syntax:
        out.print(f"  checks {visible(language)} by: {visible(line)}")
    for item in changes(before, code) if before is not None and code is not None else ():
        out.print(f"  {visible(item)}")


def _list(form: str) -> None:
    entry = list(trusted())
    if form == "json":
        write(dumped({"version": VERSION, "trusted": entry}))
        return
    out = console()
    for item in entry:
        out.print(visible(item))
    if not entry:
        out.print(f"No folder is trusted (they are kept in {visible(str(store()))}).")
