"""Rules from files, folders, packs and rulesets, in an order that matters."""

from __future__ import annotations

import hashlib
import importlib.util
import os
import re
import sys
import traceback
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any, NamedTuple

from yellow_trellis.findings.failure import is_contained, reason_of
from yellow_trellis.rules.example import RuleError
from yellow_trellis.rules.files.packs import (
    CARD,
    PACKS,
    Pack,
    may_be_offered,
    names_of_packs,
    pack_called,
)
from yellow_trellis.rules.override import settings_in, unknown_in
from yellow_trellis.rules.runnable import Rule
from yellow_trellis.schema import STRING, STRINGS, TABLE, TABLES, near, nearest
from yellow_trellis.toml_source import TomlFile

_SUFFIXES = (".py", ".toml")
_UNKNOWN = re.compile(r"nexpected keyword argument '(?P<name>\w+)'")
"""What Python, and what rules are made of, say of an argument that there is not."""
RULESET_KEYS = {
    "summary": STRING,
    "builds-on": STRINGS,
    "only": STRINGS,
    "without": STRINGS,
    "levels": TABLE,
    "options": TABLE,
    "unasked-of": TABLE,
}


class RuleFileError(RuleError):
    """A rule file that is missing or fails: its path, the line, the reason."""


def load_rules(paths: Iterable[str | Path]) -> list[Rule]:
    """Return the rules defined in `paths`, files, folders and names of packs, in order.

    A folder stands for its Python and TOML files, sorted, whose names do not start with ``_`` and
    that are no rulesets; ``PACK/FILE`` for one file of a pack. Only the files named run, and those
    that a ruleset builds on; a TOML file is data and never does, and neither does a pack of data.
    Errors: `RuleFileError`, `RuleError`.
    """
    return list(loaded(paths).rules)


class Loaded(NamedTuple):
    """Rules, and all files that they come from."""

    rules: tuple[Rule, ...]
    files: tuple[Path, ...]
    packs: Mapping[str, str]
    """By rule: the pack that it comes from, for those that do."""


def loaded(paths: Iterable[str | Path], no_code: str = "", trusted: str = "") -> Loaded:
    """Return the rules of `paths`, as `load_rules` does, and where they come from.

    Arguments: `no_code` is the reason why no Python file may be run, if none may; `trusted` is a
    folder below which rulesets may build on Python.
    """
    loader = _Loader(frozenset(map(str, paths := list(paths))), no_code, trusted)
    taken = [(Path(os.path.realpath(path)), loader.taken(str(path), _TOP)) for path in paths]
    # a program that a ruleset builds on is named so that it may run: the ruleset says what counts
    lists = (part for path, part in taken if path not in loader.built_on)
    rules = _merged(lists, loader.packs)
    return Loaded(tuple(rules), tuple(dict.fromkeys(loader.files)), loader.packs)


class _From(NamedTuple):
    """The origin of a request for rules: the folder of its paths, the pack, the rulesets."""

    folder: Path
    pack: Pack | None = None
    rulesets: tuple[Path, ...] = ()
    runs: bool = True
    """Whether Python files may be run."""


_TOP = _From(Path())


class _Loader:
    """Takes rules from where they are said to be, each file once."""

    def __init__(self, names: frozenset[str], no_code: str, trusted: str) -> None:
        self._named = names
        self._trusted = trusted
        self._no_code = no_code
        self.files: list[Path] = []
        self.packs: dict[str, str] = {}
        self.built_on: set[Path] = set()
        """The programs that a ruleset builds on."""
        self._read: dict[Path, list[Rule]] = {}
        self._tables: dict[Path, tuple[TomlFile, list[Rule]]] = {}

    def taken(self, name: str, asks: _From) -> list[Rule]:
        """Return the rules of a file, a folder or a pack."""
        path = Path(asks.folder, name)
        pack, part = self._pack(name, path)
        if pack is None:
            if not path.exists():
                packs = names_of_packs()
                like = near(name, packs)
                hint = f"did you mean the pack `{like}`?" if like else f"packs: {', '.join(packs)}"
                raise RuleFileError(f"{path}: there is no such rule file, folder or pack; {hint}")
            inside = asks.pack is not None and path.resolve().is_relative_to(
                asks.pack.folder.resolve()
            )
            runs = asks.runs and (asks.pack is None or inside)
            return self._of_path(path, _From(path.parent, asks.pack, asks.rulesets, runs))
        target = {pack.name, name} & self._named or pack.name in PACKS
        if pack.code and not asks.runs and not target:
            by = f"the pack {asks.pack.name!r}" if asks.pack is not None else f"{asks.rulesets[-1]}"
            raise RuleFileError(
                f"{by} is data, and builds on {pack.name!r}, which runs code: "
                f"name {pack.name!r} among your rules too, if it may"
            )
        self._note(pack)
        path = self._part(pack, part) if part else pack.folder
        rules = self._of_path(path, _From(path.parent, pack, asks.rulesets, pack.code))
        self.packs.update({rule.name: pack.name for rule in rules if rule.name not in self.packs})
        return rules

    def _note(self, pack: Pack) -> None:
        if pack.card.is_file():  # those that come with the library have none
            self.files.append(pack.card)

    def _pack(self, name: str, path: Path) -> tuple[Pack | None, str]:
        """Return the pack that `name` is of, and the part of it that is meant."""
        first, _, part = name.partition("/")
        if path.exists() and first not in PACKS and (name != first or not may_be_offered(first)):
            return None, ""  # what is there goes first, but where it takes the place of a pack
        pack = pack_called(first)
        if pack is not None and path.exists() and not part:
            raise RuleFileError(
                f"{name!r} is both a pack, of {pack.package}, and a path here: "
                f"write ./{name} for the path, or give it another name"
            )
        return pack, part

    @staticmethod
    def _part(pack: Pack, part: str) -> Path:
        folder = pack.folder
        there = {file.stem: file for file in sorted(folder.glob("*")) if _is_rule_file(file)}
        result = there.get(part) or next((f for f in there.values() if f.name == part), None)
        if result is None:
            raise RuleFileError(f"the pack {pack.name!r} has no {part!r}: {nearest(part, there)}")
        return result

    def _of_path(self, path: Path, asks: _From) -> list[Rule]:
        if not path.is_dir():
            return self._of_file(path, asks)
        files = sorted(file for file in path.iterdir() if _is_rule_file(file))
        plain = [file for file in files if not _is_ruleset(file)]
        if not plain:
            rulesets = ", ".join(file.name for file in files)
            hint = (
                f"only rulesets, to be named one by one: {rulesets}" if files else "no rule files"
            )
            raise RuleFileError(f"{path}: the folder holds {hint} (`*.py`, `*.toml`)")
        return _merged((self._of_file(file, asks) for file in plain), self.packs)

    def _of_file(self, file: Path, asks: _From) -> list[Rule]:
        if file.suffix not in _SUFFIXES:
            raise RuleFileError(f"{file}: rules are read from `*.py` and `*.toml` files")
        if file.suffix == ".py":
            self._refuse_code(file, asks)
            self.built_on |= {file.resolve()} if asks.rulesets else set()
        self.files.append(file)
        if file.suffix == ".toml":
            return self._of_toml(file, asks)
        entry = self._read.get(file.resolve())
        if entry is None:
            entry = self._read[file.resolve()] = _run(file)
        return entry

    def _refuse_code(self, file: Path, asks: _From) -> None:
        """Stop where a Python file may not be run. Errors: `RuleFileError`, with the way out."""
        if asks.pack is not None:
            if asks.runs:
                return
            message = "a pack of data never runs code, and this is Python: say `code = true` in "
            raise RuleFileError(f"{file}: {message}{asks.pack.card}, if it may")
        if self._no_code:
            raise RuleFileError(f"{file}: {self._no_code}")
        here = file.resolve()
        if self._trusted and here.is_relative_to(Path(self._trusted).resolve()):
            return
        names = {Path(name).resolve() for name in self._named}
        if asks.rulesets and not names & {here, here.parent}:
            raise RuleFileError(
                f"{asks.rulesets[-1]}: a ruleset is data, and builds on {file}, which is Python: "
                f"name {file} among your rules too, if it may be run"
            )

    def _of_toml(self, path: Path, asks: _From) -> list[Rule]:
        here = path.resolve()
        if here not in self._tables:
            self._tables[here] = _parsed(path)
        file, own = self._tables[here]
        if "ruleset" not in file.data:
            return own
        table: dict[str, Any] = file.data["ruleset"]
        file.check(table, RULESET_KEYS, "a ruleset", "ruleset")
        if here in asks.rulesets:
            loop = [*asks.rulesets[asks.rulesets.index(here) :], here]
            text = " -> ".join(item.name for item in loop)
            raise file.wrong(f"the ruleset builds on itself: {text}", "ruleset", "builds-on")
        inner = _From(path.parent, asks.pack, (*asks.rulesets, here), asks.runs)
        base = _merged((self.taken(n, inner) for n in table.get("builds-on", ())), self.packs)
        names = [rule.name for rule in base]
        for key in ("only", "without"):
            for name in table.get(key, ()):
                if name not in names:
                    text = f"no rule that it builds on is called `{name}`: {nearest(name, names)}"
                    raise file.wrong(text, "ruleset", key)
        remainder = set(table.get("only", names)) - set(table.get("without", ()))
        rules = _merged([[rule for rule in base if rule.name in remainder], own], self.packs)
        settings = settings_in(file, table, "ruleset")
        if wrong := unknown_in(settings, (rule.name for rule in rules)):
            raise RuleError(wrong)
        by_name = {rule.name: rule for rule in rules}
        for setting in settings:
            by_name[setting.rule] = by_name[setting.rule].under(setting)
        return list(by_name.values())


def _merged(groups: Iterable[list[Rule]], packs: Mapping[str, str]) -> list[Rule]:
    """Return rules of several groups in order; what comes twice counts as it comes last.

    Errors: `RuleError`, when two rules that are not the same share a name.
    """
    table: dict[str, Rule] = {}
    for rule in (rule for group in groups for rule in group):
        second = table.get(rule.name)
        if second is not None and (second.path, second.line) != (rule.path, rule.line):
            of = f" of the pack {packs[rule.name]!r}" if rule.name in packs else ""
            raise RuleError(
                f"{rule.place}: the rule {rule.name!r} has the name of another{of} at "
                f"{second.place}; rename one of them, or leave one out by a ruleset with `without`"
            )
        table[rule.name] = rule
    return list(table.values())


def _parsed(path: Path) -> tuple[TomlFile, list[Rule]]:
    """Return what a TOML file says, and its own rules."""
    from yellow_trellis.rules.files.toml_rules import rules_in  # who has no such files loads less

    file = TomlFile(path, RuleFileError)
    file.check(file.data, {"rule": TABLES, "ruleset": TABLE}, "a rule file")
    return file, rules_in(file)


def _is_rule_file(path: Path) -> bool:
    return path.suffix in _SUFFIXES and not path.name.startswith("_") and path.name != CARD


def _is_ruleset(path: Path) -> bool:
    """Return whether a file changes what others define: it counts only where it is named."""
    if path.suffix != ".toml":
        return False
    lines = path.read_text("utf-8", "replace").splitlines()
    return any(line.strip().replace(" ", "") == "[ruleset]" for line in lines)


def _run(path: Path) -> list[Rule]:
    """Run a Python file and return the rules that it defines, in order."""
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
    except BaseException as wrong:
        if not is_contained(wrong):
            raise
        reason = reason_of(wrong).rpartition(" (")[0] + _hint(str(wrong))
        raise RuleFileError(
            f"{path}:{_line_in(wrong, path)}: the rule file fails when it is read: {reason}"
        ) from None
    finally:
        sys.dont_write_bytecode = keep
    rules = [value for value in vars(module).values() if isinstance(value, Rule)]
    unique = list({id(rule): rule for rule in rules}.values())
    if not unique:
        raise RuleFileError(
            f"{path}: the file defines no rule; `Rule(...)` or `@rule(...)` makes one"
        )
    return unique


def _line_in(wrong: BaseException, path: Path) -> int:
    names = {str(path), os.path.abspath(path)}
    frames = traceback.extract_tb(wrong.__traceback__)
    lines = [f.lineno for f in frames if f.filename in names and f.lineno is not None]
    return lines[-1] if lines else 1


def _hint(message: str) -> str:
    """Return the nearest argument of a rule to one that there is not, as the end of a message."""
    match = _UNKNOWN.search(message)
    like = near(match["name"], Rule.__struct_fields__) if match is not None else ""
    return f": did you mean `{like}`?" if like else ""
