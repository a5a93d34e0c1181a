"""`ytr init`: a configuration with comments, for the code that is there."""

from __future__ import annotations

import re
from collections import Counter
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, flag, option, several
from yellow_trellis.cli.console import console, counted, listed
from yellow_trellis.errors import TrellisError
from yellow_trellis.languages import names
from yellow_trellis.project.discovery import discover
from yellow_trellis.project.locate import HEADER, OWN, SHARED
from yellow_trellis.project.safe_paths import Beneath
from yellow_trellis.project.settings import FAILING
from yellow_trellis.reports.baseline import NAME as BASELINE
from yellow_trellis.reports.history import NAME as HISTORY
from yellow_trellis.rules import pack_called

EXAMPLE = "ytr init --rules rules/ --paths alder    ytr init --ask"
TAKES: Takes = (
    several(
        "--rules",
        "-r",
        metavar="PATH",
        help="A rule file, a folder of them or a pack; several are taken in order. "
        "Example: --rules rules/",
    ),
    several(
        "--paths",
        metavar="PATH",
        help="What to look at where a command names nothing. Example: --paths alder",
    ),
    option(
        "--fail-at",
        choices=FAILING,
        help="The level at which a survey fails. Example: --fail-at error",
    ),
    flag("--ask", help="Ask for what is not given."),
    flag("--shared", help=f"Write into {SHARED} instead of {OWN}."),
)


def command(
    rules: tuple[str, ...],
    paths: tuple[str, ...],
    fail_at: str | None,
    ask: bool,
    shared: bool,
) -> None:
    """Write a configuration for the current folder, after a look at its code.

    Without options it takes what it sees: the rules in `rules/` if there are any, all folders with
    code. Nothing that is there is written over.
    """
    file = Path(SHARED if shared else OWN)
    if file.is_symlink():
        raise TrellisError(f"{file}: it is a link, and nothing is written through one")
    try:
        entry = file.read_text("utf-8") if file.is_file() else ""
    except UnicodeDecodeError as wrong:
        raise TrellisError(f"{file}: this is no UTF-8 (byte {wrong.start})") from None
    if entry and (not shared or "tool.yellow-trellis" in entry):
        raise TrellisError(f"{file}: there is a configuration already: change it by hand")
    second = Path(OWN if shared else SHARED)
    if second.is_file() and (shared or re.search(HEADER, second.read_bytes())):
        raise TrellisError(f"{second}: there is a configuration already: change it by hand")
    visit = _folders()
    rules = rules or (("rules",) if _has_rules(Path("rules")) else ())
    paths = paths or tuple(name for name, _ in visit if name not in rules)
    if ask:
        from rich.prompt import Prompt  # few calls ask

        rules = _answer("Rules: files, folders or packs", rules or ("python-names",))
        paths = _answer("Look at", paths or (".",))
        fail_at = Prompt.ask("Fail at", choices=list(FAILING), default=fail_at or "warning")
    text = _settings_text(rules or ("python-names",), paths or (".",), fail_at or "warning", shared)
    with Beneath(Path()).appending(file.name) as out:
        out.write((("\n" if entry else "") + text).encode("utf-8"))
    shown = console()
    code = sum(number for _, number in visit)
    shown.print(f"Wrote {file}: {counted(code, 'file')} in {listed(n for n, _ in visit)}.")
    if bare := [name for name in rules if not Path(name).exists() and pack_called(name) is None]:
        verb = "holds" if len(bare) == 1 else "hold"
        message = f"{listed(bare)} {verb} no rules yet: `ytr new RULE --at FILE:LINE` starts one."
        shown.print(message)
    elif any(map(_has_code, rules)):
        shown.print("Some of its rules are Python: look at them, then `ytr trust` lets them run.")
        shown.print("After that `ytr survey` needs no options.")
    else:
        shown.print("Now `ytr survey` needs no options.")


def _folders() -> list[tuple[str, int]]:
    """Return the folders with code, the fullest first."""
    counter = Counter(
        Path(file.path).parts[0] if len(Path(file.path).parts) > 1 else "."
        for file in discover(["."], frozenset(names()))
    )
    return counter.most_common()


def _has_rules(folder: Path) -> bool:
    return any(folder.glob("*.toml")) or any(folder.glob("*.py"))


def _has_code(name: str) -> bool:
    path = Path(name)
    return path.suffix == ".py" or (path.is_dir() and any(path.glob("*.py")))


def _answer(question: str, results: tuple[str, ...]) -> tuple[str, ...]:
    from rich.prompt import Prompt

    message = Prompt.ask(f"{question}, with commas between", default=", ".join(results))
    return tuple(part.strip() for part in message.split(",") if part.strip())


def _settings_text(
    rules: tuple[str, ...], paths: tuple[str, ...], fail_at: str, shared: bool
) -> str:
    table = "tool.yellow-trellis" if shared else ""
    head = f"[{table}]\n" if table else ""
    inner = f"{table}." if table else ""
    return f"""{head}# Rule files, folders of them, and packs. The earlier rule wins a conflict.
rules = [{_texts(rules)}]

# What is looked at where a command names no paths.
paths = [{_texts(paths)}]

# Files to skip; patterns as in .gitignore.
skip = []

# A survey exits with 1 at findings of this level or higher: error, warning, note, never.
fail-at = "{fail_at}"

# Treat warnings as errors; ignore fixable findings; allow this many findings.
# warnings-as-errors = true
# fixable-passes = true
# at-most = 20

# Findings that are accepted, which `ytr baseline` writes; and what `ytr survey --record` adds to.
# baseline = "{BASELINE}"
# history = "{HISTORY}"

# Comments that leave a place alone must say why.
# reasons = true

# Which fixes `ytr apply` applies without asking: nothing, safe, all.
# unasked = "safe"

# The oldest Python that changed files must be read by.
# python-version = "3.9"

# Commands that must take a changed file of a language before it is written.
[{inner}check-syntax]
# javascript = "node --check"

# Levels of single rules instead of their own: error, warning, note, off.
[{inner}levels]
# say-what-is-caught = "error"

# Options of rules; `ytr rules RULE` shows which a rule has.
[{inner}options]
# idle-import = {{ kept = ["readline"] }}

# Which fixes of single rules are applied without asking.
[{inner}unasked-of]
# say-what-is-caught = "nothing"

# Other settings of rules in some paths only; a later part goes before an earlier one.
# [[{inner}parts]]
# paths = ["tests/"]
# levels = {{ say-what-is-caught = "off" }}
"""


def _texts(values: tuple[str, ...]) -> str:
    return ", ".join('"' + value.replace("\\", "/").replace('"', '\\"') + '"' for value in values)
