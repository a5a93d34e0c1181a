"""Completion in rule files that are data: keys, values, and kinds and names in holes."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple

from yellow_trellis.findings.finding import LEVELS, UNASKED
from yellow_trellis.languages import MissingLanguageError, language
from yellow_trellis.languages import names as language_names
from yellow_trellis.project.locate import TOOL
from yellow_trellis.project.settings import FAILING, KEYS, PART_KEYS
from yellow_trellis.rules.conditions import KINDS
from yellow_trellis.rules.files.loader import RULESET_KEYS
from yellow_trellis.rules.files.toml_rules import EXAMPLE_KEYS, OPTION_KEYS, RULE_KEYS

_HEADER = re.compile(r"^\s*\[{1,2}\s*([\w.\"-]+)\s*\]", re.MULTILINE)
_HOLE = re.compile(r"@\{(?P<name>\w*)(?P<more>[?*+]?)(?P<colon>\s*:\s*)?(?P<kind>\w*)$")
_VALUE = re.compile(r'^\s*(?P<key>[\w-]+)\s*=\s*"(?P<text>[^"]*)$')
_KEY = re.compile(r"^\s*(?P<key>[\w-]*)$")
_NAMED = re.compile(r"@\{([A-Za-z]\w*)")
_LANGUAGE = re.compile(r'^\s*language\s*=\s*"([\w-]+)"', re.MULTILINE)

_RULE_TABLES = {
    "rule": RULE_KEYS,
    "ruleset": RULESET_KEYS,
    "examples": EXAMPLE_KEYS,
    "where": {
        key: must_be
        for kind in KINDS
        for form in kind.forms.values()
        for key, must_be in form.items()
    },
}
"""By the last word of a header: the keys of such a table."""


class Completion(NamedTuple):
    """A word to write, and what it is."""

    word: str
    kind: str
    """One of ``key``, ``value``, ``kind``, ``family`` and ``hole``."""
    detail: str = ""


def completions(text: str, offset: int, *, is_configuration: bool) -> list[Completion]:
    """Return what can be written at a place of a rule file or a configuration.

    Arguments: `offset` counts characters.
    """
    start = text.rfind("\n", 0, offset) + 1
    before = text[start:offset]
    if not is_configuration and (hole := _HOLE.search(before)) is not None:
        rule = _rule_around(text, offset)
        if hole["colon"] is not None:
            return _kinds(rule)
        words = dict.fromkeys(_NAMED.findall(rule.replace(before, "")))
        return [Completion(word, "hole", "a hole of this rule") for word in words]
    keys = _keys_at(text[:start], is_configuration)
    if (value := _VALUE.match(before)) is not None:
        return [Completion(word, "value") for word in _values(value["key"])]
    if _KEY.match(before) is not None:
        return [Completion(key, "key", must_be) for key, must_be in keys.items()]
    return []


def _keys_at(text: str, is_configuration: bool) -> Mapping[str, str]:
    """Return the keys of the table that `text` ends in, and what each must be."""
    headers = _HEADER.findall(text)
    words = headers[-1].split(".") if headers else []
    if not words:
        return KEYS if is_configuration else RULE_KEYS
    if is_configuration:
        return {"parts": PART_KEYS, TOOL: KEYS}.get(words[-1], {})
    if words[:2] == ["rule", "options"]:
        return OPTION_KEYS
    return _RULE_TABLES.get(words[-1], {})


def _rule_around(text: str, offset: int) -> str:
    """Return the text of the rule that holds a place."""
    start = max(text.rfind("[[rule]]", 0, offset), 0)
    end = text.find("[[rule]]", offset)
    return text[start : end if end >= 0 else len(text)]


def _kinds(rule: str) -> list[Completion]:
    """Return the families and kinds of the language of a rule."""
    name = _LANGUAGE.search(rule)
    try:
        spoken = language(name[1] if name is not None else "python")
    except MissingLanguageError:
        return []
    families = {*spoken.families, "expression", "statement"}
    kinds = sorted(kind for kind in spoken.kinds if not kind.startswith("_"))
    return [
        *(Completion(word, "family", "a family of kinds") for word in sorted(families)),
        *(Completion(word, "kind", f"a kind of {spoken.name}") for word in kinds),
    ]


def _values(key: str) -> tuple[str, ...]:
    """Return the texts that a key can have."""
    table = {
        "language": tuple(sorted(language_names())),
        "level": LEVELS,
        "safety": ("safe", "review"),
        "unasked": UNASKED,
        "fail-at": FAILING,
    }
    return table.get(key, ())
