"""Declared rules from TOML files: pure data, checked key by key, told at line and column."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from difflib import get_close_matches
from pathlib import Path
from typing import Any

from yellow_trellis.rules import conditions
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.rule import Example, Rule, RuleError

if sys.version_info >= (3, 11):
    import tomllib
else:
    import tomli as tomllib

_TEXT, _FLAG, _TEXTS, _NUMBER, _TABLES = (
    "a text",
    "true or false",
    "a list of texts",
    "a number",
    ("a list of tables"),
)
_RULE_KEYS = {
    "name": _TEXT,
    "summary": _TEXT,
    "find": _TEXT,
    "put": _TEXT,
    "rename": _TEXT,
    "move": _TEXT,
    "to": _TEXT,
    "part": _TEXT,
    "message": _TEXT,
    "language": _TEXT,
    "level": _TEXT,
    "safety": _TEXT,
    "help": _TEXT,
    "tags": _TEXTS,
    "wins_over": _TEXTS,
    "width": _NUMBER,
    "any_order": _FLAG,
    "drops_comments": _FLAG,
    "where": _TABLES,
    "examples": _TABLES,
}
_EXAMPLE_KEYS = {"code": _TEXT, "becomes": _TEXT, "stays": _FLAG, "given": _TEXT}
_TAKEN_KEYS = {
    "hole": _TEXT,
    "kind": _TEXT,
    "text": _TEXT,
    "equal_to": _TEXT,
    "one_of": _TEXTS,
    "least": _NUMBER,
    "most": _NUMBER,
}
_COUNT_KEYS = {"count": _TEXT, "least": _NUMBER, "most": _NUMBER}
_GROUPS = {"any_of": "any", "all_of": "all", "none_of": "none"}
_FITS: dict[str, Callable[[Any], bool]] = {
    _TEXT: lambda value: isinstance(value, str),
    _FLAG: lambda value: isinstance(value, bool),
    _NUMBER: lambda value: isinstance(value, (int, float)) and not isinstance(value, bool),
    _TEXTS: lambda value: isinstance(value, list) and all(isinstance(v, str) for v in value),
    _TABLES: lambda value: isinstance(value, list) and all(isinstance(v, dict) for v in value),
}


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
    reader.check(data, {"rule": _TABLES}, "a rule file", None)
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
        at = start
        if key is not None:
            found = re.compile(rf"(?<![\w\"'-])\"?{re.escape(key)}\"?\s*(?==|\]\])").search(
                self.text, start, end
            )
            at = found.start() if found else start
        line = self.text.count("\n", 0, at) + 1
        column = at - (self.text.rfind("\n", 0, at) + 1) + 1
        return RuleError(f"{self.path}:{line}:{column}: {reason}")

    def check(
        self, table: dict[str, Any], keys: dict[str, str], what: str, number: int | None
    ) -> None:
        """Refuse a key that `what` does not have, or a value of the wrong type."""
        for key, value in table.items():
            if key not in keys:
                near = get_close_matches(key, keys, 1)
                hint = f"did you mean `{near[0]}`?" if near else f"there are {', '.join(keys)}"
                raise self.refuse(f"{what} has no key `{key}`: {hint}", number, key)
            if not _FITS[keys[key]](value):
                raise self.refuse(f"`{key}` must be {keys[key]}", number, key)

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
                self.check(table, {key: _TABLES}, "a group of conditions", number)
                inner = tuple(self.condition(each, number) for each in table[key])
                return conditions.Among(how, inner)
        for key in conditions.RELATIONS:
            if key in table:
                flag = key in ("first", "last")
                self.check(table, {key: _FLAG if flag else _TEXT}, "a relation", number)
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
        near = get_close_matches(key, known, 1)
        hint = f"did you mean `{near[0]}`?" if near else f"there are {', '.join(known)}"
        raise self.refuse(f"there is no condition `{key}`: {hint}", number, key or "where")
