"""The journal for `undo`: the bytes of every file, stored before the file is touched.

A run is a folder under ``.yellow-trellis/runs`` of the root: ``run.json`` says what it was,
``files.jsonl`` has one line a file, ``texts.bin`` the old and new bytes one after another. While a
run writes, ``.yellow-trellis/writing`` has its name. The format is described in docs/formats.md.

All of it is read as hostile, for it may have come with the code: names of runs have one form, paths
lead below the root without a link, and each line of the index has a checksum.
"""

from __future__ import annotations

import errno
import json
import os
import re
import time
import zlib
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from typing import Annotated, Any, NamedTuple

import msgspec

from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.project.cache.state_dir import HOME, MARK, private_folder
from yellow_trellis.project.safe_paths import Beneath, checked
from yellow_trellis.source.diff import Hunk

_VERSION = 3
_RUNS = f"{HOME}/runs"
_LARGEST_TEXT = 1024**3
"""Bytes that a text may have: no file so large is ever looked at."""
_LARGEST_INDEX = 1024**3
"""Bytes that the list of files of a run may have."""
MOST_RUNS = 1_000
"""How many runs are looked through, the latest of them."""
_NAME = re.compile(r"(\d{8}-\d{6})-(\d{3,6})")


class JournalPart(NamedTuple):
    """A run of changed lines: first line and number of lines, from 0, in old and new text."""

    old_start: int
    old_count: int
    new_start: int
    new_count: int
    rules: tuple[str, ...]

    @classmethod
    def of(cls, hunk: Hunk) -> JournalPart:
        """Return the changed lines of a hunk, without those around them."""
        signs = [line[:1] for line in hunk.lines if not line.startswith(b"\\")]
        head = next((at for at, sign in enumerate(signs) if sign != b" "), 0)
        tail = next((at for at, sign in enumerate(reversed(signs)) if sign != b" "), 0)
        return cls(
            hunk.old_start - 1 + head,
            hunk.old_count - head - tail,
            hunk.new_start - 1 + head,
            hunk.new_count - head - tail,
            hunk.rules,
        )


Size = Annotated[int, msgspec.Meta(ge=0)]


class JournalEntry(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One file of a run. Digests are SHA-256 in hexadecimal; offset and sizes are bytes.

    The old text stands at `offset`, the new one behind it.
    """

    path: str
    before: str
    after: str
    offset: Size
    size: Size
    new_size: Size
    parts: tuple[JournalPart, ...] = ()

    @classmethod
    def read(cls, line: str) -> JournalEntry:
        """Return the entry in a line of ``files.jsonl``.

        Errors: `ValueError`, where the line is not what was written; `OSError`, where its path does
        not lead below the root.
        """
        message, _, row = line.partition(" ")
        if message != _sum_of(row):
            raise ValueError("its checksum is not that of the line")
        try:
            entry = msgspec.convert(json.loads(row), cls)
        except RecursionError:
            raise ValueError("it is nested too deep") from None
        checked(entry.path)
        return entry

    def written(self) -> str:
        """Return the line of ``files.jsonl`` for the file."""
        row = json.dumps(msgspec.to_builtins(self))
        return f"{_sum_of(row)} {row}"


class RunInfo(NamedTuple):
    """A recorded run: its name, when it began, its state, its purpose."""

    name: str
    started: str
    state: str
    rules: tuple[str, ...]
    files: int


class Journal:
    """The journal of one run under `root`."""

    def __init__(self, root: Path, name: str | None = None) -> None:
        self.root = root
        self.files = Beneath(root)
        self.name = name or _new_name(_names(root))
        self._home = f"{_RUNS}/{self.name}"

    @property
    def folder(self) -> Path:
        """The folder of the journal."""
        return self.root / self._home

    @classmethod
    def all(cls, root: Path) -> list[Journal]:
        """Return the journals under `root`, the latest first, at most `MOST_RUNS`."""
        return [cls(root, name) for name in reversed(_names(root)[-MOST_RUNS:])]

    @classmethod
    def unfinished(cls, root: Path) -> Journal | None:
        """Return the journal of a run under `root` that has begun to write and has not ended.

        A mark that names none is cleared: nothing can be taken back by it.
        """
        files = Beneath(root)
        try:
            name = files.read(f"{HOME}/{MARK}").decode("ascii", "replace").strip()
        except FileNotFoundError:
            return None
        except OSError:
            name = ""
        if name in _names(root):
            return cls(root, name)
        with suppress(OSError):
            files.remove(f"{HOME}/{MARK}")
        return None

    @property
    def info(self) -> RunInfo:
        """The purpose of the run."""
        message = self._info()
        rules = message.get("rules")
        return RunInfo(
            self.name,
            str(message.get("started", "")),
            self.state,
            tuple(map(str, rules if isinstance(rules, list) else ())),
            len(self.entries()[0]),
        )

    @property
    def state(self) -> str:
        """``writing``, ``done`` or ``undone``."""
        return str(self._info().get("state", "writing"))

    def open(self, rules: Iterable[str]) -> None:
        """Start the journal. Errors: `OSError`."""
        private_folder(self.root)
        self.files.make_folder(self._home)
        self.files.replace(f"{HOME}/{MARK}", self.name.encode())
        self._write_state("writing", rules=sorted(rules))

    def record(self, files: list[tuple[str, bytes, bytes, Iterable[Hunk]]]) -> None:
        """Store path, old bytes, new bytes and hunks of files; on disk when this returns."""
        lines = []
        with self.files.appending(f"{self._home}/texts.bin") as store:
            for path, before, after, hunks in files:
                parts = tuple(JournalPart.of(hunk) for hunk in hunks)
                digests = (digest_of(before), digest_of(after))
                sizes = (store.tell(), len(before), len(after))
                store.write(before + after)
                lines.append(JournalEntry(path, *digests, *sizes, parts).written() + "\n")
            store.flush()
            os.fsync(store.fileno())
        with self.files.appending(f"{self._home}/files.jsonl") as index:
            index.write("".join(lines).encode("utf-8"))
            index.flush()
            os.fsync(index.fileno())

    def close(self) -> None:
        """Note that the run has ended as meant."""
        self._write_state("done")
        self._unmark()

    def mark_undone(self) -> None:
        """Note that the run has been taken back, all of it."""
        self._write_state("undone")
        self._unmark()

    def forget(self) -> None:
        """Remove the journal of a run that has written nothing."""
        self.files.remove_folder(self._home)
        self._unmark()

    def _unmark(self) -> None:
        with suppress(OSError):
            if self.files.read(f"{HOME}/{MARK}").strip() == self.name.encode():
                self.files.remove(f"{HOME}/{MARK}")

    def entries(self) -> tuple[list[JournalEntry], list[tuple[int, str]]]:
        """Return the files of the run, and the lines of its index that cannot be used.

        Those come with their number, from 1, and the reason. A last line that was cut short while
        the run wrote is none: the file it was to tell of has not been touched.
        """
        try:
            raw = self.files.read(f"{self._home}/files.jsonl", _LARGEST_INDEX)
        except OSError:
            return [], []
        *lines, tail = raw.decode("utf-8", "replace").split("\n")
        if tail:
            lines.append(tail[:-1] if _is_entry(tail[:-1]) else tail)  # its end may be damaged
        entries: list[JournalEntry] = []
        wrong: list[tuple[int, str]] = []
        for number, line in enumerate(lines, 1):
            try:
                entries.append(JournalEntry.read(line))
            except (ValueError, OSError) as message:
                wrong.append((number, getattr(message, "strerror", None) or "it is damaged"))
        if tail and wrong and wrong[-1][0] == len(lines) and self._info().get("state") == "writing":
            del wrong[-1]
        return entries, wrong

    def texts(self, entry: JournalEntry) -> tuple[bytes, bytes]:
        """Return the old and the new bytes of a file. Errors: `OSError`."""
        with self.files.reading(f"{self._home}/texts.bin") as store:
            size = os.fstat(store.fileno()).st_size
            if entry.offset + entry.size + entry.new_size > size:
                return b"", b""
            if max(entry.size, entry.new_size) > _LARGEST_TEXT:
                raise OSError(errno.EFBIG, f"the journal claims {entry.size:,} bytes for it")
            store.seek(entry.offset)
            return store.read(entry.size), store.read(entry.new_size)

    def _info(self) -> dict[str, Any]:
        try:
            message = json.loads(self.files.read(f"{self._home}/run.json", _LARGEST_INDEX))
        except (OSError, ValueError, RecursionError):
            return {}
        return message if isinstance(message, dict) else {}

    def _write_state(self, state: str, **extra: object) -> None:
        entry = self._info() or {
            "version": _VERSION,
            "started": time.strftime("%Y-%m-%dT%H:%M:%S"),
        }
        entry |= {"state": state, **extra}
        self.files.replace(f"{self._home}/run.json", json.dumps(entry, indent=1).encode())


def _is_entry(line: str) -> bool:
    message, _, row = line.partition(" ")
    return message == _sum_of(row)


def _sum_of(row: str) -> str:
    """Return the checksum of a line: CRC-32 in hexadecimal."""
    return f"{zlib.crc32(row.encode('utf-8', 'surrogatepass')):08x}"


def _names(root: Path) -> list[str]:
    """Return the names of the runs under `root`, the first of them first."""
    results = [match for name in Beneath(root).names(_RUNS) if (match := _NAME.fullmatch(name))]
    return [match[0] for match in sorted(results, key=lambda item: (item[1], int(item[2])))]


def _new_name(results: list[str]) -> str:
    """Return a name behind all that are known, also where the clock was ahead then."""
    stamp = time.strftime("%Y%m%d-%H%M%S")
    last = _NAME.fullmatch(results[-1]) if results else None
    if last is not None and last[1] >= stamp:
        return f"{last[1]}-{int(last[2]) + 1:03}"
    return f"{stamp}-001"
