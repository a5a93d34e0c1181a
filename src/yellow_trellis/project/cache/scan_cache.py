"""Results of scans over all files of a code base: only what has changed is scanned again.

Many questions about a code base come down to a few words of each file: what it imports, what other
names it gives. To read ten thousand files for each of them takes seconds, and a commit, an edit or
a pull changes a few. So the rows that a scan gives are kept by file, and believed while the file
has the status that it had. A database row for each file was refused: to read one value with all of
them takes less than half the time.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable, Mapping

from yellow_trellis.project.cache.file_stat import Stamp
from yellow_trellis.project.cache.library_stamp import library_stamp
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.cache.table import Table
from yellow_trellis.semantics.modules import Rows, Scan

_MOST = 24
"""How many scans are kept: those that were written last."""

_Entries = dict[str, tuple[Stamp, Rows]]
"""By name of a file in the store: its stamp, and the rows of the scan."""


class ScanCache:
    """The scans that are kept in a store."""

    def __init__(self, store: Store) -> None:
        self._store = store

    def over(
        self,
        name: str,
        scan: Scan,
        files: Iterable[tuple[str, Stamp | None]],
        read: Callable[[str], bytes | None],
    ) -> Mapping[str, Rows]:
        """Return by path the rows that `scan` gives for each file, without files that have none.

        Arguments: `name` says all that the rows rest on beside the bytes of a file; `files` are
        paths, each with its stamp, taken before this call, or None to scan the file and keep
        nothing of it; `read` gives the bytes of a file, None where it cannot be read.
        """
        key = hashlib.sha256(f"{library_stamp()} {name}".encode("utf-8", "replace")).hexdigest()
        table = Table(self._store, "scans", _Entries, key, _MOST)
        before = table.get("") or {}
        after: _Entries = {}
        results: dict[str, Rows] = {}
        is_new = False
        for path, stamp in files:
            inside = self._store.name(path)
            entry = before.get(inside) if stamp is not None else None
            if entry is not None and entry[0] == stamp:
                rows = entry[1]
                after[inside] = entry
            else:
                raw = read(path)
                rows = scan(raw) if raw is not None else ()
                if raw is not None and stamp is not None and stamp.settled:
                    after[inside] = (stamp, rows)
                    is_new = True
            if rows:
                results[path] = rows
        if is_new:
            table.put({"": after})
        return results
