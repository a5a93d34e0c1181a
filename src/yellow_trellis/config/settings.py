"""Settings read from ``trellis.toml``, or from ``[tool.yellow-trellis]`` of ``pyproject.toml``."""

from __future__ import annotations

import re
import sys
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from yellow_trellis.globs import fits
from yellow_trellis.mistake import Mistake
from yellow_trellis.rules import LEVELS, Level
from yellow_trellis.tables import TABLE, TABLES, TEXT, TEXTS, fault, nearest, place_of

if sys.version_info >= (3, 11):
    import tomllib
else:
    import tomli as tomllib

OWN, SHARED = "trellis.toml", "pyproject.toml"
_TOOL = "yellow-trellis"

KEYS = {
    "rules": TEXTS,
    "paths": TEXTS,
    "skip": TEXTS,
    "fail-at": TEXT,
    "levels": TABLE,
    "parts": TABLES,
}
PART_KEYS = {"paths": TEXTS, "levels": TABLE}
FAILING = (*LEVELS[:-1], "never")


class ConfigError(Mistake, ValueError):
    """A configuration that cannot be used: the file, line and column, the reason, what to do."""


Levels = tuple[tuple[str, Level], ...]
"""Rules, each with its level."""


@dataclass(frozen=True, slots=True)
class Part:
    """Levels for some paths only. `paths` are patterns as in ignore files."""

    paths: tuple[str, ...]
    levels: Levels


@dataclass(frozen=True, slots=True)
class Settings:
    """What a configuration says. Paths are as written, from the folder of `file`."""

    file: Path | None = None
    rules: tuple[str, ...] = ()
    paths: tuple[str, ...] = ()
    skip: tuple[str, ...] = ()
    fail_at: str = "warning"
    levels: Levels = ()
    parts: tuple[Part, ...] = ()
    text: str = field(default="", repr=False, compare=False)
    """The file, for messages that say where in it something stands."""

    @property
    def folder(self) -> Path:
        """The folder that paths start from."""
        return self.file.parent if self.file is not None else Path()

    def refuse(self, key: str, reason: str) -> ConfigError:
        """Return the error about `key`."""
        start = _start(self.text) if self.file is not None and self.file.name == SHARED else 0
        line, column = place_of(key, self.text, start)
        return ConfigError(f"{self.file}:{line}:{column}: {reason}")

    def said_of(self, rule: str, path: Path | None = None) -> tuple[Level, str] | None:
        """Return the level that the settings give a rule, and the place that says so.

        Arguments: `path` is a file, for which parts of the configuration may say something else.
        """
        told: tuple[Level, str] | None = None
        if rule in dict(self.levels):
            told = dict(self.levels)[rule], self._place(rule, _TABLE_OF_LEVELS, 0)
        for number, part in enumerate(self.parts if path is not None else ()):
            if rule in dict(part.levels) and fits(str(path), str(self.folder), part.paths):
                told = dict(part.levels)[rule], self._place(rule, _TABLE_OF_PARTS, number)
        return told

    def _place(self, key: str, table: re.Pattern[str], number: int) -> str:
        """Return file and line of a key in the table of that number, from 0."""
        starts = [found.start() for found in table.finditer(self.text)]
        start = starts[number] if number < len(starts) else 0
        return f"{self.file}:{place_of(key, self.text, start)[0]}"

    def checked(self, known: list[str]) -> Settings:
        """Return the settings, all of whose rules are among the `known`. Errors: `ConfigError`."""
        for rule, _ in [*self.levels, *(pair for part in self.parts for pair in part.levels)]:
            if rule not in known:
                raise self.refuse(rule, f"no rule is called `{rule}`: {nearest(rule, known)}")
        return self


def settings_for(folder: Path) -> Settings:
    """Return the settings that hold in `folder`: of the nearest file there, or above.

    The search ends at the top of a repository. ``trellis.toml`` goes before ``pyproject.toml``.
    Errors: `ConfigError`.
    """
    for above in (folder, *folder.parents):
        own, shared = above / OWN, above / SHARED
        if own.is_file():
            text = _read(own)
            return _settings(own, text, _parsed(own, text))
        if shared.is_file():
            text = _read(shared)
            if _HEADER.search(text) is not None:
                table = _parsed(shared, text).get("tool", {}).get(_TOOL)
                if table is not None:
                    return _settings(shared, text, table)
        if (above / ".git").exists():
            break
    return Settings()


_TABLE_OF_LEVELS = re.compile(r"^\s*\[[^\[\]]*\blevels\s*\]|^\s*levels\s*=", re.MULTILINE)
_TABLE_OF_PARTS = re.compile(r"^\s*\[\[[^\[\]]*\bparts\s*\]\]", re.MULTILINE)
_HEADER = re.compile(rf"^\s*\[+\s*tool\s*\.\s*[\"']?{_TOOL}\b", re.MULTILINE)


def _start(text: str) -> int:
    found = _HEADER.search(text)
    return found.start() if found is not None else 0


def _read(file: Path) -> str:
    try:
        return file.read_text("utf-8")
    except UnicodeDecodeError as wrong:
        raise ConfigError(f"{file}: this is no UTF-8 (byte {wrong.start})") from None


def _parsed(file: Path, text: str) -> dict[str, Any]:
    try:
        return tomllib.loads(text)
    except tomllib.TOMLDecodeError as wrong:
        raise ConfigError(f"{file}: this is no valid TOML: {wrong}") from None


def _settings(file: Path, text: str, table: dict[str, Any]) -> Settings:
    bare = Settings(file, text=text)
    if (wrong := fault(table, KEYS, "the configuration")) is not None:
        raise bare.refuse(*wrong)
    fail_at = table.get("fail-at", bare.fail_at)
    if fail_at not in FAILING:
        raise bare.refuse("fail-at", f"`fail-at` is one of {', '.join(FAILING)}")
    parts = []
    for part in table.get("parts", []):
        if (wrong := fault(part, PART_KEYS, "a part of the configuration")) is not None:
            raise bare.refuse(*wrong)
        if "paths" not in part:
            raise bare.refuse("parts", "a part of the configuration says which `paths` it is about")
        parts.append(Part(tuple(part["paths"]), _levels(bare, part.get("levels", {}))))
    return Settings(
        file,
        tuple(table.get("rules", ())),
        tuple(table.get("paths", ())),
        tuple(table.get("skip", ())),
        fail_at,
        _levels(bare, table.get("levels", {})),
        tuple(parts),
        text,
    )


def _levels(settings: Settings, table: dict[str, Any]) -> Levels:
    for rule, level in table.items():
        if level not in LEVELS:
            raise settings.refuse(rule, f"the level of `{rule}` is one of {', '.join(LEVELS)}")
    return tuple(table.items())
