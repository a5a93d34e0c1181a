"""Reports of earlier runs, believed as long as nothing that they rest on has changed."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable

import msgspec

from yellow_trellis.project.cache.library_stamp import library_stamp
from yellow_trellis.project.cache.table import Table
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.project.project import CodeBase
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.report_codec import decoder, encode

_MOST_RUNS = 24
"""How many kinds of runs are kept: other rules, or another mode, are another kind."""


class _Entry(msgspec.Struct, frozen=True, array_like=True):
    """The report of a file, which is empty for one that has nothing but sizes."""

    digest: str
    base: str
    """What tells the state of the code base, as far as the report rests on it."""
    size: int
    lines: int
    report: bytes = b""


class ReportCache:
    """The reports of one kind of run over a code base.

    A report rests on what the file holds, on the rules, on the library, and on what was asked of
    the rest of the code base. All of it is compared; the time of a file is only used to leave
    reading it where it cannot have changed.
    """

    def __init__(self, base: CodeBase, kind: Iterable[object]) -> None:
        """Look at what is kept under `base`.

        Arguments: `kind` is all that makes one run another: rules, mode, words of the code base.
        """
        self._base = base
        self._digests = base.digests
        message = repr([library_stamp(), *kind]).encode("utf-8", "surrogateescape")
        part = hashlib.sha256(message).hexdigest()
        self._table = Table(base.store, "reports", _Entry, part, _MOST_RUNS)
        self._fresh: dict[str, _Entry] = {}

    def known(self, files: Iterable[SourceFile]) -> dict[str, FileReport]:
        """Return by path the reports that are still true."""
        entries = self._table.all()
        table: dict[str, FileReport] = {}
        for file in files if entries else ():
            entry = entries.get(self._base.store.name(file.path))
            if entry is None or entry.digest != self._digests.of(file.path, file.stamp):
                continue
            report = FileReport(file.path, entry.size, entry.lines, digest=entry.digest)
            if entry.report:
                try:
                    report = decoder()(entry.report)
                except msgspec.MsgspecError:
                    self._base.store.throw_away()
                    return {}
            if report.path == file.path and self._still(report, entry.base):
                table[file.path] = report
        return table

    def _still(self, report: FileReport, base: str) -> bool:
        if report.used is None:
            return True
        if report.used.whole:
            return bool(base) and base == self._base.fingerprint
        return base == self._base.outline and all(
            self._base.mark(self._base.store.whole(name)) == mark
            for name, mark in report.used.modules
        )

    def add(self, file: SourceFile, report: FileReport) -> None:
        """Note a fresh report on `file`; none is kept with problems of the moment, or odd text."""
        if not report.digest or report.is_partial:
            return
        self._digests.add(file.path, file.stamp, report.digest)
        base = ""
        if report.used is not None:
            base = self._base.fingerprint if report.used.whole else self._base.outline
        plain = FileReport(file.path, report.size, report.lines, digest=report.digest)
        try:
            body = b"" if report == plain else encode(report)
        except UnicodeEncodeError:
            return
        name = self._base.store.name(file.path)
        self._fresh[name] = _Entry(report.digest, base, report.size, report.lines, body)

    def keep(self) -> None:
        """Keep what was added for the next run."""
        self._digests.keep()
        if self._fresh:
            self._table.put(self._fresh)
            self._fresh = {}
