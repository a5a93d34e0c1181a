"""The configuration that holds for an open file: its rules, and whether it is looked at."""

from __future__ import annotations

import os
from functools import cached_property
from pathlib import Path

from msgspec import Struct

from yellow_trellis.project.cache.file_stat import Stamp
from yellow_trellis.project.discovery import SourceFile, why_skipped
from yellow_trellis.project.file_filter import narrowed
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.locate import project_of
from yellow_trellis.project.settings import Settings, settings_for
from yellow_trellis.project.trust import why_not_trusted
from yellow_trellis.runs.configured import configured_filter, configured_rules
from yellow_trellis.runs.rule_source import RulesSpec


class Setup(Struct, frozen=True, dict=True):
    """A configuration, with the rules that may be used."""

    settings: Settings
    spec: RulesSpec
    not_run: tuple[str, ...] = ()
    """The rule files in Python that are left out, as they are not trusted."""
    why_not: str = ""
    """Why they are not."""

    @classmethod
    def of(cls, folder: Path, trusted: bool) -> Setup:
        """Read the configuration that holds in a folder, and the rules that it names.

        Arguments: `trusted` lets rules in Python be run also where the user has not said so before.
        Errors: `ConfigError`, `RuleError`.
        """
        settings = settings_for(folder)
        spec = configured_rules(settings, "")
        not_run: tuple[str, ...] = ()
        why_not = "" if trusted else why_not_trusted(settings)
        if why_not:
            data, not_run = _data_only(spec.paths)
            spec = spec._replace(paths=data)
        spec.ruleset()
        return cls(settings, spec, not_run, why_not)

    @property
    def paths(self) -> list[Path]:
        """The files and folders to look at."""
        return [self.settings.folder / top for top in self.settings.paths or (".",)]

    @cached_property
    def _reasons(self) -> dict[str, str]:
        return {}

    @cached_property
    def root(self) -> str:
        """The folder of the code base."""
        return project_of(os.path.realpath(self.settings.folder))

    def why_left(self, path: str) -> str:
        """Return why a file is not looked at; empty if it is. Asked once for each file."""
        if path not in self._reasons:
            self._reasons[path] = self._why_left(path)
        return self._reasons[path]

    def _why_left(self, path: str) -> str:
        settings = self.settings
        if not self.spec.paths:
            return "no rules are configured here"
        if reason := why_skipped(path, self.paths, dict(settings.endings)):
            return reason
        name = language_at(path, dict(settings.endings)) or ""
        file = SourceFile(path, name, Stamp.of(path) or Stamp())
        _, skipped = narrowed([file], configured_filter(settings), Path(self.root))
        return skipped[0].reason if skipped else ""


def _data_only(paths: tuple[str, ...]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the rule files that are data, and those that are not."""
    files: list[str] = []
    for name in paths:
        path = Path(name)
        if path.is_dir():
            files += (str(file) for file in sorted(path.iterdir()) if not file.name.startswith("_"))
        else:
            files.append(name)
    code = tuple(file for file in files if file.endswith(".py"))
    data = tuple(file for file in files if file.endswith(".toml") or not os.path.exists(file))
    return data, code
