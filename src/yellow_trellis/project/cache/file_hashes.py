"""Hashes of files, read again only where the file status leaves a doubt."""

from __future__ import annotations

from pathlib import Path

from msgspec import Struct

from yellow_trellis.project.cache.file_stat import Stamp, digest_of
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.cache.table import Table


class _Entry(Struct, frozen=True, array_like=True):
    """The digest of a file, at the time it had `stamp`."""

    stamp: Stamp
    digest: str


class Digests:
    """The SHA-256 digests, in hexadecimal, of files as they were when they were last read."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._table = Table(store, "files", _Entry)
        self._known: dict[str, _Entry] | None = None
        self._fresh: dict[str, _Entry] = {}

    def of(self, path: str, stamp: Stamp | None = None) -> str | None:
        """Return the digest of the file at `path`; None if it cannot be read.

        Arguments: `stamp` is that of the file, taken before, if it is known.
        """
        stamp = stamp or Stamp.of(path)
        if stamp is None:
            return None
        result = self.unread(path, stamp)
        if result is None:
            try:
                result = digest_of(Path(path).read_bytes())
            except OSError:
                return None
            self.add(path, stamp, result)
        return result

    def unread(self, path: str, stamp: Stamp) -> str | None:
        """Return the digest of a file whose stamp is that of the last time; else None."""
        if self._known is None:
            self._known = self._table.all()
        remainder = self._known.get(self._store.name(path))
        return remainder.digest if remainder is not None and remainder.stamp == stamp else None

    def add(self, path: str, stamp: Stamp, digest: str) -> None:
        """Note what a file holds that had `stamp` before it was read."""
        if stamp.settled:
            self._fresh[self._store.name(path)] = _Entry(stamp, digest)

    def keep(self) -> None:
        """Keep what was found out for the next run."""
        if self._fresh:
            self._table.put(self._fresh)
            if self._known is not None:
                self._known.update(self._fresh)
            self._fresh = {}
