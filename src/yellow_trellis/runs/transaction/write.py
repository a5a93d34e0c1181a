"""Writing the changes of a run: journal first, then each file in one step, nothing else touched."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from msgspec import Struct, field

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.cache.chunks import in_parts
from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.project.cache.state_dir import HOME, MARK
from yellow_trellis.project.safe_paths import Beneath, UnsafePathError
from yellow_trellis.runs.cross_file import held_back
from yellow_trellis.runs.report_types import Change
from yellow_trellis.runs.transaction.check_command import refusal
from yellow_trellis.runs.transaction.journal import Journal
from yellow_trellis.runs.transaction.lock import locked
from yellow_trellis.runs.transaction.undo import UndoReport, undo_unlocked

_BATCH = 200


class UnfinishedRunError(TrellisError, RuntimeError):
    """Raised where the unfinished work of an earlier run could not be taken back."""


class WriteReport(Struct):
    """The files written, and those left alone with the reason. Paths are as given."""

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
    is left alone and told; so is one that is read-only, or whose owner, mode, attributes or other
    names could not be kept. What an earlier run that was cut short has left half done is taken back
    first: files that it had changed are then not what was read, and are left.
    Arguments: `rules` are told in the journal; `commands` are pairs of a language and a command
    that must take a changed file, see `SyntaxChecks`: one that does not leaves the file alone.
    Errors: `BusyError`, when another run writes; `UnfinishedRunError`, when an earlier one cannot
    be taken back; `OSError` when the journal cannot be begun. Then no file has been touched.
    """
    report = WriteReport()
    if not changes:
        return report
    with locked(root):
        if (cut_short := Journal.unfinished(root)) is not None:
            refuse_unfinished(undo_unlocked(cut_short))
        sound = [change for change in changes if _is_sound(change, root, report, dict(commands))]
        _write_all(sound, root, rules, report)
    return report


def refuse_unfinished(report: UndoReport) -> None:
    """Stop where an earlier run could not be taken back.

    Errors: `UnfinishedRunError`, with what to do.
    """
    if not report.left:
        return
    path, reason = report.left[0]
    extra = f" (and {len(report.left) - 1} more)" if len(report.left) > 1 else ""
    raise UnfinishedRunError(
        f"the run {report.run} was cut short and cannot be taken back: {path}: {reason}{extra}. "
        "Nothing was written. Mend that and try again; or put the files right by hand, "
        f"and remove {HOME}/{MARK}"
    )


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
    content = held_back(changes, stuck)
    report.left += sorted(content.items())
    done_with = {*content, *(c.path for c in stuck)}
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
                _write(change, before, root, report)
    except KeyboardInterrupt:
        report.interrupted = True
        _leave_rest(todo, report, "it was not yet written when the run was interrupted")
    except OSError as wrong:
        why = f"the journal cannot be written: {wrong.strerror or wrong}"
        _leave_rest(todo, report, why)
    journal.close()


def _leave_rest(todo: list[Change], report: WriteReport, reason: str) -> None:
    messages = {*report.written, *(path for path, _ in report.left)}
    report.left += [(change.path, reason) for change in todo if change.path not in messages]


def _name(path: str, root: Path) -> str:
    """Return how a file is called below `root`. Errors: `OSError`, for one that lies outside."""
    whole = Path(path).parent.resolve() / Path(path).name
    try:
        return whole.relative_to(root).as_posix()
    except ValueError:
        raise UnsafePathError("it lies outside of the folder of the run") from None


def _unchanged(change: Change, root: Path, report: WriteReport) -> bytes | None:
    """Return the bytes of the file if they are still those that were read, else tell why not."""
    try:
        before = Beneath(root).read(_name(change.path, root))
    except UnsafePathError as wrong:
        report.left.append((change.path, f"{wrong.strerror}"))
        return None
    except OSError as wrong:
        report.left.append((change.path, f"cannot be read any more: {wrong.strerror or wrong}"))
        return None
    if digest_of(before) != change.digest:
        report.left.append((change.path, "it was changed while the run was under way"))
        return None
    return before


def _write(change: Change, before: bytes, root: Path, report: WriteReport) -> None:
    files, name = Beneath(root), _name(change.path, root)
    try:
        if files.read(name) != before:
            report.left.append((change.path, "it was changed while the run was under way"))
            return
        files.replace(name, change.raw)
    except OSError as wrong:
        report.left.append((change.path, f"cannot be written: {wrong.strerror or wrong}"))
        return
    report.written.append(change.path)
