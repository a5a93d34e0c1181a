"""Taking back what runs have written: the last one, one by name, some files or rules of it."""

from __future__ import annotations

from collections.abc import Collection
from contextlib import suppress
from pathlib import Path

from msgspec import Struct, field

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.project.cache.state_dir import HOME, fault_of
from yellow_trellis.project.safe_paths import UnsafePathError
from yellow_trellis.runs.transaction.journal import JournalEntry, Journal, RunInfo
from yellow_trellis.runs.transaction.lock import locked
from yellow_trellis.runs.transaction.revert_hunks import without
from yellow_trellis.schema import nearest


class MissingRunError(TrellisError, LookupError):
    """A run, a file or a rule that no journal knows."""


class UndoReport(Struct):
    """The result of `undo`: files restored, and files left alone with the reason."""

    run: str = ""
    restored: list[str] = field(default_factory=list)
    left: list[tuple[str, str]] = field(default_factory=list)


def runs(root: Path) -> list[RunInfo]:
    """Return the runs on record under `root`, the latest first."""
    return [journal.info for journal in Journal.all(root)]


def undo(
    root: Path,
    *,
    run: str | None = None,
    files: Collection[str] = (),
    rules: Collection[str] = (),
) -> UndoReport | None:
    """Take back the last run under `root` that is not undone; None when there is none.

    Arguments: `run` names another one; `files`, as paths from the root, and `rules` leave the rest
    of the run as it is.
    What was changed since stays: a file is restored as far as the lines of the run are as the run
    has left them, else it is left alone as a whole and told. A file that still has its old bytes,
    because the run was cut short, counts as restored.
    Errors: `MissingRunError`; `BusyError`, when a run is writing; `OSError`, when nothing can be
    noted, or what is kept under `root` is not ours.
    """
    if not (root / HOME).is_dir() and not fault_of(root):
        return None
    with locked(root):
        journal = _journal(root, run)
        if journal is None:
            return None
        entries, damaged = journal.entries()
        if files:
            entry = {entry.path for entry in entries}
            if missing := sorted(set(files) - entry):
                raise MissingRunError(f"{missing[0]}: the run {journal.name} did not write it")
        at_work = {rule for entry in entries for part in entry.parts for rule in part.rules}
        for rule in sorted(set(rules) - at_work):
            raise MissingRunError(
                f"the run {journal.name} has nothing by `{rule}`: {nearest(rule, at_work)}"
            )
        names = [entry for entry in entries if not files or entry.path in files]
        report = _restored(journal, names, frozenset(rules))
        if not files:
            report.left += _problems(journal, damaged)
        if not report.left and not files and not rules:
            journal.mark_undone()
    return report


def roll_back(root: Path) -> UndoReport | None:
    """Take back a run under `root` that was cut short while it wrote; None if there is none.

    Errors: `BusyError`; `OSError`, when nothing can be noted, or what is kept under `root` is not
    ours.
    """
    if fault := fault_of(root):
        raise UnsafePathError(fault)
    if Journal.unfinished(root) is None:
        return None
    with locked(root):  # who writes just now holds it
        journal = Journal.unfinished(root)
        return undo_unlocked(journal) if journal is not None else None


def undo_unlocked(journal: Journal) -> UndoReport:
    """Take back a whole run; whoever calls holds the lock.

    It counts as taken back only if every file is; one that had begun nothing is forgotten.
    """
    entries, damaged = journal.entries()
    if not entries and not damaged:
        journal.forget()
        return UndoReport(journal.name)
    report = _restored(journal, entries, frozenset())
    report.left += _problems(journal, damaged)
    if not report.left:
        journal.mark_undone()
    return report


def _problems(journal: Journal, damaged: list[tuple[int, str]]) -> list[tuple[str, str]]:
    """Return what is to be told of lines of a journal that cannot be used."""
    return [
        (f"{HOME}/runs/{journal.name}/files.jsonl:{number}", f"it cannot be taken back: {reason}")
        for number, reason in damaged
    ]


def _restored(journal: Journal, entries: list[JournalEntry], rules: frozenset[str]) -> UndoReport:
    """Take back what a run did in some files, the last one first."""
    report = UndoReport(journal.name)
    _remove_leftovers(journal, entries)
    for entry in reversed(entries):
        _restore(journal, entry, rules, report)
    report.restored.sort()
    return report


def _remove_leftovers(journal: Journal, entries: list[JournalEntry]) -> None:
    """Remove the temporary files that a writer which was killed has left beside files of a run."""
    leaves: dict[str, set[str]] = {}
    for entry in entries:
        folder, _, leaf = entry.path.rpartition("/")
        leaves.setdefault(folder, set()).add(leaf)
    for folder, own in leaves.items():
        with suppress(OSError):
            journal.files.remove_leftovers(folder, own)


def _journal(root: Path, run: str | None) -> Journal | None:
    journals = Journal.all(root)
    if run is None:
        return next((j for j in journals if j.state != "undone" and any(j.entries())), None)
    journal = next((journal for journal in journals if journal.name == run), None)
    if journal is None:
        raise MissingRunError(f"no run is called {run!r}: `ytr undo --list` shows those on record")
    return journal


def _restore(
    journal: Journal, entry: JournalEntry, rules: frozenset[str], report: UndoReport
) -> None:
    try:
        now = journal.files.read(entry.path)
        before, after = journal.texts(entry)
    except OSError as wrong:
        report.left.append((entry.path, f"cannot be read: {wrong.strerror or wrong}"))
        return
    if digest_of(before) != entry.before or digest_of(after) != entry.after:
        report.left.append((entry.path, "its journal is damaged"))
        return
    result: bytes | str = before
    if rules or now not in (before, after):
        result = _without(now, before, after, entry, rules)
    if isinstance(result, str):
        if result:
            report.left.append((entry.path, result))
        return
    if result != now:
        try:
            journal.files.replace(entry.path, result)
        except OSError as wrong:
            report.left.append((entry.path, f"cannot be written: {wrong.strerror or wrong}"))
            return
    report.restored.append(entry.path)


def _without(
    now: bytes, before: bytes, after: bytes, entry: JournalEntry, rules: frozenset[str]
) -> bytes | str:
    """Return `now` without what the run, or only some rules of it, did; or why that cannot be."""
    parts = [part for part in entry.parts if not rules or rules.intersection(part.rules)]
    if not parts:
        return "" if rules else "it was changed after the run"
    for part in parts:
        if rules and not rules.issuperset(part.rules):
            others = ", ".join(sorted(set(part.rules) - rules))
            return f"line {part.new_start + 1} was made together with {others}"
    result = without(
        now,
        before,
        after,
        [
            (
                (part.old_start, part.old_start + part.old_count),
                (part.new_start, part.new_start + part.new_count),
            )
            for part in parts
        ],
    )
    return result if result is not None else "lines of the run, or next to them, were changed since"
