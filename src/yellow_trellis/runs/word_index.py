"""A word index of the code base: which files can hold a name, known without opening them."""

from __future__ import annotations

import zlib
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_trellis.languages import Language, language
from yellow_trellis.project.cache.file_hashes import Digests
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.rules import Ruleset
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.source import NAME, Source, UnreadableError, line_count, normalized

if TYPE_CHECKING:
    from yellow_trellis.semantics import Vocabulary

_FEW = 400
"""How many files that have changed are read again on the way, without being asked for."""


class WordIndex:
    """The words of each file, where somebody has had them indexed."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._digests = Digests(store)

    @property
    def exists(self) -> bool:
        """Return whether there is an index."""
        return bool(self._store.read("select 1 from words limit 1"))

    def without(
        self, files: Iterable[SourceFile], ruleset: Ruleset, vocabulary: Vocabulary
    ) -> dict[str, FileReport]:
        """Return by path empty reports on those of `files` in which no rule can find anything.

        Only files that are as they were indexed are among them.
        """
        rows = self._store.read("select path, digest, lines, words, sum from words")
        remaining = {row[0]: row[1:] for row in rows}
        table: dict[str, FileReport] = {}
        for file in files if remaining else ():
            row = remaining.get(self._store.name(file.path))
            if row is None or row[0] != self._digests.unread(file.path, file.stamp):
                continue
            digest, lines, words, check = row
            if zlib.crc32(words) != check:
                self._store.throw_away()
                return {}
            if not ruleset.may_be_among(words, file.language, vocabulary):
                table[file.path] = FileReport(file.path, file.size, lines, digest=digest)
        return table

    def missing(self, files: Iterable[SourceFile]) -> list[SourceFile]:
        """Return those of `files` that are not indexed as they are now."""
        remaining = dict(self._store.read("select path, digest from words"))
        return [
            file
            for file in files
            if (entry := remaining.get(self._store.name(file.path))) is None
            or entry != self._digests.of(file.path, file.stamp)
        ]

    def add(self, files: Iterable[SourceFile]) -> int:
        """Index `files`; return how many words they have, each counted once a file."""
        rows = []
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
            rows.append((self._store.name(file.path), digest, lines, text, zlib.crc32(text)))
        self._store.write(("insert or replace into words values (?, ?, ?, ?, ?)", rows))
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
