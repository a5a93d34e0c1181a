"""Module interfaces kept from run to run, so that only changed files are read again."""

from __future__ import annotations

import hashlib

import msgspec

from yellow_trellis.project.cache.file_hashes import Digests
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.cache.table import Table
from yellow_trellis.semantics import Summary


class _Module(msgspec.Struct, frozen=True, array_like=True):
    """The interface that a file had when its digest was `digest`."""

    digest: str
    mark: str
    summary: bytes


class Summaries:
    """The summaries kept for a code base, by path and what the file holds."""

    def __init__(self, store: Store, digests: Digests) -> None:
        self._store = store
        self._digests = digests
        self._table = Table(store, "modules", _Module)
        self._fresh: dict[str, _Module] = {}

    def get(self, path: str, module: str) -> Summary | None:
        """Return what is kept of the file at `path` as `module`, if it has not changed since."""
        entry = self._entry(path)
        if entry is None:
            return None
        try:
            result = msgspec.json.decode(entry.summary, type=Summary)
        except msgspec.MsgspecError:
            return None
        return result if result.module == module else None

    def put(self, path: str, digest: str, summary: Summary) -> None:
        """Keep the summary of a file that holds what `digest` says."""
        text = msgspec.json.encode(summary)
        self._fresh[self._store.name(path)] = _Module(digest, _mark(text), text)

    def mark(self, path: str) -> str | None:
        """Return the mark of what is kept of a file, if it has not changed since."""
        entry = self._entry(path)
        return entry.mark if entry is not None else None

    @staticmethod
    def mark_of(summary: Summary) -> str:
        """Return what changes when a summary does."""
        return _mark(msgspec.json.encode(summary))

    def keep(self) -> None:
        """Keep what was put for the next run."""
        if self._fresh:
            self._table.put(self._fresh)
            self._fresh = {}
        self._digests.keep()

    def _entry(self, path: str) -> _Module | None:
        """Return what is kept of a file as it is now."""
        entry = self._table.get(self._store.name(path))
        return entry if entry is not None and entry.digest == self._digests.of(path) else None


def _mark(text: bytes) -> str:
    return hashlib.sha256(text).hexdigest()[:32]
