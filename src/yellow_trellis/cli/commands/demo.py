"""`ytr demo`: a copy of the made-up tram company's code, and the whole day's work on it."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

from yellow_trellis.cli.app import call
from yellow_trellis.cli.arguments import Takes, flag, option
from yellow_trellis.cli.console import DIM, RULE, console
from yellow_trellis.cli.output import Output, styled
from yellow_trellis.languages import MissingLanguageError, language
from yellow_trellis.project.discovery import MissingPathError

_STEPS = (
    (
        "survey --rules rules --only say-what-is-caught alder/fares",
        "What does a rule find? The places, with their code.",
        "Try `ytr survey --rules rules alder`: all rules, the whole company.",
    ),
    (
        "clashes --rules rules --only name-the-fare --only fare-by-card alder/fares/kiosk.py",
        "Do any two fixes want the same bytes? These two rules were made to clash.",
        "Try it on `alder`, with all rules, and with `--strict`.",
    ),
    (
        "preview --rules parts/rules/page.toml --rules parts/rules/farebox.toml "
        "--rules parts/rules/gateway.toml parts",
        "What would rules change? Diffs of TypeScript, Java and Go; nothing is written.",
        "The signal box, the timetables, the till and more are in `parts`, each with rules of its "
        "own in `parts/rules`: `ytr preview --rules parts/rules parts`.",
    ),
    (
        "apply --rules rules --only stamp-to-tick alder/fares --uncommitted",
        "Apply a rule, with a journal. The copy is in no commit: that it may be written "
        "nevertheless has to be said.",
        "Now apply all rules to `alder`, read the changes, run `ytr survey --rules rules alder` "
        "again, and take it all back with `ytr undo`.",
    ),
)
_PARTS = {
    "cpp": "lamps", "csharp": "timetables", "go": "gateway", "java": "farebox",
    "pascal": "till", "php": "tickets", "ruby": "depot", "rust": "interlock",
    "swift": "inspector", "typescript": "page",
}
"""By language: the file with the rules for the part of the company that is written in it."""


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
        raise MissingPathError(
            f"{folder}: this folder exists already; name another: `ytr demo FOLDER`"
        )
    shutil.copytree(demo_home(), target)
    out = console()
    out.print(f"The code of Alder Tramways is in {folder}; its rules are in {folder}/rules.")
    missing = _without_missing_languages(target)
    if copy_only:
        _tell_missing(out, missing)
        return
    steps = [step for step in _STEPS if all(map(_is_there, _rule_files(target, step[0])))]
    os.chdir(target)
    for number, (line, why, then) in enumerate(steps, 1):
        out.print()
        out.print(_heading(f"{number} of {len(steps)}"))
        out.print(why)
        out.print(styled(f"$ ytr {line}", style="bold"))
        out.print()
        _run(line)
        out.print(styled(then, style=DIM))
    out.print()
    out.print(f"Done. Look around: cd {folder}")
    _tell_missing(out, missing)


def _tell_missing(out: Output, missing: list[str]) -> None:
    """Say which rules are left out, as their languages are not installed."""
    if missing:
        text = f"Left out are rules for {', '.join(missing)}, which are not installed"
        out.print(styled(f"{text}: pip install 'yellow-trellis[all-languages]'", style=DIM))


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
    raise MissingPathError(
        "the demo is not part of this installation; install yellow-trellis again"
    )


def _rule_files(target: Path, line: str) -> list[Path]:
    """Return the rule files for single parts that a command names."""
    return [target / word for word in line.split() if word.endswith(".toml")]


def _is_there(file: Path) -> bool:
    return file.is_file()


def _without_missing_languages(target: Path) -> list[str]:
    """Take out the rules of languages that are not installed, and return those languages."""
    missing = [name for name in ("javascript", *_PARTS) if not _is_installed(name)]
    for name in missing:
        rules = Path("rules", "rider_page.py")
        (target / (rules if name == "javascript" else f"parts/rules/{_PARTS[name]}.toml")).unlink()
    return missing


def _is_installed(name: str) -> bool:
    try:
        language(name)
    except MissingLanguageError:
        return False
    return True
