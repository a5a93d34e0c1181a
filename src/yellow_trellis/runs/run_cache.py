"""The cache of earlier runs: reports of files that have not changed, and the words in files."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING

from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.processes.task import Task
from yellow_trellis.runs.report_cache import ReportCache
from yellow_trellis.runs.word_index import WordIndex
from yellow_trellis.semantics.alias_map import SPELLED

if TYPE_CHECKING:
    from yellow_trellis.project.project import CodeBase
    from yellow_trellis.rules import Ruleset
    from yellow_trellis.runs.rule_source import PatternSpec, RulesSpec


class RunCache:
    """The cache of earlier runs: reports of files, and the words in them."""

    def __init__(self, base: CodeBase, rules: RulesSpec | PatternSpec, task: Task) -> None:
        self._base = base
        modes = task.options.of_report()
        self._vocabulary = base.vocabulary if base.symbols else SPELLED
        words = sorted((name, sorted(some)) for name, some in self._vocabulary.words.items())
        kind = (rules.identity(), modes, words, sorted(self._vocabulary.patched.items()))
        self._reports = ReportCache(base, kind)
        self._words = WordIndex(base.store, base.digests)
        self._known: set[str] = set()

    @property
    def notes(self) -> list[str]:
        """Sentences that tell what went wrong with the cache."""
        notes = []
        if self._base.store.damaged:
            notes.append("what was kept of earlier runs was damaged: it was thrown away")
        if self._base.store.fault:
            notes.append(f"nothing is kept for the next run: {self._base.store.fault}")
        return notes

    def recall(self, files: list[SourceFile], ruleset: Ruleset) -> Iterator[FileReport]:
        """Yield what is known without looking at a file."""
        result = self._reports.known(files)
        self._known.update(result)
        yield from result.values()
        tail = [file for file in files if file.path not in result]
        if tail and self._words.exists:
            yield from self._words.without(tail, ruleset, self._vocabulary).values()

    def keep(self, files: list[SourceFile], reports: Mapping[str, FileReport]) -> None:
        """Keep what was found out for the next run."""
        for file in files:
            if file.path not in self._known:
                self._reports.add(file, reports[file.path])
        self._reports.keep()
        if self._words.exists:
            self._words.follow(files)
