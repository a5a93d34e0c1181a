"""The code that a configuration would have run, by its contents: what the user trusts, or not.

That is the rule files in Python that it names, what these import beside them, and the commands that
check files, with the scripts that these name. Imports are read, and nothing is run for that.
"""

from __future__ import annotations

import ast
import hashlib
import os
import shlex
import warnings
from collections.abc import Iterator
from pathlib import Path

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.settings import Settings
from yellow_trellis.toml_source import TomlFile

_MOST_FILES = 1_000
"""How many files imports are followed to."""


def named_code(settings: Settings) -> dict[str, str]:
    """Return the digest of each piece of code that a configuration would have run.

    A file is named by its path from the folder of the configuration, a command by its language.
    What is not below that folder, as a file behind a link or an installed package, is named by its
    whole path.
    """
    top = settings.folder
    digests: dict[str, str] = {}
    todo = [file for name in settings.rules for file in _rule_files(top / name, top)]
    for language, command in settings.check_syntax:
        digests[f"check-syntax for {language}: {command}"] = _digest(command.encode())
        todo += (file for word in _words(command) if (file := top / word).is_file())
    seen: set[str] = set()
    while todo and len(seen) < _MOST_FILES:
        file = todo.pop()
        path = os.path.realpath(file)
        if path in seen:
            continue
        seen.add(path)
        data = Path(path).read_bytes()
        digests[os.path.relpath(path, os.path.realpath(top)).replace(os.sep, "/")] = _digest(data)
        if path.endswith(".py"):
            todo += _imported(data, Path(path), top)
    return digests


def _rule_files(start: Path, top: Path) -> Iterator[Path]:
    """Yield the files in Python that a name of rules leads to, by rulesets below `top` too."""
    todo, seen = [start], set[str]()
    while todo and len(seen) < _MOST_FILES:
        path = todo.pop()
        if (whole := os.path.realpath(path)) in seen:
            continue
        seen.add(whole)
        if path.is_dir():
            todo += (file for file in sorted(path.iterdir()) if file.is_file())
        elif path.suffix == ".py" and path.is_file():
            yield path
        elif path.suffix == ".toml" and path.is_file():
            parts = (path.parent / name for name in _built_on(path))
            todo += (part for part in parts if part.resolve().is_relative_to(top.resolve()))


def _built_on(file: Path) -> list[str]:
    """Return the names of rules that a ruleset builds on; none for a file that is none."""
    try:
        table = TomlFile(file, TrellisError).data.get("ruleset")
    except (OSError, TrellisError):
        return []
    names = table.get("builds-on") if isinstance(table, dict) else None
    return [name for name in names if isinstance(name, str)] if isinstance(names, list) else []


def _words(command: str) -> list[str]:
    try:
        return shlex.split(command)
    except ValueError:
        return command.split()


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _imported(data: bytes, file: Path, top: Path) -> Iterator[Path]:
    """Yield the files below `top` that a module may import."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            tree = ast.parse(data)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            for item in node.names:
                yield from _modules(item.name, (file.parent, top, top / "src"), top)
        elif isinstance(node, ast.ImportFrom):
            above = file.parents[node.level - 1] if node.level else None
            starts = (above,) if above is not None else (file.parent, top, top / "src")
            for item in node.names:
                yield from _modules(f"{node.module or ''}.{item.name}".strip("."), starts, top)


def _modules(name: str, starts: tuple[Path, ...], top: Path) -> Iterator[Path]:
    """Yield the files of a dotted name, and of the packages that it is in, that are there."""
    root = os.path.realpath(top)
    for start in starts:
        folder = start
        for part in name.split("."):
            for file in (folder / f"{part}.py", folder / part / "__init__.py"):
                if file.is_file() and os.path.realpath(file).startswith(root + os.sep):
                    yield file
            folder = folder / part
