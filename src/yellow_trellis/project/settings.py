"""Settings read from ``trellis.toml``, or from ``[tool.yellow-trellis]`` of ``pyproject.toml``."""

from __future__ import annotations

import os
import re
from pathlib import Path, PurePath, PureWindowsPath
from typing import Any

from msgspec import Struct, field

from yellow_trellis.errors import TrellisError
from yellow_trellis.findings.finding import LEVELS, UNASKED, Unasked
from yellow_trellis.project.locate import HEADER, OWN, SHARED, TOOL
from yellow_trellis.rules import Setting, settings_in
from yellow_trellis.schema import FLAG, STRING, STRINGS, TABLE, TABLES, WHOLE, nearest
from yellow_trellis.source import empty_macros
from yellow_trellis.toml_source import Key, TomlFile

_OF_RULES = {"levels": TABLE, "options": TABLE, "unasked-of": TABLE}
KEYS = {
    "rules": STRINGS,
    "paths": STRINGS,
    "skip": STRINGS,
    "endings": TABLE,
    "empty-macros": STRINGS,
    "fail-at": STRING,
    "warnings-as-errors": FLAG,
    "fixable-passes": FLAG,
    "at-most": WHOLE,
    "baseline": STRING,
    "history": STRING,
    "reasons": FLAG,
    "unasked": STRING,
    "python-version": STRING,
    "check-syntax": TABLE,
    **_OF_RULES,
    "parts": TABLES,
}
PART_KEYS = {"paths": STRINGS, **_OF_RULES}
FAILING = (*LEVELS[:-1], "never")


class ConfigError(TrellisError, ValueError):
    """A configuration that cannot be used: the file, line and column, the reason, what to do."""


class PathSettings(Struct, frozen=True):
    """Settings of rules for some paths only. `paths` are patterns as in ignore files."""

    paths: tuple[str, ...]
    said: tuple[Setting, ...]


class Settings(Struct, frozen=True):
    """A parsed configuration. Paths are as written, from the folder of `file`."""

    file: Path | None = None
    rules: tuple[str, ...] = ()
    paths: tuple[str, ...] = ()
    skip: tuple[str, ...] = ()
    fail_at: str = "warning"
    warnings_as_errors: bool = False
    fixable_passes: bool = False
    """Whether findings with a fix do not make a survey fail."""
    at_most: int = 0
    """With how many findings that would fail a survey passes."""
    baseline: str | None = None
    """The file with the findings that are accepted."""
    history: str | None = None
    """The file to which surveys add their totals."""
    reasons: bool = False
    """Whether a comment that leaves something alone counts only with a reason."""
    unasked: Unasked | None = None
    """Which fixes are applied without asking, for all rules."""
    python_version: tuple[int, int] | None = None
    """The oldest version of Python that changed files must be read by."""
    endings: tuple[tuple[str, str], ...] = ()
    """Endings of files, ``.inc``, with the language of files that have them."""
    empty_macros: tuple[str, ...] = ()
    """Macros of C and C++ that stand for nothing, ``ALDER_API``, or ``ALDER_USES()``."""
    check_syntax: tuple[tuple[str, str], ...] = ()
    """Commands that check changed files before they are written, by language."""
    said: tuple[Setting, ...] = ()
    """What is said of single rules."""
    parts: tuple[PathSettings, ...] = ()
    places: dict[str, str] = field(default_factory=dict)
    """By key: file, line and column, for messages that say where something stands."""

    @property
    def folder(self) -> Path:
        """The folder that paths start from."""
        return self.file.parent if self.file is not None else Path()


def settings_for(folder: Path) -> Settings:
    """Return the settings that hold in `folder`: of the nearest file there, or above.

    The search ends at the top of a repository. ``trellis.toml`` goes before ``pyproject.toml``.
    Errors: `ConfigError`.
    """
    for above in (folder, *folder.parents):
        own, common = above / OWN, above / SHARED
        if own.is_file():
            return _settings(TomlFile(own, ConfigError))
        if common.is_file() and re.search(HEADER, common.read_bytes()) is not None:
            file = TomlFile(common, ConfigError)
            if TOOL in file.data.get("tool", {}):
                return _settings(file, "tool", TOOL)
        if (above / ".git").exists():
            break
    return Settings()


def settings_in_file(file: Path) -> Settings:
    """Return the settings in one file, of either form. Errors: `ConfigError`."""
    parsed = TomlFile(file, ConfigError)
    if file.name != SHARED:
        return _settings(parsed)
    if TOOL not in parsed.data.get("tool", {}):
        raise ConfigError(f"{file}: it has no table [tool.{TOOL}]")
    return _settings(parsed, "tool", TOOL)


def _python_version(file: TomlFile, table: dict[str, Any], *top: Key) -> tuple[int, int] | None:
    text = table.get("python-version")
    if text is None:
        return None
    try:
        return version_of(text)
    except ValueError as wrong:
        raise file.wrong(f"`python-version`: {wrong}", *top, "python-version") from None


def version_of(text: str) -> tuple[int, int]:
    """Read a version of Python, such as 3.9. Errors: `ValueError`."""
    match = re.fullmatch(r"3\.(\d{1,2})", text.strip())
    if match is None or int(match[1]) < 7:
        raise ValueError(f"a version is written as 3.9, and is at least 3.7, not {text!r}")
    return 3, int(match[1])


def _own_paths(file: TomlFile, table: dict[str, Any], *top: Key) -> tuple[str, ...]:
    """Return the paths to look at: they lie below the configuration, and lead there.

    What is looked at may be written to, so a configuration that came with code says nothing of
    what lies elsewhere.
    """
    paths: list[str] = table.get("paths", [])
    root = os.path.realpath(file.path.parent)
    for path in paths:
        real = os.path.realpath(os.path.join(root, path)) if "\0" not in path else ""
        if os.path.commonpath([root, real or os.sep]) != root:
            through = "" if ".." in PurePath(path).parts or os.path.isabs(path) else " by a link"
            raise file.wrong(
                f"`paths` lie below the folder of the configuration, and {path!r} leads out of "
                f"it{through}; what lies elsewhere is named on the command line",
                *top,
                "paths",
            )
    return tuple(paths)


def _own_file(file: TomlFile, table: dict[str, Any], key: str, *top: Key) -> str | None:
    """Return the name of a file that is written to: it lies below the configuration."""
    name: str | None = table.get(key)
    if name is None:
        return None
    pure = PureWindowsPath(name)  # it takes slashes of both kinds, and drives
    if not pure.parts or pure.anchor or ".." in pure.parts or "\0" in name:
        raise file.wrong(
            f"`{key}` is a file below the folder of the configuration, not {name!r}; "
            "another one is named on the command line",
            *top,
            key,
        )
    return name


def _check_syntax(
    file: TomlFile, table: dict[str, Any], *top: Key
) -> tuple[tuple[str, str], ...]:
    commands = table.get("check-syntax", {})
    for name, command in commands.items():
        if wrong := checked_language(name):
            raise file.wrong(wrong, *top, "check-syntax", name)
        if not isinstance(command, str) or not command.strip():
            message = f"the command for {name} is a string, such as \"node --check\""
            raise file.wrong(message, *top, "check-syntax", name)
    return tuple(sorted(commands.items()))


def _endings(file: TomlFile, table: dict[str, Any], *top: Key) -> tuple[tuple[str, str], ...]:
    endings = table.get("endings", {})
    for ending, name in endings.items():
        if not isinstance(name, str) or (wrong := checked_language(name)):
            message = wrong if isinstance(name, str) else "a language is a string, such as \"php\""
            raise file.wrong(message, *top, "endings", ending)
        if not re.fullmatch(r"\.[^./\\]+", ending):
            message = f"an ending starts with its only dot, such as \".inc\", not {ending!r}"
            raise file.wrong(message, *top, "endings", ending)
    return tuple(sorted((ending.lower(), name) for ending, name in endings.items()))


def _empty_macros(file: TomlFile, table: dict[str, Any], *top: Key) -> tuple[str, ...]:
    names: list[str] = table.get("empty-macros", [])
    for name in names:
        if empty_macros.FORM.fullmatch(name) is None:
            raise file.wrong(
                f"a macro that stands for nothing is its name of {empty_macros.SHORTEST} letters "
                f"or more, with () behind it if it is called, not {name!r}",
                *top,
                "empty-macros",
            )
    return tuple(sorted(set(names)))


def checked_language(name: str) -> str:
    """Return what is wrong with the name of a language; empty if it is one."""
    from yellow_trellis.languages import names

    return "" if name in names() else f"there is no language `{name}`: {nearest(name, names())}"


def _settings(file: TomlFile, *top: Key) -> Settings:
    table: dict[str, Any] = file.data
    for key in top:
        table = table[str(key)]
    file.check(table, KEYS, "the configuration", *top)
    usual = Settings()
    fail_at = table.get("fail-at", usual.fail_at)
    for key, words in (("fail-at", FAILING), ("unasked", UNASKED)):
        if table.get(key, words[0]) not in words:
            raise file.wrong(f"`{key}` is one of {', '.join(words)}", *top, key)
    if table.get("at-most", 0) < 0:
        raise file.wrong("`at-most` is not below 0", *top, "at-most")
    parts = []
    for number, part in enumerate(table.get("parts", [])):
        here = (*top, "parts", number)
        file.check(part, PART_KEYS, "a part of the configuration", *here)
        if "paths" not in part:
            message = "a part of the configuration says which `paths` it is about"
            raise file.wrong(message, *here)
        parts.append(PathSettings(tuple(part["paths"]), settings_in(file, part, *here)))
    return Settings(
        file.path,
        tuple(table.get("rules", ())),
        _own_paths(file, table, *top),
        tuple(table.get("skip", ())),
        fail_at,
        table.get("warnings-as-errors", usual.warnings_as_errors),
        table.get("fixable-passes", usual.fixable_passes),
        table.get("at-most", usual.at_most),
        _own_file(file, table, "baseline", *top),
        _own_file(file, table, "history", *top),
        table.get("reasons", usual.reasons),
        table.get("unasked"),
        _python_version(file, table, *top),
        _endings(file, table, *top),
        _empty_macros(file, table, *top),
        _check_syntax(file, table, *top),
        settings_in(file, table, *top),
        tuple(parts),
        {key: file.place(*top, key) for key in table},
    )
