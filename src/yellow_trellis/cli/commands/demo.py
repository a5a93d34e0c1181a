"""`ytr demo`: a copy of the made-up tram company's code, and the whole day's work on it."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

from yellow_trellis.cli.app import call
from yellow_trellis.cli.arguments import Takes, flag, option
from yellow_trellis.cli.console import DIM, RULE, console
from yellow_trellis.cli.output import styled
from yellow_trellis.languages import MissingLanguage, language
from yellow_trellis.project.discovery import MissingPath

_STEPS = (
    (
        "survey --rules rules alder",
        "What do the rules find? Rule by rule, with the places.",
        "Try `ytr survey --rules rules alder --all`, or `--format json`.",
    ),
    (
        "clashes --rules rules alder",
        "Do any two fixes want the same bytes? Two rules were made to clash.",
        "Try it with `--only name-the-fare --only fare-by-card`, and with `--strict`.",
    ),
    (
        "preview --rules rules --only stamp-to-tick alder",
        "What would one rule change? A diff; nothing is written.",
        "Try `--format patch`, or leave out `--only` to see all of it.",
    ),
    (
        "apply --rules rules alder --uncommitted",
        "Apply everything, round after round, with a journal. The copy is in no commit: "
        "that it may be written nevertheless has to be said.",
        "Now read the changes, run `ytr survey --rules rules alder` again, and take it all back "
        "with `ytr undo`.",
    ),
)


EXAMPLE = "ytr demo    ytr demo /tmp/trams"
TAKES: Takes = (
    option(
        "folder",
        metavar="FOLDER",
        nargs="?",
        default="alder-tramways",
        help="Where the code is put.",
    ),
    flag("--copy-only", help="Put the code there and run nothing."),
)


def command(folder: str, copy_only: bool) -> None:
    """Put the code of Alder Tramways, a made-up tram company, in FOLDER and work on it.

    Runs survey, clashes, preview and apply, and says at each step what it does and what to try
    next. FOLDER must not exist yet. Needs no network.
    """
    target = Path(folder)
    if target.exists():
        raise MissingPath(f"{folder}: this folder exists already; name another: `ytr demo FOLDER`")
    shutil.copytree(demo_home(), target)
    out = console()
    out.print(f"The code of Alder Tramways is in {folder}; its rules are in {folder}/rules.")
    if copy_only:
        return
    only_python = _without_missing_languages(target)
    os.chdir(target)
    for number, (line, why, then) in enumerate(_STEPS, 1):
        out.print()
        out.print(_heading(f"{number} of {len(_STEPS)}"))
        out.print(why)
        out.print(styled(f"$ ytr {line}", style="bold"))
        out.print()
        _run(line)
        out.print(styled(then, style=DIM))
    out.print()
    out.print(f"Done. Look around: cd {folder}")
    if only_python:
        out.print(styled(only_python, style=DIM))


def _heading(title: str) -> str:
    """Return a line across the terminal that starts with a title."""
    tail = max(shutil.get_terminal_size().columns - len(title) - 1, 3)
    return styled((title, RULE), " ", "-" * tail)


def _run(line: str) -> None:
    """Run a command as the terminal would; its exit status is no matter here."""
    try:
        call(line.split())
    except SystemExit:
        return


def demo_home() -> Path:
    """Return the folder of the demo: inside the installed package, or in the source tree."""
    package = Path(__file__).resolve().parents[2]
    for home in (package / "_demo", package.parents[1] / "demo"):
        if (home / "rules").is_dir():
            return home
    raise MissingPath("the demo is not part of this installation; install yellow-trellis again")


def _without_missing_languages(target: Path) -> str:
    """Take out the rules of languages that are not installed, and say so."""
    try:
        language("javascript")
    except MissingLanguage as missing:
        (target / "rules" / "rider_page.py").unlink()
        return f"The rider page was left out: {missing}"
    return ""
