"""What is known of modules, kept from run to run, so that only changed files are read again."""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path

from yellow_trellis._version import __version__
from yellow_trellis.engine.journal import HOME, private_folder
from yellow_trellis.facts import Summary
from yellow_trellis.facts.summary import from_data, to_data

_FORM = f"{__version__}/1"
"""Summaries of another version are made anew."""

_TABLE = """
create table if not exists modules (
  path text primary key, form text, size integer, changed integer, file integer, summary text
)
"""


@dataclass(frozen=True, slots=True)
class Stamp:
    """What tells a file from itself after a change: size in bytes, time in nanoseconds, number."""

    size: int
    changed: int
    file: int

    @classmethod
    def of(cls, path: str) -> Stamp | None:
        """Return the stamp of the file at `path`; None if it cannot be had."""
        try:
            stat = Path(path).stat()
        except OSError:
            return None
        return cls(stat.st_size, stat.st_mtime_ns, stat.st_ino)


class Summaries:
    """The summaries kept for the code base under `root`.

    The store is a help, no more: where it cannot be read or written, things are worked out anew;
    one that is damaged is thrown away. Several processes may use it at once.
    """

    def __init__(self, root: Path) -> None:
        self.root = root
        self.path = root / HOME / "modules.sqlite"

    def get(self, path: str, module: str) -> Summary | None:
        """Return what is kept of the file at `path` as `module`, if it has not changed since."""
        stamp = Stamp.of(path)
        if stamp is None or not self.path.is_file():
            return None
        try:
            with closing(self._open()) as store:
                row = store.execute(
                    "select summary from modules where path = ? and form = ? and size = ?"
                    " and changed = ? and file = ?",
                    (self._name(path), _FORM, stamp.size, stamp.changed, stamp.file),
                ).fetchone()
            found = from_data(json.loads(row[0])) if row is not None else None
        except sqlite3.DatabaseError:
            self._throw_away()
            return None
        except (OSError, KeyError, TypeError, ValueError):
            return None
        return found if found is not None and found.module == module else None

    def put(self, kept: list[tuple[str, Summary]]) -> None:
        """Keep the summaries of files, by path."""
        rows = []
        for path, summary in kept:
            stamp = Stamp.of(path)
            if stamp is not None:
                text = json.dumps(to_data(summary))
                name = self._name(path)
                rows.append((name, _FORM, stamp.size, stamp.changed, stamp.file, text))
        try:
            private_folder(self.root)
            with closing(self._open()) as store, store:
                store.execute(_TABLE)
                store.executemany("insert or replace into modules values (?, ?, ?, ?, ?, ?)", rows)
        except sqlite3.OperationalError:
            pass  # another process has it, or the folder cannot be written
        except sqlite3.DatabaseError:
            self._throw_away()
        except OSError:
            pass

    def _open(self) -> sqlite3.Connection:
        return sqlite3.connect(self.path, timeout=5)

    def _name(self, path: str) -> str:
        return Path(path).resolve().relative_to(self.root).as_posix()

    def _throw_away(self) -> None:
        with suppress(OSError):
            self.path.unlink()
