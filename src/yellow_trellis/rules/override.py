"""Overrides of one rule by a configuration or a ruleset: its level, its options, its fixes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Literal

from msgspec import Struct

from yellow_trellis.findings.finding import LEVELS, UNASKED
from yellow_trellis.rules.option import Value
from yellow_trellis.schema import nearest
from yellow_trellis.toml_source import Key, TomlFile

About = Literal["level", "unasked", "option"]


class Setting(Struct, frozen=True):
    """One thing that is said of one rule."""

    rule: str
    about: About
    value: Value
    option: str = ""
    """The name of the option, for a setting of one."""
    place: str = ""
    """File, line and column of what says so."""

    def __repr__(self) -> str:
        """Return what tells settings that mean different things apart: not where they stand."""
        return f"Setting{(self.rule, self.about, self.value, self.option)!r}"


def settings_in(file: TomlFile, table: Mapping[str, Any], *keys: Key) -> tuple[Setting, ...]:
    """Return what the tables ``levels``, ``unasked-of`` and ``options`` in `table` say.

    Arguments: `keys` lead to `table` from the top of the file.
    Errors: those of the file, at the place of what is wrong.
    """
    settings: list[Setting] = []
    for rule, level in table.get("levels", {}).items():
        where = (*keys, "levels", rule)
        if level not in LEVELS:
            raise file.wrong(f"the level of `{rule}` is one of {', '.join(LEVELS)}", *where)
        settings.append(Setting(rule, "level", level, place=file.place(*where)))
    for rule, much in table.get("unasked-of", {}).items():
        where = (*keys, "unasked-of", rule)
        if much not in UNASKED:
            message = f"what of `{rule}` is fixed unasked is one of {', '.join(UNASKED)}"
            raise file.wrong(message, *where)
        settings.append(Setting(rule, "unasked", much, place=file.place(*where)))
    for rule, options in table.get("options", {}).items():
        if not isinstance(options, dict):
            message = f"the options of `{rule}` are a table, such as {{ most = 3 }}"
            raise file.wrong(message, *keys, "options", rule)
        for option, value in options.items():
            where = (*keys, "options", rule, option)
            content = tuple(value) if isinstance(value, list) else value
            settings.append(Setting(rule, "option", content, option, file.place(*where)))
    return tuple(settings)


def unknown_in(settings: Iterable[Setting], names: Iterable[str]) -> str:
    """Return what is wrong with the first setting of a rule that is not in `names`, if any."""
    names = sorted(names)
    for setting in settings:
        if setting.rule not in names:
            hint = nearest(setting.rule, names)
            return f"{setting.place}: no rule is called `{setting.rule}`: {hint}"
    return ""
