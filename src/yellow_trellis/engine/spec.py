"""Where rules come from, said so that a worker process can get at them itself."""

from __future__ import annotations

import hashlib
import os
import sys
from dataclasses import dataclass, replace
from functools import cache

from yellow_trellis.rules import Rule, Ruleset, load_rules, rule_files


@dataclass(frozen=True, slots=True)
class RulesSpec:
    """Rule files, folders of them and names of packs, and the rules of them to use: all if none."""

    paths: tuple[str, ...]
    only: tuple[str, ...] = ()

    def ruleset(self) -> Ruleset:
        """Read the rules. Errors: `RuleError`."""
        return _ruleset(self)

    def identity(self) -> str:
        """Return what changes when the rules do: their files, and what these import beside them."""
        self.ruleset()
        told = hashlib.sha256(repr(self.only).encode())
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
def _ruleset(spec: RulesSpec) -> Ruleset:
    ruleset = Ruleset.of(load_rules(spec.paths))
    return ruleset.only(spec.only) if spec.only else ruleset


@dataclass(frozen=True, slots=True)
class PatternSpec:
    """A pattern, and a template to try on it, of which one rule is made."""

    find: str
    put: str | None
    language: str
    part: str | None = None
    any_order: bool = False

    def ruleset(self) -> Ruleset:
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
