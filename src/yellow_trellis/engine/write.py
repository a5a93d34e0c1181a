"""Writing the changes of a run: journal first, then each file in one step, nothing else touched."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

from yellow_trellis.engine.atomic import replace_file
from yellow_trellis.engine.examine import Change
from yellow_trellis.engine.journal import Journal
from yellow_trellis.engine.together import held_back

_BATCH = 200


@dataclass
class WriteReport:
    """What was written, and what was left alone with the reason. Paths are as given."""

    written: list[str] = field(default_factory=list)
    left: list[tuple[str, str]] = field(default_factory=list)
    journal: Path | None = None


def write_changes(changes: list[Change], root: Path, rules: Iterable[str]) -> WriteReport:
    """Write `changes` under `root`.

    A file that is not what was read any more, has vanished, is a link or lies outside of `root`
    is left alone and told.
    Errors: `OSError` when the journal cannot be written; then no file has been touched since.
    """
    report = WriteReport()
    if not changes:
        return report
    stuck = [c for c in changes if c.together and _unchanged(c, root, report) is None]
    held = held_back(changes, stuck)
    report.left += sorted(held.items())
    done_with = {*held, *(c.path for c in stuck)}
    changes = [c for c in changes if c.path not in done_with]
    journal = Journal(root)
    journal.open(rules)
    report.journal = journal.folder
    for batch in _batches(sorted(changes, key=lambda c: c.path)):
        checked = [
            (c, before) for c in batch if (before := _unchanged(c, root, report)) is not None
        ]
        journal.record(
            [
                (Path(c.path).resolve().relative_to(root).as_posix(), before, c.raw)
                for c, before in checked
            ]
        )
        for change, before in checked:
            _write(change, before, report)
    journal.close()
    return report


def _batches(changes: list[Change]) -> Iterator[list[Change]]:
    for start in range(0, len(changes), _BATCH):
        yield changes[start : start + _BATCH]


def _unchanged(change: Change, root: Path, report: WriteReport) -> bytes | None:
    """Return the bytes of the file if they are still those that were read, else tell why not."""
    path = Path(change.path)
    if path.is_symlink() or not path.resolve().is_relative_to(root):
        report.left.append((change.path, "it is a link, or lies outside of the folder of the run"))
        return None
    try:
        before = path.read_bytes()
    except OSError as wrong:
        report.left.append((change.path, f"cannot be read any more: {wrong.strerror or wrong}"))
        return None
    if hashlib.sha256(before).hexdigest() != change.digest:
        report.left.append((change.path, "it was changed while the run was under way"))
        return None
    return before


def _write(change: Change, before: bytes, report: WriteReport) -> None:
    path = Path(change.path)
    try:
        if path.read_bytes() != before:
            report.left.append((change.path, "it was changed while the run was under way"))
            return
        replace_file(path, change.raw)
    except OSError as wrong:
        report.left.append((change.path, f"cannot be written: {wrong.strerror or wrong}"))
        return
    report.written.append(change.path)
