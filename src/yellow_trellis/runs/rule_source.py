"""A picklable rule source, from which each worker process loads the rules itself."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple, Union

from msgspec.structs import replace

from yellow_trellis import rules
from yellow_trellis.ignore_patterns import fits
from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.example import RuleError
from yellow_trellis.rules.override import Setting, unknown_in
from yellow_trellis.rules.ruleset import Ruleset
from yellow_trellis.rules.runnable import RulesOnText, loaded

if TYPE_CHECKING:
    from yellow_trellis.rules.files.loader import Loaded

Part = tuple[tuple[str, ...], tuple[Setting, ...]]
"""Patterns as in ignore files, and what is said of rules in the files that they fit."""


class RulesSpec(NamedTuple):
    """Rule files, folders of them and names of packs, and the rules of them to use: all if none."""

    paths: tuple[str, ...]
    only: tuple[str, ...] = ()
    said: tuple[Setting, ...] = ()
    """What holds for rules here, instead of what they say themselves."""
    parts: tuple[Part, ...] = ()
    """What else is said for some files; the last that fits wins."""
    folder: str = ""
    """The folder that the patterns of the parts start from."""
    unasked: Setting | None = None
    """Which fixes are applied without asking, where nothing is said of a rule by name."""
    warnings_as_errors: str = ""
    """The place that says so, if warnings count as errors."""
    reasons: bool = False
    """Whether a comment that leaves something alone counts only with a reason."""
    no_code: str = ""
    """Why rules in Python may not be run, where they may not."""
    trusted: str = ""
    """A folder of which the user trusts the code: rulesets may build on Python below it."""
    leaving: str | None = None
    """If every finding is to get a comment that leaves it alone: the reason to write, or none."""

    def ruleset(self, path: str | None = None) -> Ruleset:
        """Read the rules, those that look at the file `path` if one is named.

        Errors: `RuleError`.
        """
        heard = frozenset[str]()
        if path is None:  # all that look at any file
            everything = (item for _, part in self.parts for item in part)
            # errors are reported before
            _with_overrides(self._replace(said=(*self.said, *everything), parts=()))
            levels = (item for _, part in self.parts for item in part if item.about == "level")
            heard = frozenset(level.rule for level in levels if level.value != "off")
        return _ruleset(self._in(path), heard)

    def rules(self, path: str | None = None) -> tuple[RuleDefinition, ...]:
        """Return all rules as they are in the file `path`, also those that are off.

        Errors: `RuleError`.
        """
        return _with_overrides(self._in(path))

    def _in(self, path: str | None) -> RulesSpec:
        """Return the spec as it is for one file: what its parts say there is said of all."""
        overrides = self.said
        for patterns, part in self.parts:
            if path is not None and fits(path, self.folder, patterns):
                overrides = (*overrides, *part)
        return self._replace(said=overrides, parts=())

    @property
    def _loaded(self) -> Loaded:
        return _loaded(self.paths, self.no_code, self.trusted)

    @property
    def runs_code(self) -> bool:
        """Return whether any file of the rules is a program."""
        return any(f.suffix != ".toml" for f in self._loaded.files)

    def pack_of(self, rule: str) -> str:
        """Return the pack that a rule comes from; empty if from none."""
        return self._loaded.packs.get(rule, "")

    def identity(self) -> str:
        """Return what changes when the rules do: their files, and what these import beside them."""
        import hashlib  # it takes a tenth of the start, and only a cache asks for this

        self.ruleset()
        overrides = (self.only, self.said, self.parts, self.unasked, bool(self.warnings_as_errors))
        digest = hashlib.sha256(repr((*overrides, self.reasons, self.leaving)).encode())
        files = [os.path.abspath(file) for file in self._loaded.files]
        folders = tuple({os.path.dirname(file) + os.sep for file in files})
        beside = {
            path
            for module in list(sys.modules.values())
            if (path := getattr(module, "__file__", None)) and path.startswith(folders)
        }
        for file in [*files, *sorted(beside - set(files))]:
            with open(file, "rb") as rules:
                digest.update(hashlib.sha256(rules.read()).digest())
        return digest.hexdigest()

    def for_elsewhere(self) -> RulesSpec:
        """Return the same for a process in another folder."""
        there = [os.path.abspath(path) if os.path.exists(path) else path for path in self.paths]
        return self._replace(paths=tuple(there))


@cache
def _loaded(paths: tuple[str, ...], no_code: str, trusted: str) -> rules.Loaded:
    return rules.loaded(paths, no_code, trusted)


@cache
def _with_overrides(spec: RulesSpec) -> tuple[RuleDefinition, ...]:
    """Return all rules of a spec without parts, with all that is said of them."""
    names = spec._loaded.rules
    entries = {rule.name: rule for rule in (*names, rules.leave_rule())}
    if wrong := unknown_in(spec.said, entries):
        raise RuleError(wrong)
    for setting in spec.said:
        entries[setting.rule] = entries[setting.rule].under(setting)
    for name, rule in entries.items():
        if spec.unasked is not None and not rule.is_set("unasked"):
            entries[name] = rule = rule.under(spec.unasked)
        if spec.warnings_as_errors and rule.level == "warning":
            raised = Setting(name, "level", "error", place=spec.warnings_as_errors)
            entries[name] = rule.under(raised)
    return tuple(entries.values())


@cache
def _ruleset(spec: RulesSpec, results: frozenset[str] = frozenset()) -> Ruleset:
    """Return the rules at their levels; those in `results` also where their own level is `off`."""
    rules = [
        with_override.at_level(
            "note"
        ) if with_override.level == "off" and with_override.name in results else with_override
        for with_override in _with_overrides(spec)
    ]
    ruleset = replace(Ruleset.of(rules), reasons=spec.reasons, leaving=spec.leaving)
    if not spec.only:
        return ruleset
    off = {rule.name for rule in rules} - {item.name for item in ruleset}
    return ruleset.only(name for name in spec.only if name not in off)


class PatternSpec(NamedTuple):
    """A pattern, and a template to try on it, of which one rule is made."""

    find: str
    put: str | None
    language: str
    part: str | None = None
    any_order: bool = False

    @property
    def runs_code(self) -> bool:
        """No: it is all data."""
        return False

    def ruleset(self, path: str | None = None) -> Ruleset:
        """Return one rule, called ``seek``. Errors: `RuleError`."""
        return _pattern_ruleset(self)

    def identity(self) -> str:
        """Return what changes when the rule does."""
        return repr(self)

    def for_elsewhere(self) -> PatternSpec:
        """Return the same for a process in another folder."""
        return self


@cache
def _pattern_ruleset(spec: PatternSpec) -> Ruleset:
    rule = RuleDefinition(
        "seek",
        summary="seek",
        find=spec.find,
        put=spec.put,
        part=spec.part,
        any_order=spec.any_order,
        language=spec.language,
        once=spec.put is not None,  # a pattern is tried on what is there, not on what came of it
    )
    return Ruleset.of([rule])


Rules = RulesSpec | PatternSpec | Ruleset
"""Rules to look with; those given as a `Ruleset` stay in this process."""

RulesLike = Union[Rules, RulesOnText]
"""Whatever names rules: a source, a rule, a path or the name of a pack, or several of these."""


def as_rules(source: RulesLike) -> Rules:
    """Return a source of the rules that `source` names, in their order.

    Rules given as objects stay in this process, as functions cannot be sent to another.
    Errors: `RuleError`.
    """
    if isinstance(source, (RulesSpec, PatternSpec, Ruleset)):
        return source
    items = [source] if isinstance(source, (str, Path, RuleDefinition)) else list(source)
    if all(isinstance(item, (str, Path)) for item in items):
        return RulesSpec(tuple(map(str, items)))
    return Ruleset.of(loaded(items))
