"""What undo needs: the bytes of every file of a run, stored before the file is touched.

A run is a folder under ``.yellow-trellis/runs`` of the root: ``run.json`` says what it was,
``files.jsonl`` has one line a file, ``texts.bin`` the old and new bytes one after another. While a
run writes, ``.yellow-trellis/writing`` has its name. The format is described in docs/formats.md.
"""

from __future__ import annotations

import json
import os
import time
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from typing import Any, NamedTuple

from yellow_trellis.engine.atomic import replace_file
from yellow_trellis.engine.diff import Hunk
from yellow_trellis.engine.home import HOME, MARK, private_folder
from yellow_trellis.engine.stamp import digest_of

_VERSION = 2


class Part(NamedTuple):
    """A run of changed lines: first line and number of lines, from 0, in old and new text."""

    old_start: int
    old_count: int
    new_start: int
    new_count: int
    rules: tuple[str, ...]

    @classmethod
    def of(cls, hunk: Hunk) -> Part:
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


class Entry(NamedTuple):
    """One file of a run. Digests are SHA-256 in hexadecimal; offset and sizes are bytes.

    The old text stands at `offset`, the new one behind it.
    """

    path: str
    before: str
    after: str
    offset: int
    size: int
    new_size: int
    parts: tuple[Part, ...] = ()

    @classmethod
    def read(cls, line: str) -> Entry:
        """Return the entry in a line of ``files.jsonl``. Errors: `ValueError`, `TypeError`."""
        data: dict[str, Any] = json.loads(line)
        parts = tuple(Part(a, b, c, d, tuple(e)) for a, b, c, d, e in data.pop("parts"))
        return cls(**data, parts=parts)

    def written(self) -> str:
        """Return the line of ``files.jsonl`` for the file."""
        return json.dumps(self._asdict())


class RunInfo(NamedTuple):
    """What is known of a run: its name, when it began, how it stands, what it was about."""

    name: str
    started: str
    state: str
    rules: tuple[str, ...]
    files: int


class Journal:
    """The journal of one run under `root`."""

    def __init__(self, root: Path, name: str | None = None) -> None:
        self.root = root
        runs = root / HOME / "runs"
        self.folder = runs / (name or _new_name(runs))

    @classmethod
    def all(cls, root: Path) -> list[Journal]:
        """Return the journals under `root`, the latest first."""
        runs = root / HOME / "runs"
        names = sorted((p.name for p in runs.iterdir()), reverse=True) if runs.is_dir() else []
        return [cls(root, name) for name in names]

    @classmethod
    def unfinished(cls, root: Path) -> Journal | None:
        """Return the journal of a run under `root` that has begun to write and has not ended."""
        try:
            name = (root / HOME / MARK).read_text("utf-8").strip()
        except OSError:
            return None
        return cls(root, name) if name else None

    @property
    def info(self) -> RunInfo:
        """What the run was."""
        told = self._told()
        return RunInfo(
            self.folder.name,
            str(told.get("started", "")),
            str(told.get("state", "writing")),
            tuple(map(str, told.get("rules", ()))),
            len(self.entries()),
        )

    @property
    def state(self) -> str:
        """``writing``, ``done`` or ``undone``."""
        return str(self._told().get("state", "writing"))

    def open(self, rules: Iterable[str]) -> None:
        """Start the journal. Errors: `OSError`."""
        home = private_folder(self.root)
        self.folder.mkdir(parents=True)
        replace_file(home / MARK, self.folder.name.encode())
        self._write_state("writing", rules=sorted(rules))

    def record(self, files: list[tuple[str, bytes, bytes, Iterable[Hunk]]]) -> None:
        """Store path, old bytes, new bytes and hunks of files; on disk when this returns."""
        lines = []
        with (self.folder / "texts.bin").open("ab") as store:
            for path, before, after, hunks in files:
                parts = tuple(Part.of(hunk) for hunk in hunks)
                digests = (digest_of(before), digest_of(after))
                sizes = (store.tell(), len(before), len(after))
                store.write(before + after)
                lines.append(Entry(path, *digests, *sizes, parts).written() + "\n")
            store.flush()
            os.fsync(store.fileno())
        with (self.folder / "files.jsonl").open("a", encoding="utf-8") as index:
            index.writelines(lines)
            index.flush()
            os.fsync(index.fileno())

    def close(self) -> None:
        """Note that the run has ended as meant."""
        self._write_state("done")
        self._unmark()

    def mark_undone(self) -> None:
        """Note that the run has been taken back."""
        self._write_state("undone")
        self._unmark()

    def _unmark(self) -> None:
        mark = self.root / HOME / MARK
        with suppress(OSError):
            if mark.read_text("utf-8").strip() == self.folder.name:
                mark.unlink()

    def entries(self) -> list[Entry]:
        """Return the files of the run; a last line that was cut short is left out."""
        try:
            lines = (self.folder / "files.jsonl").read_text("utf-8").splitlines()
        except OSError:
            return []
        found = []
        for line in lines:
            try:
                found.append(Entry.read(line))
            except (ValueError, TypeError, KeyError):
                break
        return found

    def texts(self, entry: Entry) -> tuple[bytes, bytes]:
        """Return the old and the new bytes of a file."""
        with (self.folder / "texts.bin").open("rb") as store:
            store.seek(entry.offset)
            return store.read(entry.size), store.read(entry.new_size)

    def _told(self) -> dict[str, Any]:
        try:
            told = json.loads((self.folder / "run.json").read_text("utf-8"))
        except (OSError, ValueError):
            return {}
        return told if isinstance(told, dict) else {}

    def _write_state(self, state: str, **more: object) -> None:
        known = self._told() or {
            "version": _VERSION,
            "started": time.strftime("%Y-%m-%dT%H:%M:%S"),
        }
        known |= {"state": state, **more}
        replace_file(self.folder / "run.json", json.dumps(known, indent=1).encode())


def _new_name(runs: Path) -> str:
    stamp = time.strftime("%Y%m%d-%H%M%S")
    number = 1
    while (runs / f"{stamp}-{number:03}").exists():
        number += 1
    return f"{stamp}-{number:03}"
