"""Where rules come from, said so that a worker process can get at them itself."""

from __future__ import annotations

import hashlib
import os
import sys
from dataclasses import dataclass, replace
from functools import cache

from yellow_trellis.globs import fits
from yellow_trellis.rules import Level, Rule, Ruleset, load_rules, rule_files

Levels = tuple[tuple[str, Level], ...]
"""Rules, each with its level."""


@dataclass(frozen=True, slots=True)
class RulesSpec:
    """Rule files, folders of them and names of packs, and the rules of them to use: all if none."""

    paths: tuple[str, ...]
    only: tuple[str, ...] = ()
    levels: Levels = ()
    """Levels that rules have here, instead of their own."""
    parts: tuple[tuple[tuple[str, ...], Levels], ...] = ()
    """Patterns as in ignore files, each with the levels in files that they fit; the last wins."""
    folder: str = ""
    """The folder that these patterns start from."""

    def ruleset(self, path: str | None = None) -> Ruleset:
        """Read the rules, those that look at the file `path` if one is named.

        Errors: `RuleError`.
        """
        if not self.parts:
            return _ruleset(self.paths, self.only, self.levels)
        if path is None:  # all that look at any file
            heard = {rule for _, levels in self.parts for rule, level in levels if level != "off"}
            levels = {r: v for r, v in self.levels if v != "off" or r not in heard}
            return _ruleset(self.paths, self.only, tuple(levels.items()), frozenset(heard))
        levels = dict(self.levels)
        for patterns, changed in self.parts:
            if fits(path, self.folder, patterns):
                levels.update(changed)
        return _ruleset(self.paths, self.only, tuple(levels.items()))

    def identity(self) -> str:
        """Return what changes when the rules do: their files, and what these import beside them."""
        self.ruleset()
        told = hashlib.sha256(repr((self.only, self.levels, self.parts)).encode())
        files = [os.path.abspath(file) for file in rule_files(self.paths)]
        folders = tuple({os.path.dirname(file) + os.sep for file in files})
        beside = {
            path
            for module in list(sys.modules.values())
            if (path := getattr(module, "__file__", None)) and path.startswith(folders)
        }
        for file in [*files, *sorted(beside - set(files))]:
            with open(file, "rb") as rules:
                told.update(hashlib.sha256(rules.read()).digest())
        return told.hexdigest()

    def for_elsewhere(self) -> RulesSpec:
        """Return the same for a process in another folder."""
        there = [os.path.abspath(path) if os.path.exists(path) else path for path in self.paths]
        return replace(self, paths=tuple(there))


@cache
def _loaded(paths: tuple[str, ...]) -> tuple[Rule, ...]:
    return tuple(load_rules(paths))


@cache
def _ruleset(
    paths: tuple[str, ...],
    only: tuple[str, ...],
    levels: Levels = (),
    kept: frozenset[str] = frozenset(),
) -> Ruleset:
    """Return the rules at their levels; those in `kept` also where their own level is `off`."""
    rules = list(_loaded(paths))
    said = dict(levels)
    for at, one in enumerate(rules):
        level = said.get(one.name, one.level)
        if level == "off" and one.name in kept:
            level = "note"
        if level != one.level:
            rules[at] = one.at_level(level)
    ruleset = Ruleset.of(rules)
    if not only:
        return ruleset
    there = {one.name for one in ruleset}
    off = {one.name for one in rules} - there
    return ruleset.only(name for name in only if name not in off)


def rules_of(paths: tuple[str, ...]) -> tuple[Rule, ...]:
    """Return all rules in `paths`, whatever their level. Errors: `RuleError`."""
    return _loaded(paths)


@dataclass(frozen=True, slots=True)
class PatternSpec:
    """A pattern, and a template to try on it, of which one rule is made."""

    find: str
    put: str | None
    language: str
    part: str | None = None
    any_order: bool = False

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
    rule = Rule(
        "seek",
        summary="seek",
        find=spec.find,
        put=spec.put,
        part=spec.part,
        any_order=spec.any_order,
        language=spec.language,
    )
    return Ruleset.of([rule])


Rules = RulesSpec | PatternSpec | Ruleset
"""Rules to look with; those given as a `Ruleset` stay in this process."""
