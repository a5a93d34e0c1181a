"""A word index of the code base: which files can hold a name, known without opening them."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct

from yellow_trellis.languages import Language, language
from yellow_trellis.project.cache.file_hashes import Digests
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.cache.table import Table
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.rules import Ruleset
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.source import NAME, Source, UnreadableError, line_count, normalized

if TYPE_CHECKING:
    from yellow_trellis.semantics import Vocabulary

_FEW = 400
"""How many files that have changed are read again on the way, without being asked for."""


class _Words(Struct, frozen=True, array_like=True):
    """The words of a file, each on a line of its own, when its digest was `digest`."""

    digest: str
    lines: int
    words: bytes


class WordIndex:
    """The words of each file, where somebody has had them indexed."""

    def __init__(self, store: Store, digests: Digests | None = None) -> None:
        self._store = store
        self._digests = digests or Digests(store)
        self._table = Table(store, "words", _Words)

    @property
    def exists(self) -> bool:
        """Return whether there is an index."""
        return self._table.exists

    def without(
        self, files: Iterable[SourceFile], ruleset: Ruleset, vocabulary: Vocabulary
    ) -> dict[str, FileReport]:
        """Return by path empty reports on those of `files` in which no rule can find anything.

        Only files that are as they were indexed are among them.
        """
        table: dict[str, FileReport] = {}
        for file in files:
            entry = self._entries.get(self._store.name(file.path))
            if entry is None or entry.digest != self._digests.unread(file.path, file.stamp):
                continue
            if not ruleset.may_be_among(entry.words, file.language, vocabulary):
                table[file.path] = FileReport(
                    file.path, file.size, entry.lines, digest=entry.digest
                )
        return table

    @cached_property
    def _entries(self) -> dict[str, _Words]:
        return self._table.all()

    def missing(self, files: Iterable[SourceFile]) -> list[SourceFile]:
        """Return those of `files` that are not indexed as they are now."""
        return [
            file
            for file in files
            if (entry := self._entries.get(self._store.name(file.path))) is None
            or entry.digest != self._digests.of(file.path, file.stamp)
        ]

    def add(self, files: Iterable[SourceFile]) -> int:
        """Index `files`; return how many words they have, each counted once a file."""
        entries: dict[str, _Words] = {}
        count = 0
        for file in files:
            digest = self._digests.of(file.path, file.stamp)
            try:
                raw = Path(file.path).read_bytes()
            except OSError:
                continue  # a run tells of it where it looks at the file
            words = sorted(_words(raw, language(file.language)))
            count += len(words)
            text = b"\n".join(words)
            lines = line_count(raw)
            entries[self._store.name(file.path)] = _Words(digest or "", lines, text)
        self._table.put(entries)
        self.__dict__.pop("_entries", None)
        self._digests.keep()
        return count

    def follow(self, files: Iterable[SourceFile]) -> None:
        """Bring an index that exists up to date with `files`, if few of them have changed."""
        missing = self.missing(files)
        if 0 < len(missing) <= _FEW:
            self.add(missing)


def _words(raw: bytes, spoken: Language) -> set[bytes]:
    """Return the words of a file in UTF-8, also as the language reads them."""
    try:
        data = Source.read(raw, declarations=spoken.declares_encoding).data
    except UnreadableError:
        data = raw
    words = set(NAME.findall(data))
    if spoken.normal_form is not None:
        words |= {normalized(word, spoken.normal_form) for word in words if not word.isascii()}
    return words
