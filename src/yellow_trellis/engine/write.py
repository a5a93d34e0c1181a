"""Writing the changes of a run: journal first, then each file in one step, nothing else touched."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from yellow_trellis.engine.atomic import replace_file
from yellow_trellis.engine.journal import Journal
from yellow_trellis.engine.lock import locked
from yellow_trellis.engine.check_command import refusal
from yellow_trellis.engine.notices import Change
from yellow_trellis.engine.parts import in_parts
from yellow_trellis.engine.stamp import digest_of
from yellow_trellis.engine.together import held_back
from yellow_trellis.engine.undoing import undo_unlocked
from yellow_trellis.records import field, record

_BATCH = 200


@record
class WriteReport:
    """What was written, and what was left alone with the reason. Paths are as given."""

    written: list[str] = field(default_factory=list)
    left: list[tuple[str, str]] = field(default_factory=list)
    journal: Path | None = None
    interrupted: bool = False
    """Whether it was stopped from the keyboard; what is written then is whole."""


def write_changes(
    changes: list[Change],
    root: Path,
    rules: Iterable[str],
    commands: Iterable[tuple[str, str]] = (),
) -> WriteReport:
    """Write `changes` under `root`.

    A file that is not what was read any more, has vanished, is a link or lies outside of `root`
    is left alone and told. What an earlier run that was cut short has left half done is taken back
    first: files that it had changed are then not what was read, and are left.
    Arguments: `rules` are told in the journal; `commands` are pairs of a language and a command
    that must take a changed file, see `SyntaxChecks`: one that does not leaves the file alone.
    Errors: `Busy`, when another run writes; `OSError` when the journal cannot be begun. Then no
    file has been touched.
    """
    report = WriteReport()
    if not changes:
        return report
    with locked(root):
        if (cut_short := Journal.unfinished(root)) is not None:
            undo_unlocked(cut_short)
        sound = [one for one in changes if _is_sound(one, root, report, dict(commands))]
        _write_all(sound, root, rules, report)
    return report


def _is_sound(change: Change, root: Path, report: WriteReport, commands: dict[str, str]) -> bool:
    """Return whether no command refuses a changed file; tell why one does."""
    if not commands or (before := _unchanged(change, root, WriteReport())) is None:
        return True  # what else is wrong is told where it is written
    why = refusal(change, before, commands)
    if why:
        report.left.append((change.path, why))
    return not why


def _write_all(
    changes: list[Change], root: Path, rules: Iterable[str], report: WriteReport
) -> None:
    stuck = [c for c in changes if c.together and _unchanged(c, root, report) is None]
    held = held_back(changes, stuck)
    report.left += sorted(held.items())
    done_with = {*held, *(c.path for c in stuck)}
    todo = sorted((c for c in changes if c.path not in done_with), key=lambda c: c.path)
    journal = Journal(root)
    journal.open(rules)
    report.journal = journal.folder
    begun = 0
    try:
        for batch in in_parts(todo, _BATCH):
            checked = [
                (c, before) for c in batch if (before := _unchanged(c, root, report)) is not None
            ]
            begun += len(batch)
            journal.record([(_name(c.path, root), before, c.raw, c.hunks) for c, before in checked])
            for change, before in checked:
                _write(change, before, report)
    except KeyboardInterrupt:
        report.interrupted = True
        _leave_rest(todo, report, "it was not yet written when the run was interrupted")
    except OSError as wrong:
        why = f"the journal cannot be written: {wrong.strerror or wrong}"
        _leave_rest(todo, report, why)
    journal.close()


def _leave_rest(todo: list[Change], report: WriteReport, reason: str) -> None:
    told = {*report.written, *(path for path, _ in report.left)}
    report.left += [(change.path, reason) for change in todo if change.path not in told]


def _name(path: str, root: Path) -> str:
    return Path(path).resolve().relative_to(root).as_posix()


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
    if digest_of(before) != change.digest:
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
