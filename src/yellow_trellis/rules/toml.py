"""Declared rules from TOML files: pure data, checked key by key, told at line and column."""

from __future__ import annotations

import re
import sys
from pathlib import Path
from typing import Any

from yellow_trellis.rules import conditions
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.rule import Example, Rule, RuleError
from yellow_trellis.tables import FLAG, NUMBER, TABLES, TEXT, TEXTS, fault, nearest, place_of

if sys.version_info >= (3, 11):
    import tomllib
else:
    import tomli as tomllib

_RULE_KEYS = {
    "name": TEXT,
    "summary": TEXT,
    "find": TEXT,
    "put": TEXT,
    "rename": TEXT,
    "move": TEXT,
    "to": TEXT,
    "part": TEXT,
    "message": TEXT,
    "language": TEXT,
    "level": TEXT,
    "safety": TEXT,
    "help": TEXT,
    "tags": TEXTS,
    "wins_over": TEXTS,
    "width": NUMBER,
    "any_order": FLAG,
    "drops_comments": FLAG,
    "where": TABLES,
    "examples": TABLES,
}
_EXAMPLE_KEYS = {"code": TEXT, "becomes": TEXT, "stays": FLAG, "given": TEXT}
_TAKEN_KEYS = {
    "hole": TEXT,
    "kind": TEXT,
    "text": TEXT,
    "equal_to": TEXT,
    "one_of": TEXTS,
    "least": NUMBER,
    "most": NUMBER,
}
_COUNT_KEYS = {"count": TEXT, "least": NUMBER, "most": NUMBER}
_GROUPS = {"any_of": "any", "all_of": "all", "none_of": "none"}


def rules_from_toml(path: Path) -> list[Rule]:
    """Return the rules of a TOML file, in their order; nothing in it is run.

    Errors: `RuleError` with line and column, the reason and the nearest right key.
    """
    text = path.read_text("utf-8")
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as wrong:
        raise RuleError(f"{path}: the rule file is no valid TOML: {wrong}") from None
    reader = _Reader(path, text)
    reader.check(data, {"rule": TABLES}, "a rule file", None)
    return [reader.rule(table, number) for number, table in enumerate(data.get("rule", []))]


class _Reader:
    """Reads one file, and knows where in it a key stands."""

    def __init__(self, path: Path, text: str) -> None:
        self.path = path
        self.text = text
        self.starts = [
            m.start() for m in re.finditer(r"^[ \t]*\[\[\s*rule\s*\]\]", text, re.MULTILINE)
        ]

    def refuse(self, reason: str, number: int | None, key: str | None = None) -> RuleError:
        """Return the error for rule `number` (from 0), at `key` if that is found."""
        start, end = 0, len(self.text)
        if number is not None and number < len(self.starts):
            start = self.starts[number]
            end = self.starts[number + 1] if number + 1 < len(self.starts) else end
        line, column = place_of(key, self.text, start, end)
        return RuleError(f"{self.path}:{line}:{column}: {reason}")

    def check(
        self, table: dict[str, Any], keys: dict[str, str], what: str, number: int | None
    ) -> None:
        """Refuse a key that `what` does not have, or a value of the wrong type."""
        if (wrong := fault(table, keys, what)) is not None:
            key, reason = wrong
            raise self.refuse(reason, number, key)

    def rule(self, table: dict[str, Any], number: int) -> Rule:
        """Make rule `number`."""
        self.check(table, _RULE_KEYS, "a rule", number)
        for key in ("name", "summary"):
            if key not in table:
                raise self.refuse(f"the rule has no `{key}`", number)
        if not {"find", "rename", "move"} & set(table):
            raise self.refuse("the rule has no `find`, `rename` or `move`", number)
        given = dict(table)
        where = tuple(self.condition(c, number) for c in given.pop("where", []))
        examples = [self.example(e, number) for e in given.pop("examples", [])]
        line = self.text.count("\n", 0, self.starts[number]) + 1 if self.starts else 1
        try:
            made = Rule(**given, where=where, examples=examples, place=(str(self.path), line))
            made.prepare()
        except RuleError as wrong:
            raise RuleError(str(wrong)) from None
        return made

    def example(self, table: dict[str, Any], number: int) -> Example:
        """Make an example."""
        self.check(table, _EXAMPLE_KEYS, "an example", number)
        if "code" not in table:
            raise self.refuse("an example has no `code`", number, "examples")
        try:
            return Example(**table)
        except RuleError as wrong:
            raise self.refuse(str(wrong), number, "stays") from None

    def condition(self, table: dict[str, Any], number: int) -> Condition:
        """Make a condition, and those nested in it."""
        for key, how in _GROUPS.items():
            if key in table:
                self.check(table, {key: TABLES}, "a group of conditions", number)
                inner = tuple(self.condition(each, number) for each in table[key])
                return conditions.Among(how, inner)
        for key in conditions.RELATIONS:
            if key in table:
                flag = key in ("first", "last")
                self.check(table, {key: FLAG if flag else TEXT}, "a relation", number)
                return conditions.Around(key, "" if flag else table[key])
        if "hole" in table:
            self.check(table, _TAKEN_KEYS, "a condition on a hole", number)
            return conditions.taken(**table)
        if "count" in table:
            self.check(table, _COUNT_KEYS, "a count", number)
            return conditions.count(
                table["count"], least=table.get("least", 0), most=table.get("most")
            )
        known = [*_GROUPS, *conditions.RELATIONS, "hole", "count"]
        key = next(iter(table), "")
        hint = nearest(key, known)
        raise self.refuse(f"there is no condition `{key}`: {hint}", number, key or "where")
