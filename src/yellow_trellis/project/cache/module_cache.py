"""Module interfaces kept from run to run, so that only changed files are read again."""

from __future__ import annotations

import hashlib

import msgspec

from yellow_trellis.project.cache.file_hashes import Digests
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.semantics import Summary


class Summaries:
    """The summaries kept for a code base, by path and what the file holds."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._digests = Digests(store)
        self._marks: dict[str, tuple[str, str]] | None = None
        self._fresh: list[tuple[str, str, str, bytes]] = []

    def get(self, path: str, module: str) -> Summary | None:
        """Return what is kept of the file at `path` as `module`, if it has not changed since."""
        digest = self._digests.of(path)
        rows = self._store.read(
            "select summary from modules where path = ? and digest = ?",
            (self._store.name(path), digest),
        )
        try:
            result = msgspec.json.decode(rows[0][0], type=Summary) if rows else None
        except msgspec.MsgspecError:
            return None
        return result if result is not None and result.module == module else None

    def put(self, path: str, digest: str, summary: Summary) -> None:
        """Keep the summary of a file that holds what `digest` says."""
        text = _text(summary)
        self._fresh.append((self._store.name(path), digest, _mark(text), text))

    def mark(self, path: str) -> str | None:
        """Return the mark of what is kept of a file, if it has not changed since."""
        if self._marks is None:
            rows = self._store.read("select path, digest, mark from modules")
            self._marks = {name: (digest, mark) for name, digest, mark in rows}
        remainder = self._marks.get(self._store.name(path))
        return remainder[1] if remainder is not None and remainder[0] == self._digests.of(
            path
        ) else None

    @staticmethod
    def mark_of(summary: Summary) -> str:
        """Return what changes when a summary does."""
        return _mark(_text(summary))

    def keep(self) -> None:
        """Keep what was put for the next run."""
        if self._fresh:
            self._store.write(("insert or replace into modules values (?, ?, ?, ?)", self._fresh))
            self._fresh = []
        self._digests.keep()


def _text(summary: Summary) -> bytes:
    return msgspec.json.encode(summary)


def _mark(text: bytes) -> str:
    return hashlib.sha256(text).hexdigest()[:32]
