"""One embedded database beside the code: a help and never the truth, thrown away when damaged.

A database of another program is left alone: ours says so in its header. One that says so and was
not made by this user, or is not of our shape, is thrown away before anything of it is believed.
"""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Iterable, Mapping, Sequence
from contextlib import closing, suppress
from functools import lru_cache
from pathlib import Path
from stat import S_ISREG
from typing import Any

from yellow_trellis._version import __version__
from yellow_trellis.project.cache.state_dir import HOME, fault_of, private_folder
from yellow_trellis.project.cache.user_key import seal, user_key

_FORM = f"{__version__}/8"
"""What another version has kept is made anew."""

_TABLES = """
create table if not exists form (name text);
create table if not exists entries (
  kind text, part text, key text, body blob, seal integer, primary key (kind, part, key)
) without rowid;
create table if not exists parts (kind text, part text, used integer, primary key (kind, part));
"""
_LONGEST = 512 << 20
"""The most bytes of one value."""
_SLOWEST = 60.0
"""The most seconds that one statement may take."""
_STEPS = 100_000

_OURS = 0x59545231
"""The application id in the header of a database: ``YTR1``."""
_MAGIC = b"SQLite format 3\0"
_ID_AT = 68
"""The byte of the header at which the application id stands, in four bytes, highest first."""


class Store:
    """An embedded database of facts about the code base under `root`, shared by processes.

    Where it cannot be read or written all is worked out anew; `damaged` then says whether a store
    was there and could not be believed.

    Arguments: with `is_off` nothing is read and nothing is kept.
    """

    def __init__(self, root: Path, is_off: bool = False) -> None:
        self.root = str(root)
        self._key = None if is_off else user_key()
        self._is_off = self._key is None  # what nobody has sealed is not believed
        self._began = 0.0
        self._inside = os.path.join(self.root, "")
        self.path = root / HOME / "known.sqlite"
        self.damaged = False
        self._open: sqlite3.Connection | None = None
        self._process = 0
        self._names: dict[str, str] = {}

    def __del__(self) -> None:
        """Let go of the file, also where nobody has said so."""
        self.close()

    def whole(self, name: str) -> str:
        """Return the path of what is called `name` in the store."""
        return os.path.join(self.root, name)

    def name(self, path: str) -> str:
        """Return how a file is called in the store: from the root, where it lies inside.

        Two that differ in bytes which are not UTF-8 may share a name: nothing rests on it alone.
        """
        if (entry := self._names.get(path)) is not None:
            return entry
        name = os.path.abspath(path).removeprefix(self._inside)
        if not name.isascii():
            name = name.encode("utf-8", "backslashreplace").decode("utf-8")
        self._names[path] = name
        return name

    def rows(self, kind: str, part: str, key: str | None = None) -> list[tuple[str, bytes]]:
        """Return the keys and bodies of a part of a table, or of one key; see `Table`.

        A row that this user has not kept, or that is torn, costs the whole store.
        """
        query = "select key, body, seal from entries where kind = ? and part = ?"
        values = [kind, part]
        if key is not None:
            query += " and key = ?"
            values.append(key)
        results = []
        for name, body, number in self._read(query, values):
            if not isinstance(name, str) or not isinstance(body, bytes):
                self.throw_away()
                return []
            if number != self._seal_of(kind, part, name, body):
                self.throw_away()
                return []
            results.append((name, body))
        return results

    def count(self, kind: str, part: str | None = None) -> int:
        """Return how many rows a table has, or a part of it."""
        query, values = "select count(*) from entries where kind = ?", [kind]
        if part is not None:
            query += " and part = ?"
            values.append(part)
        rows = self._read(query, values)
        return int(rows[0][0]) if rows else 0

    def parts(self, kind: str) -> int:
        """Return how many parts a table has."""
        rows = self._read("select count(*) from parts where kind = ?", [kind])
        return int(rows[0][0]) if rows else 0

    def put(
        self, kind: str, part: str, bodies: Mapping[str, bytes], most: int | None = None
    ) -> None:
        """Keep rows by key, all or none; of the parts of the table the `most` used last stay."""
        sealed = (
            (kind, part, key, body, self._seal_of(kind, part, key, body))
            for key, body in bodies.items()
        )
        latest = "select part from parts where kind = ?1 order by used desc limit ?2"
        limits = [] if most is None else [(kind, most)]
        self._write(
            ("insert or replace into parts values (?, ?, ?)", [(kind, part, time.time_ns())]),
            ("insert or replace into entries values (?, ?, ?, ?, ?)", sealed),
            (f"delete from entries where kind = ?1 and part not in ({latest})", limits),
            (f"delete from parts where kind = ?1 and part not in ({latest})", limits),
        )

    def _seal_of(self, kind: str, part: str, key: str, body: bytes) -> int:
        """Return a number that says that this user has kept a row."""
        return seal(self._key or b"", f"{kind} {part}".encode(), key.encode(), body)

    def _read(self, query: str, values: Sequence[str]) -> list[tuple[Any, ...]]:
        """Return the rows that `query` gives; none where nothing is kept."""
        if self._is_off or not os.path.lexists(self.path) or not self._may_use():
            return []
        try:
            return self._connection().execute(query, values).fetchall()
        except sqlite3.OperationalError:
            return []  # another process has it
        except sqlite3.DatabaseError:
            self.throw_away()
            return []

    def _write(self, *changes: tuple[str, Iterable[Sequence[Any]]]) -> None:
        """Carry out statements, each with its rows, all or none; what cannot be kept is not."""
        if self._is_off:
            return
        try:
            private_folder(Path(self.root))
            if not self._may_use():
                return
            connection = self._connection()
            with connection:
                for statement, rows in changes:
                    connection.executemany(statement, rows)
        except sqlite3.OperationalError:
            pass  # another process has it, the folder cannot be written, or the disk is full
        except sqlite3.DatabaseError:
            self.throw_away()
        except OSError:
            pass

    @property
    def fault(self) -> str:
        """Why there is none, where something stands in its place; empty if all is well."""
        if message := fault_of(Path(self.root)):
            return message
        try:
            status = os.lstat(self.path)
            if not S_ISREG(status.st_mode) or status.st_nlink > 1:
                return f"{self.path} is a link, or no plain file: take it away"
            with self.path.open("rb") as file:
                head = file.read(_ID_AT + 4)
        except FileNotFoundError:
            return ""
        except OSError as wrong:
            return f"{self.path} cannot be read: {wrong.strerror or wrong}"
        if head.startswith(_MAGIC) and head[_ID_AT:] != _OURS.to_bytes(4, "big"):
            return f"{self.path} is a database of another program: take it away"
        return ""

    def _may_use(self) -> bool:
        """Return whether the database is ours, or not there yet."""
        if self._open is not None and self._process == os.getpid():
            return True
        return not self.fault

    def throw_away(self) -> None:
        """Forget a store that cannot be believed."""
        self.damaged = True
        self.close()
        if not self.fault:
            with suppress(OSError):
                self.path.unlink()

    def close(self) -> None:
        """Let go of the file."""
        if self._open is not None and self._process == os.getpid():
            with suppress(sqlite3.Error):
                self._open.close()
        self._open = None

    def _connection(self) -> sqlite3.Connection:
        """Return this process's own connection: one that was forked must not be used."""
        if self._open is None or self._process != os.getpid():
            self._open = sqlite3.connect(self.path, timeout=5, check_same_thread=False)
            self._process = os.getpid()
            if hasattr(self._open, "setlimit"):  # since Python 3.11
                self._open.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, _LONGEST)
            self._open.set_progress_handler(self._is_late, _STEPS)
            # nothing is lost that matters if the machine goes down, and what is torn then shows
            self._open.execute("pragma synchronous = off")
            self._prepare(self._open)
        self._began = time.monotonic()
        return self._open

    def _is_late(self) -> bool:
        """Return whether a statement takes too long, so that it is ended."""
        return time.monotonic() - self._began > _SLOWEST

    def _prepare(self, connection: sqlite3.Connection) -> None:
        """Make sure that a database is one that this user has made, of our shape."""
        self._began = time.monotonic()
        number = seal(self._key or b"", os.fsencode(self.root))
        form = f"{_FORM} {number}"
        if _is_sealed(connection, form):
            return
        connection.execute("begin immediate")  # two that come at once must not both make it
        (owner,) = connection.execute("pragma application_id").fetchone()
        is_empty = connection.execute("select 1 from sqlite_master").fetchone() is None
        if is_empty:
            connection.execute(f"pragma application_id = {_OURS}")
            for statement in filter(str.strip, _TABLES.split(";")):
                connection.execute(statement)
            connection.execute("insert into form values (?)", (form,))
            connection.commit()
            return
        is_sealed = _is_sealed(connection, form)
        connection.rollback()
        if is_sealed:
            return
        if owner != _OURS:
            raise sqlite3.OperationalError("it is not ours")
        # of another version, of another user, or made to look like ours: nothing of it is run
        connection.close()
        self._open = None
        self.path.unlink()
        self._connection()


def _is_sealed(connection: sqlite3.Connection, form: str) -> bool:
    """Return whether a database has our shape, and says the `form` that only this user can."""
    if _shape_of(connection) != _shape_of_ours():
        return False
    return connection.execute("select name from form limit 2").fetchall() == [(form,)]


def _shape_of(connection: sqlite3.Connection) -> list[tuple[str, str, str]]:
    """Return what a database consists of: kinds, names and definitions."""
    rows = connection.execute("select type, name, sql from sqlite_master where sql is not null")
    return sorted((str(kind), str(name), " ".join(str(sql).split())) for kind, name, sql in rows)


@lru_cache(maxsize=1)
def _shape_of_ours() -> list[tuple[str, str, str]]:
    with closing(sqlite3.connect(":memory:")) as connection:
        for statement in _TABLES.split(";"):
            connection.execute(statement)
        return _shape_of(connection)
