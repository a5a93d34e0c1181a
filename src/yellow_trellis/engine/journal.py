"""What undo needs: the bytes of every file of a run, stored before the file is touched.

A run is a folder under ``.yellow-trellis/runs`` of the root: ``run.json`` says what it was,
``files.jsonl`` has one line a file, ``before.bin`` the old bytes one after another. The format
is described in docs/formats.md.
"""

from __future__ import annotations

import hashlib
import json
import os
import time
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from yellow_trellis.engine.atomic import replace_file
from yellow_trellis.engine.home import HOME, private_folder

_VERSION = 1


@dataclass(frozen=True, slots=True)
class Entry:
    """One file of a run. Digests are SHA-256 in hexadecimal; `offset` and `size` are bytes."""

    path: str
    before: str
    after: str
    offset: int
    size: int


class Journal:
    """The journal of one run under `root`."""

    def __init__(self, root: Path, name: str | None = None) -> None:
        self.root = root
        runs = root / HOME / "runs"
        self.folder = runs / (name or _new_name(runs))

    @classmethod
    def latest(cls, root: Path) -> Journal | None:
        """Return the journal of the last run under `root` that is not undone."""
        runs = root / HOME / "runs"
        names = sorted((p.name for p in runs.iterdir()), reverse=True) if runs.is_dir() else []
        for name in names:
            journal = cls(root, name)
            if journal._state() != "undone" and journal.entries():
                return journal
        return None

    def open(self, rules: Iterable[str]) -> None:
        """Start the journal. Errors: `OSError`."""
        private_folder(self.root)
        self.folder.mkdir(parents=True)
        self._write_state("writing", rules=sorted(rules))

    def record(self, files: list[tuple[str, bytes, bytes]]) -> None:
        """Store path, old bytes and new bytes of some files; on disk when this returns."""
        lines = []
        with (self.folder / "before.bin").open("ab") as store:
            for path, before, after in files:
                entry = Entry(path, _digest(before), _digest(after), store.tell(), len(before))
                store.write(before)
                lines.append(json.dumps(entry_as_json(entry)) + "\n")
            store.flush()
            os.fsync(store.fileno())
        with (self.folder / "files.jsonl").open("a", encoding="utf-8") as index:
            index.writelines(lines)
            index.flush()
            os.fsync(index.fileno())

    def close(self) -> None:
        """Note that the run has ended as meant."""
        self._write_state("done")

    def entries(self) -> list[Entry]:
        """Return the files of the run; a last line that was cut short is left out."""
        try:
            lines = (self.folder / "files.jsonl").read_text("utf-8").splitlines()
        except OSError:
            return []
        found = []
        for line in lines:
            try:
                found.append(Entry(**json.loads(line)))
            except (ValueError, TypeError):
                break
        return found

    def before(self, entry: Entry) -> bytes:
        """Return the old bytes of a file."""
        with (self.folder / "before.bin").open("rb") as store:
            store.seek(entry.offset)
            return store.read(entry.size)

    def _state(self) -> str:
        try:
            state = json.loads((self.folder / "run.json").read_text("utf-8"))["state"]
        except (OSError, ValueError, KeyError):
            return "writing"
        return str(state)

    def _write_state(self, state: str, **more: object) -> None:
        file = self.folder / "run.json"
        known: dict[str, object] = {
            "version": _VERSION,
            "started": time.strftime("%Y-%m-%dT%H:%M:%S"),
        }
        if file.exists():
            known = json.loads(file.read_text("utf-8"))
        known |= {"state": state, **more}
        replace_file(file, json.dumps(known, indent=1).encode())

    def mark_undone(self) -> None:
        """Note that the run has been taken back."""
        self._write_state("undone")


def entry_as_json(entry: Entry) -> dict[str, object]:
    """Return the line of ``files.jsonl`` for a file."""
    return {name: getattr(entry, name) for name in Entry.__slots__}


def _new_name(runs: Path) -> str:
    stamp = time.strftime("%Y%m%d-%H%M%S")
    number = 1
    while (runs / f"{stamp}-{number:03}").exists():
        number += 1
    return f"{stamp}-{number:03}"


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


@dataclass
class UndoReport:
    """What `undo` did: files restored, and files left alone with the reason."""

    restored: list[str] = field(default_factory=list)
    left: list[tuple[str, str]] = field(default_factory=list)


def undo(root: Path) -> UndoReport | None:
    """Take back the last run under `root`; None when there is none to take back.

    A file that was changed since is left alone and told. A file that still has its old bytes,
    because the run was cut short, counts as restored.
    Errors: `OSError` when a file cannot be written.
    """
    journal = Journal.latest(root)
    if journal is None:
        return None
    report = UndoReport()
    for entry in reversed(journal.entries()):
        path = root / entry.path
        try:
            now = _digest(path.read_bytes())
        except OSError as wrong:
            report.left.append((entry.path, f"cannot be read: {wrong.strerror or wrong}"))
            continue
        before = journal.before(entry)
        if _digest(before) != entry.before:
            report.left.append((entry.path, "its journal is damaged"))
        elif now == entry.before:
            report.restored.append(entry.path)
        elif now != entry.after:
            report.left.append((entry.path, "it was changed after the run"))
        else:
            try:
                replace_file(path, before)
            except OSError as wrong:
                report.left.append((entry.path, f"cannot be written: {wrong.strerror or wrong}"))
                continue
            report.restored.append(entry.path)
    if not report.left:
        journal.mark_undone()
    report.restored.sort()
    return report
