"""A baseline of accepted findings, matched by fingerprint, so that only new ones count."""

from __future__ import annotations

import json
import os
from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable
from functools import cache
from pathlib import Path
from typing import NamedTuple

import msgspec

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.safe_paths import kept_below, read_kept
from yellow_trellis.rules import Fingerprint
from yellow_trellis.runs.file_report import FindingRecord, Run

VERSION = 1
NAME = "trellis-baseline.json"


class BaselineError(TrellisError, ValueError):
    """A baseline that cannot be used: its path, and why."""


class BaselineEntry(NamedTuple):
    """An accepted finding. `path` starts from the folder of the baseline, with slashes."""

    path: str
    rule: str
    mark: Fingerprint
    code: str
    """The first line of the code, for people."""


class Compared(NamedTuple):
    """The comparison of a run with a baseline, or with the same files at a revision."""

    known: list[FindingRecord]
    """The findings that are accepted."""
    new: list[FindingRecord]
    """The findings that are not."""
    kept: list[BaselineEntry]
    """The entries that the run has found again as they are now, and those it has not looked for."""
    gone: list[BaselineEntry]
    """The entries whose findings are not there any more."""
    since: str = ""
    """The revision; empty where it is a baseline that was compared with."""

    @property
    def reason(self) -> str:
        """Why the known findings do not count."""
        return f"there at {self.since} already" if self.since else "accepted by the baseline"


_Row = tuple[str, str, str, str, tuple[str, ...], str]
"""An accepted finding in the file: rule, scope, steps, code, around, first line."""


class Baseline(NamedTuple):
    """The accepted findings of a code base."""

    file: Path
    entries: tuple[BaselineEntry, ...] = ()
    top: Path | None = None
    """The folder below which it lies, if a configuration names it."""

    @classmethod
    def read(cls, file: Path, top: Path | None = None) -> Baseline:
        """Read a baseline.

        Arguments: `top` is the folder below which it lies, if a configuration names it.
        Errors: `BaselineError`; `OSError` where it cannot be read.
        """
        try:
            data = read_kept(file, top)
        except FileNotFoundError:
            message = "there is no baseline yet: `ytr baseline` makes one"
            raise BaselineError(f"{file}: {message}") from None
        try:
            fields = json.loads(data)
            if fields["version"] != VERSION:
                message = f"of version {fields['version']}, and this library knows {VERSION}"
                raise BaselineError(f"{file}: the baseline is {message}: make it anew")
            result = msgspec.convert(fields["findings"], dict[str, list[_Row]])
        except (ValueError, KeyError, TypeError, RecursionError) as wrong:
            if isinstance(wrong, BaselineError):
                raise
            message = "after a merge, settle it and run `ytr baseline`; else make it anew"
            raise BaselineError(f"{file}: this is no baseline ({wrong}): {message}") from None
        entries = tuple(
            BaselineEntry(path, rule, Fingerprint(scope, steps, code, around), line)
            for path, rows in result.items()
            for rule, scope, steps, code, around, line in rows
        )
        return cls(file, entries, top)

    def write(self) -> None:
        """Write it, one line an entry, so that version control merges it. Errors: `OSError`."""
        by_path: defaultdict[str, list[BaselineEntry]] = defaultdict(list)
        for entry in self.entries:
            by_path[entry.path].append(entry)
        files = []
        for path, entries in sorted(by_path.items()):
            rows = sorted(
                [e.rule, e.mark.scope, e.mark.steps, e.mark.code, list(e.mark.around), e.code]
                for e in entries
            )
            lines = ",\n".join(f"   {json.dumps(row, ensure_ascii=False)}" for row in rows)
            files.append(f"  {json.dumps(path, ensure_ascii=False)}: [\n{lines}\n  ]")
        inner = ",\n".join(files)
        text = f'{{\n "version": {VERSION},\n "findings": {{\n{inner}\n }}\n}}\n'
        data = text.encode("utf-8", "backslashreplace")
        below, name = kept_below(self.file, self.top)
        below.replace(name, data)

    def place(self, path: str) -> str:
        """Return a path as the entries have it."""
        return os.path.relpath(os.path.realpath(path), self.file.resolve().parent).replace(
            os.sep, "/"
        )

    def entries_of(self, findings: Iterable[FindingRecord]) -> list[BaselineEntry]:
        """Return findings as entries."""
        place = cache(self.place)  # links are followed once a file, not once a finding
        results = []
        for finding in findings:
            assert finding.mark is not None
            code = finding.line.strip()[:80]
            results.append(BaselineEntry(place(finding.path), finding.rule, finding.mark, code))
        return results

    def compared(self, run: Run, rules: Iterable[str], *, whole: bool = True) -> Compared:
        """Compare a run with the baseline: which findings are accepted, which entries are gone.

        Arguments: the run was made with marks; `rules` are those it was made with: entries of
        others, and of files that were not looked at though they are there, are kept. Unless the
        run looked at `whole` files, nothing is known to be gone.
        """
        rules = set(rules)
        scans = {self.place(report.path) for report in run.reports if not report.is_partial}
        folder = self.file.parent
        queries: list[BaselineEntry] = []
        entries: list[BaselineEntry] = []
        for entry in self.entries:
            there = entry.path in scans or not (folder / entry.path).is_file()
            (queries if there and entry.rule in rules else entries).append(entry)
        findings = run.findings
        fresh = self.entries_of(findings)
        pairs = matched(fresh, queries)
        contents = set(pairs.values())
        lost = [entry for at, entry in enumerate(queries) if at not in contents]
        if not whole:
            entries += lost
            lost = []
        return Compared(
            [finding for at, finding in enumerate(findings) if at in pairs],
            [finding for at, finding in enumerate(findings) if at not in pairs],
            [*entries, *(entry for at, entry in enumerate(fresh) if at in pairs)],
            lost,
        )

    def with_entries(self, entries: Iterable[BaselineEntry]) -> Baseline:
        """Return the same baseline with other entries."""
        return self._replace(entries=tuple(entries))


Key = Callable[[BaselineEntry], Hashable]


def _own(scope: str) -> str:
    return scope.rpartition(".")[2]


def _alike(finding: BaselineEntry, entry: BaselineEntry) -> int:
    """Return how much of what stood around the known one is still there, in parts of a hundred."""
    ours, theirs = set(finding.mark.around), set(entry.mark.around)
    if ours == theirs:
        return 100
    if finding.mark.scope == entry.mark.scope and entry.mark.scope.endswith(":"):
        return 99  # a definition is known by its names
    near = len(theirs.intersection(finding.mark.wider or ours))
    return min(100 * near // max(len(theirs), 1), 99)


# How a finding is known again, the surest first: what must be equal, and how much of what stands
# around must be at least. At its own place none of it need be, as neighbours are edited too; in its
# own scope one neighbour is enough; what has moved needs half.
_STEPS: tuple[tuple[Key, int], ...] = (
    (lambda e: (e.path, e.rule, e.mark.scope, e.mark.code, e.mark.around), 100),
    (lambda e: (e.path, e.rule, e.mark.scope, e.mark.code, e.mark.steps), 0),
    (lambda e: (e.path, e.rule, e.mark.scope, e.mark.code), 1),
    (lambda e: (e.path, e.rule, _own(e.mark.scope), e.mark.code), 50),
    (lambda e: (e.rule, _own(e.mark.scope), e.mark.code), 50),
    (lambda e: (e.path, e.rule, e.mark.code), 50),
)


_MOST_PAIRS = 100_000
"""With more pairs to choose from, equal findings go together in their order."""


def matched(findings: list[BaselineEntry], entries: list[BaselineEntry]) -> dict[int, int]:
    """Return by the number of a finding that of the known one which it is; both from 0.

    No known one is taken twice, so that of equal findings as many are accepted as were. Where
    several could be meant, those whose surroundings are most alike go together.
    """
    pairs: dict[int, int] = {}
    remaining = set(range(len(entries)))
    for key, least in _STEPS:
        groups: defaultdict[Hashable, tuple[list[int], list[int]]] = defaultdict(lambda: ([], []))
        for number in sorted(remaining):
            groups[key(entries[number])][1].append(number)
        for at, entry in enumerate(findings):
            if at not in pairs and (group := groups.get(key(entry))) is not None:
                group[0].append(at)
        for ours, theirs in groups.values():
            for at, number in _paired(ours, theirs, findings, entries, least):
                pairs[at] = number
                remaining.discard(number)
    return pairs


def _paired(
    ours: list[int],
    theirs: list[int],
    findings: list[BaselineEntry],
    entries: list[BaselineEntry],
    least: int,
) -> list[tuple[int, int]]:
    """Return which of two groups of equal findings go together."""
    if least == 100 or len(ours) * len(theirs) > _MOST_PAIRS:
        couples = zip(ours, theirs, strict=False)
        return [(a, b) for a, b in couples if _alike(findings[a], entries[b]) >= least]
    options = [
        (-alike, abs(a - b), a, b)
        for a in ours
        for b in theirs
        if (alike := _alike(findings[a], entries[b])) >= least
    ]
    table: dict[int, int] = {}
    gone: set[int] = set()
    for _, _, a, b in sorted(options):
        if a not in table and b not in gone:
            table[a] = b
            gone.add(b)
    return list(table.items())
