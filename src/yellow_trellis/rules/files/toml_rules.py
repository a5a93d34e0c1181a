"""Declared rules from TOML files: pure data, checked key by key, told at line and column."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from yellow_trellis.rules import conditions
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.example import Example, RuleError
from yellow_trellis.rules.option import Option, OptionError
from yellow_trellis.rules.runnable import Rule
from yellow_trellis.schema import (
    ANY,
    FLAG,
    NUMBER,
    STRING,
    STRINGS,
    TABLE,
    TABLES,
    nearest,
)
from yellow_trellis.toml_source import TomlFile

RULE_KEYS = {
    "name": STRING,
    "summary": STRING,
    "find": STRING,
    "put": STRING,
    "rename": STRING,
    "move": STRING,
    "to": STRING,
    "part": STRING,
    "message": STRING,
    "language": STRING,
    "also_in": STRINGS,
    "level": STRING,
    "safety": STRING,
    "unasked": STRING,
    "help": STRING,
    "tags": STRINGS,
    "wins_over": STRINGS,
    "width": NUMBER,
    "any_order": FLAG,
    "drops_comments": FLAG,
    "once": FLAG,
    "options": TABLE,
    "where": TABLES,
    "examples": TABLES,
}
EXAMPLE_KEYS = {
    "code": STRING,
    "becomes": STRING,
    "stays": FLAG,
    "given": STRING,
    "options": TABLE,
}
OPTION_KEYS = {"default": ANY, "help": STRING, "least": NUMBER, "most": NUMBER, "one_of": STRINGS}
CONDITION_FORMS = {key: kind for kind in conditions.KINDS for key in kind.forms}
"""By the key that names it in a table of `where`: the kind of a condition."""


def rules_in(file: TomlFile) -> list[Rule]:
    """Return the rules of a TOML file, in their order; nothing in it is run.

    Errors: `RuleError` with line and column, the reason and the nearest right key.
    """
    return [_rule(file, table, number) for number, table in enumerate(file.data.get("rule", []))]


def _rule(file: TomlFile, table: dict[str, Any], number: int) -> Rule:
    """Make rule `number`, from 0."""
    here = ("rule", number)
    file.check(table, RULE_KEYS, "a rule", *here)
    for key in ("name", "summary"):
        if key not in table:
            raise file.wrong(f"the rule has no `{key}`", *here)
    if not {"find", "rename", "move"} & set(table):
        raise file.wrong("the rule has no `find`, `rename` or `move`", *here)
    arguments = dict(table)
    where = tuple(_condition(file, c, number) for c in arguments.pop("where", []))
    examples = [_example(file, e, number) for e in arguments.pop("examples", [])]
    query = arguments.pop("options", {})
    options = [_option(file, name, option, number) for name, option in query.items()]
    origin = (str(file.path), file.line(*here))
    rule = Rule(**arguments, where=where, options=options, examples=examples, origin=origin)
    rule.prepare()
    return rule


def _example(file: TomlFile, table: dict[str, Any], number: int) -> Example:
    file.check(table, EXAMPLE_KEYS, "an example", "rule", number)
    if "code" not in table:
        raise file.wrong("an example has no `code`", "rule", number, "examples")
    try:
        return Example(**table)
    except RuleError as wrong:
        raise file.wrong(str(wrong), "rule", number, "stays") from None


def _option(file: TomlFile, name: str, table: Any, number: int) -> Option:
    here = ("rule", number, "options", name)
    if not isinstance(table, dict):
        raise file.wrong(f"the option `{name}` is a table, such as {{ default = 3 }}", *here)
    file.check(table, OPTION_KEYS, "an option", *here)
    if "default" not in table:
        raise file.wrong(f"the option `{name}` has no `default`", *here)
    try:
        return Option(name, **table)
    except OptionError as wrong:
        raise file.wrong(f"the default of {wrong}", *here) from None


def _condition(file: TomlFile, table: Mapping[str, Any], number: int) -> Condition:
    """Make a condition, and those nested in it."""
    here = ("rule", number)
    name = next((key for key in CONDITION_FORMS if key in table), None)
    if name is None:
        key = next(iter(table), "")
        reason = f"there is no condition `{key}`: {nearest(key, CONDITION_FORMS)}"
        raise file.wrong(reason, *here, key or "where")
    kind = CONDITION_FORMS[name]
    file.check(table, kind.forms[name], f"a condition `{name}`", *here)
    return kind.from_table(name, table, lambda inner: _condition(file, inner, number))
