"""Ask compilers and interpreters about the syntax of files, where they are installed.

A compiler that goes on to types says there what it likes: only what it says of the syntax counts.
"""

from __future__ import annotations

import re
import shutil
import subprocess
from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

_HERE = Path(__file__).parent


class Checker(NamedTuple):
    """A command that reads files."""

    command: tuple[str, ...]
    refusal: str = ""
    """What it says, as a regular expression, of a file whose syntax it refuses, or which it does
    not read to the end. Empty where it says so by its exit status."""
    many: bool = False
    """Whether it takes many files at once, and prints those that it refuses, one a line."""


_GNU = r"error: (expected|stray|unterminated|missing)|fatal"
_RUST = "expected|unexpected|mismatched|unclosed|missing|unknown|unterminated|this file"
CHECKERS = {
    "c": Checker(("gcc", "-fsyntax-only", "-w"), _GNU),
    "cpp": Checker(("g++", "-fsyntax-only", "-w", "-x", "c++"), _GNU),
    "go": Checker(("gofmt", "-e")),
    "java": Checker(("java", str(_HERE / "java_syntax.java")), many=True),
    "javascript": Checker(("node", "--check")),
    "pascal": Checker(
        ("fpc", "-s", "-vew", "-FE{out}", "-Fu{folder}", "-Fi{folder}"),
        r"Fatal: (?!Compilation aborted|There were)",
    ),
    "php": Checker(("php", "-l")),
    "ruby": Checker(("ruby", "-c")),
    "rust": Checker(
        (
            *("rustc", "--edition", "2021", "--crate-type", "lib"),
            *("--emit", "metadata", "--out-dir", "{out}"),
        ),
        rf"(?m)^error: ({_RUST})",
    ),
    "typescript": Checker(("node", str(_HERE / "typescript_syntax.js"), "{typescript}"), many=True),
    "tsx": Checker(("node", str(_HERE / "typescript_syntax.js"), "{typescript}"), many=True),
}
"""By language: what says whether it takes the syntax of a file."""


def refused_by_checker(
    paths: Iterable[Path], language: str, scratch: Path, typescript: str = ""
) -> set[Path] | None:
    """Return the files whose syntax is refused; None where there is nothing that checks it.

    Arguments: `scratch` is a folder for what compilers write; `typescript` is the file
    `lib/typescript.js` of the compiler's npm package.
    """
    checker = CHECKERS.get(language)
    if checker is None or shutil.which(checker.command[0]) is None:
        return None
    if "{typescript}" in checker.command and not typescript:
        return None
    entries = sorted(paths)

    def said(files: list[Path]) -> subprocess.CompletedProcess[str]:
        words = {"out": scratch, "folder": files[0].parent, "typescript": typescript}
        call = [part.format(**words) for part in checker.command]
        return subprocess.run(
            [*call, *map(str, files)], capture_output=True, check=False, text=True, errors="replace"
        )

    if checker.many:
        return set(map(Path, said(entries).stdout.splitlines()))

    def is_refused(path: Path) -> bool:
        done = said([path])
        if not checker.refusal:
            return done.returncode != 0
        return re.search(checker.refusal, done.stdout + done.stderr) is not None

    with ThreadPoolExecutor(2) as pool:
        return {path for path, refused in zip(entries, pool.map(is_refused, entries)) if refused}
