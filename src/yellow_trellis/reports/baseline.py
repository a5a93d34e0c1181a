"""A baseline of accepted findings, matched by fingerprint, so that only new ones count."""

from __future__ import annotations

import json
import os
from collections import defaultdict
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import NamedTuple

import msgspec

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.safe_paths import kept_below, read_kept
from yellow_trellis.rules import Fingerprint
from yellow_trellis.rules.known_findings import KnownFinding, matched
from yellow_trellis.runs.file_report import FindingRecord, Run

VERSION = 1
NAME = "trellis-baseline.json"


class BaselineError(TrellisError, ValueError):
    """A baseline that cannot be used: its path, and why."""


class Compared(NamedTuple):
    """The comparison of a run with a baseline, or with the same files at a revision."""

    known: list[FindingRecord]
    """The findings that are accepted."""
    new: list[FindingRecord]
    """The findings that are not."""
    kept: list[KnownFinding]
    """The entries that the run has found again as they are now, and those it has not looked for."""
    gone: list[KnownFinding]
    """The entries whose findings are not there any more."""
    since: str = ""
    """The revision; empty where it is a baseline that was compared with."""

    def by_path(self) -> dict[str, tuple[KnownFinding, ...]]:
        """Return the accepted findings by the path of the file that they are in."""
        results: dict[str, list[KnownFinding]] = {}
        for finding in self.known:
            assert finding.mark is not None
            entry = KnownFinding(finding.path, finding.rule, finding.mark, finding.line)
            results.setdefault(finding.path, []).append(entry)
        return {path: tuple(entries) for path, entries in results.items()}

    @property
    def reason(self) -> str:
        """Why the known findings do not count."""
        return f"there at {self.since} already" if self.since else "accepted by the baseline"


_Row = tuple[str, str, str, str, tuple[str, ...], str]
"""An accepted finding in the file: rule, scope, steps, code, around, first line."""


class Baseline(NamedTuple):
    """The accepted findings of a code base."""

    file: Path
    entries: tuple[KnownFinding, ...] = ()
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
            KnownFinding(path, rule, Fingerprint(scope, steps, code, around), line)
            for path, rows in result.items()
            for rule, scope, steps, code, around, line in rows
        )
        return cls(file, entries, top)

    def write(self) -> None:
        """Write it, one line an entry, so that version control merges it. Errors: `OSError`."""
        by_path: defaultdict[str, list[KnownFinding]] = defaultdict(list)
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

    def entries_of(self, findings: Iterable[FindingRecord]) -> list[KnownFinding]:
        """Return findings as entries."""
        place = cache(self.place)  # links are followed once a file, not once a finding
        results = []
        for finding in findings:
            assert finding.mark is not None
            code = finding.line.strip()[:80]
            results.append(KnownFinding(place(finding.path), finding.rule, finding.mark, code))
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
        queries: list[KnownFinding] = []
        entries: list[KnownFinding] = []
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

    def with_entries(self, entries: Iterable[KnownFinding]) -> Baseline:
        """Return the same baseline with other entries."""
        return self._replace(entries=tuple(entries))
