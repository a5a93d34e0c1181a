"""Rules from files: Python files are run, and the rules they define are taken in their order."""

from __future__ import annotations

import hashlib
import importlib.util
import sys
import traceback
from collections.abc import Iterable, Iterator
from pathlib import Path

from yellow_trellis.packs import PACKS
from yellow_trellis.rules.rule import Rule, RuleError

_SUFFIXES = (".py", ".toml")


class RuleFileError(RuleError):
    """A rule file that is missing or fails: its path, the line, the reason."""


def load_rules(paths: Iterable[str | Path]) -> list[Rule]:
    """Return the rules defined in `paths`, files, folders and names of shipped packs, in order.

    A folder stands for its Python and TOML files, sorted, whose names do not start with ``_``. Only
    the files named run; a TOML file is data and never does.
    Errors: `RuleFileError`, `RuleError`.
    """
    from yellow_trellis.rules.toml import rules_from_toml  # who has no rule files loads less

    found: list[Rule] = []
    for file in rule_files(paths):
        found += rules_from_toml(file) if file.suffix == ".toml" else _load(file)
    return found


def rule_files(paths: Iterable[str | Path]) -> list[Path]:
    """Return the files that `load_rules` reads for `paths`, in order. Errors: `RuleFileError`."""
    return [file for path in paths for file in _files(PACKS.get(str(path), Path(path)))]


def _files(path: Path) -> Iterator[Path]:
    if path.is_dir():
        files = sorted(
            f for f in path.iterdir() if f.suffix in _SUFFIXES and not f.name.startswith("_")
        )
        if not files:
            raise RuleFileError(f"{path}: the folder holds no rule files (`*.py`, `*.toml`)")
        yield from files
    elif path.is_file():
        if path.suffix not in _SUFFIXES:
            raise RuleFileError(f"{path}: rules are read from `*.py` and `*.toml` files")
        yield path
    else:
        packs = ", ".join(PACKS)
        raise RuleFileError(f"{path}: there is no such rule file or folder; shipped: {packs}")


def _load(path: Path) -> list[Rule]:
    name = "_trellis_rules_" + hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:16]
    spec = importlib.util.spec_from_file_location(name, path)
    if spec is None or spec.loader is None:
        raise RuleFileError(f"{path}: this file cannot be read as Python")
    module = importlib.util.module_from_spec(spec)
    sys.modules[name] = module
    keep = sys.dont_write_bytecode
    sys.dont_write_bytecode = True  # reading rules leaves nothing beside them
    try:
        spec.loader.exec_module(module)
    except RuleError:
        raise
    except SyntaxError as wrong:
        raise RuleFileError(
            f"{wrong.filename}:{wrong.lineno}: the rule file is no valid Python: {wrong.msg}"
        ) from None
    except Exception as wrong:
        line = _line_in(wrong, path)
        raise RuleFileError(
            f"{path}:{line}: the rule file fails when it is read: {type(wrong).__name__}: {wrong}"
        ) from None
    finally:
        sys.dont_write_bytecode = keep
    rules = [value for value in vars(module).values() if isinstance(value, Rule)]
    unique = list({id(one): one for one in rules}.values())
    if not unique:
        raise RuleFileError(
            f"{path}: the file defines no rule; `Rule(...)` or `@rule(...)` makes one"
        )
    return unique


def _line_in(wrong: Exception, path: Path) -> int:
    frames = traceback.extract_tb(wrong.__traceback__)
    lines = [f.lineno for f in frames if f.filename == str(path) and f.lineno is not None]
    return lines[-1] if lines else 1
