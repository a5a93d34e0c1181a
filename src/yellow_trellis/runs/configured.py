"""The rules and files that a configuration speaks of, as a run takes them."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace

from yellow_trellis.project.file_options import EVERYTHING, FileFilter
from yellow_trellis.project.settings import Settings
from yellow_trellis.rules import Setting
from yellow_trellis.rules.files.packs import PACKS
from yellow_trellis.runs.rule_source import RulesSpec


def configured_rules(
    settings: Settings, no_code: str, only: tuple[str, ...] = (), shown: Callable[[str], str] = str
) -> RulesSpec:
    """Return where the rules come from that a configuration names.

    Arguments:
        no_code: why rules in Python may not be run; empty if they may.
        only: the names of the rules to use; all if empty.
        shown: gives the path of a rule file as messages are to show it.
    """
    paths = tuple(_path(settings.folder / name, name, shown) for name in settings.rules)
    unasked = None
    if settings.unasked is not None:
        unasked = Setting("*", "unasked", settings.unasked, place=settings.places["unasked"])
    return RulesSpec(
        paths,
        only,
        settings.said,
        tuple((part.paths, part.said) for part in settings.parts),
        str(settings.folder),
        unasked,
        settings.places["warnings-as-errors"] if settings.warnings_as_errors else "",
        settings.reasons,
        no_code,
        "" if no_code else str(settings.folder),
    )


def _path(path: Path, name: str, shown: Callable[[str], str]) -> str:
    """Return the path of a rule file or folder where it is there, else the name of a pack.

    What is there for certain is no pack that happens to be installed; with a pack that comes with
    the library it is not certain which of the two is meant.
    """
    if not path.exists():
        return name
    return shown(str(path)) if name in PACKS else os.path.join(".", shown(str(path)))


def configured_filter(settings: Settings, file_filter: FileFilter = EVERYTHING) -> FileFilter:
    """Return a file filter with what a configuration says of files."""
    return replace(
        file_filter,
        skip=settings.skip,
        skip_from=str(settings.file or ""),
        endings=settings.endings,
        empty_macros=settings.empty_macros,
    )
