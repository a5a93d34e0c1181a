"""The history of surveys: totals by rule, level and folder, one survey a line of a file."""

from __future__ import annotations

import json
import os
from collections import Counter
from collections.abc import Callable, Hashable, Iterable
from datetime import datetime, timezone
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, TypeVar

import msgspec
from msgspec import Struct

from yellow_trellis.errors import TrellisError
from yellow_trellis.notebook_html import table
from yellow_trellis.project.git import RevisionError, Repository
from yellow_trellis.project.safe_paths import kept_below, read_kept
from yellow_trellis.runs.file_report import Run

if TYPE_CHECKING:
    import pandas

K = TypeVar("K", bound=Hashable)

VERSION = 1
NAME = "trellis-history.jsonl"
_DEEPEST = 3
"""How deep folders are told apart: what lies deeper is counted in them."""


class HistoryError(TrellisError, ValueError):
    """A history that cannot be used: its path and line, and why."""


class Totals(Struct, frozen=True):
    """The totals of one survey. Folders have slashes, and start from that of the history."""

    time: datetime
    revision: str
    """The commit that was checked out; empty if none was."""
    paths: tuple[str, ...]
    """What was looked at: only surveys of the same can be compared."""
    rules: tuple[str, ...]
    files: int
    lines: dict[str, int]
    """Lines looked at, by folder."""
    findings: dict[tuple[str, str, str], int]
    """How many, by folder, rule and level."""

    @property
    def count(self) -> int:
        """All findings."""
        return sum(self.findings.values())

    @property
    def line_count(self) -> int:
        """All lines looked at."""
        return sum(self.lines.values())

    @property
    def day(self) -> str:
        """Date and time as they are shown, in UTC."""
        return self.time.strftime("%Y-%m-%d %H:%M")

    def by_rule(self) -> Counter[str]:
        """Return the findings of each rule."""
        return self._by(lambda folder, rule, level: rule)

    def by_place(self) -> Counter[tuple[str, str]]:
        """Return the findings of each rule in each folder."""
        return self._by(lambda folder, rule, level: (folder, rule))

    def by_folder(self) -> Counter[str]:
        """Return the findings in each folder."""
        return self._by(lambda folder, rule, level: folder)

    def by_level(self) -> Counter[str]:
        """Return the findings of each level."""
        return self._by(lambda folder, rule, level: level)

    def _by(self, key: Callable[[str, str, str], K]) -> Counter[K]:
        table: Counter[K] = Counter()
        for about, count in self.findings.items():
            table[key(*about)] += count
        return table


def totals_of(run: Run, file: Path, paths: Iterable[str], rules: Iterable[str]) -> Totals:
    """Return the totals of a run, for the history in `file`.

    Arguments: `paths` were looked at, with the `rules` of these names.
    """
    folder = file.resolve().parent
    lines: Counter[str] = Counter()
    findings: Counter[tuple[str, str, str]] = Counter()
    for report in run.reports:
        here = _folder(report.path, folder)
        lines[here] += report.lines
        for finding in report.findings:
            findings[here, finding.rule, finding.level] += 1
    now = datetime.now(timezone.utc).replace(microsecond=0)
    revision = _revision(folder)
    return Totals(
        *(now, revision, paths_in(file, paths), tuple(rules), len(run.reports)),
        *(dict(lines), dict(findings)),
    )


def paths_in(file: Path, paths: Iterable[str]) -> tuple[str, ...]:
    """Return paths as the history in `file` has them."""
    folder = file.resolve().parent
    return tuple(sorted(_place(path, folder) for path in paths))


def record(totals: Totals, file: Path, top: Path | None = None) -> None:
    """Add the totals of a survey to a history.

    Arguments: `top` is the folder below which it lies, if a configuration names it.
    Errors: `OSError`; of that `UnsafePathError`, where a link leads to it.
    """
    row = {
        "version": VERSION,
        "time": totals.time.isoformat(),
        "revision": totals.revision,
        "paths": totals.paths,
        "rules": totals.rules,
        "files": totals.files,
        "lines": dict(sorted(totals.lines.items())),
        "findings": [[*key, count] for key, count in sorted(totals.findings.items())],
    }
    line = json.dumps(row, ensure_ascii=False) + "\n"
    below, name = kept_below(file, top)
    with below.appending(name) as out:
        out.write(line.encode("utf-8", "backslashreplace"))


class _Survey(msgspec.Struct, frozen=True):
    """A line of a history, as JSON has it."""

    version: int
    time: Annotated[datetime, msgspec.Meta(tz=True)]
    revision: str
    paths: tuple[str, ...]
    rules: tuple[str, ...]
    files: int
    lines: dict[str, int]
    findings: list[tuple[str, str, str, int]]


def read(file: Path, top: Path | None = None) -> list[Totals]:
    """Return the surveys in a history, by time.

    Arguments: `top` is the folder below which it lies, if a configuration names it.
    Errors: `HistoryError`; `OSError`.
    """
    try:
        data = read_kept(file, top)
    except FileNotFoundError:
        message = "there is no history yet: `ytr survey --record` starts one"
        raise HistoryError(f"{file}: {message}") from None
    results = []
    for number, line in enumerate(data.split(b"\n"), 1):
        if not line.strip():
            continue
        try:
            fields = json.loads(line)
            if fields["version"] != VERSION:
                raise ValueError(f"it is of version {fields['version']}")
            row = msgspec.convert(fields, _Survey)
        except (ValueError, KeyError, TypeError, RecursionError) as wrong:
            message = f"this line is no survey ({wrong}): take it out"
            raise HistoryError(f"{file}:{number}: {message}") from None
        counts = {(folder, rule, level): n for folder, rule, level, n in row.findings}
        results.append(
            Totals(row.time, row.revision, row.paths, row.rules, row.files, row.lines, counts)
        )
    return sorted(results, key=lambda item: item.time)


class History(Struct, frozen=True):
    """The surveys in a file, by time."""

    surveys: tuple[Totals, ...]

    @classmethod
    def read(cls, file: str | Path) -> History:
        """Read a history. Errors: `HistoryError`; `OSError`."""
        return cls(tuple(read(Path(file))))

    def frame(self) -> pandas.DataFrame:
        """Return a row for each survey, folder, rule and level, times in UTC.

        Errors: `DataFrameError`.
        """
        from yellow_trellis.reports.csv import history_frame

        return history_frame(self.surveys)

    def _repr_html_(self) -> str:
        rows = [(item.day, item.revision[:7], item.files, item.count) for item in self.surveys]
        return table(("time", "revision", "files", "findings"), rows)


class Progress(Struct, frozen=True):
    """The changes from one survey to a later one of the same paths."""

    now: Totals
    before: Totals | None
    """None where there is no earlier survey."""
    fixed: int
    """How many findings are gone, counted by rule and folder."""
    new: int
    """How many have come, rules aside that were not there before."""
    came_back: dict[tuple[str, str], int]
    """By folder and rule: findings where there had been some, and then none."""
    new_rules: dict[str, int]
    """The rules that were not there before, with their findings."""


def progress(surveys: list[Totals], since: str | None = None) -> Progress:
    """Return what changed to the last survey, from the one before it that looked at the same.

    Arguments: `since` is a date, such as 2026-11-01, or the start of a revision, from whose first
    survey on changes are counted.
    Errors: `HistoryError`, when no survey is like that.
    """
    now = surveys[-1]
    earlier = [survey for survey in surveys[:-1] if survey.paths == now.paths]
    before = earlier[-1] if earlier else None
    if since is not None:
        before = next((item for item in earlier if _is_since(item, since)), None)
        if before is None:
            days = ", ".join(item.day for item in earlier[-4:]) or "none"
            raise HistoryError(f"no earlier survey is of {since} or later; the last are of: {days}")
    if before is None:
        return Progress(now, None, 0, 0, {}, {})
    ours, theirs = now.by_place(), before.by_place()
    entries = set(before.rules)
    new_rules = {rule: n for rule, n in now.by_rule().items() if rule not in entries}
    dropped = entries - set(now.rules)
    fixed = sum(n for (_, rule), n in (theirs - ours).items() if rule not in dropped)
    come = {place: n for place, n in (ours - theirs).items() if place[1] in entries}
    came_back = {
        place: n for place, n in come.items() if not theirs[place] and _had(earlier, place)
    }
    return Progress(now, before, fixed, sum(come.values()), came_back, new_rules)


def _had(earlier: list[Totals], place: tuple[str, str]) -> bool:
    return any(item.by_place()[place] for item in earlier)


def _is_since(totals: Totals, since: str) -> bool:
    try:
        day = datetime.fromisoformat(since)
    except ValueError:
        return bool(totals.revision) and totals.revision.startswith(since)
    return totals.time >= (day if day.tzinfo is not None else day.replace(tzinfo=timezone.utc))


def _revision(folder: Path) -> str:
    try:
        repository = Repository.around(folder)
        return repository.head() if repository is not None else ""
    except RevisionError:
        return ""


def _place(path: str, folder: Path) -> str:
    return os.path.relpath(os.path.realpath(path), folder).replace(os.sep, "/")


def _folder(path: str, folder: Path) -> str:
    parts = _place(path, folder).split("/")[:-1]
    return "/".join(parts[:_DEEPEST]) or "."
