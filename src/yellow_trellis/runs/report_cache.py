"""Reports of earlier runs, believed as long as nothing that they rest on has changed."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Iterable
from typing import Any

import msgspec

from yellow_trellis.project.cache.file_hashes import Digests
from yellow_trellis.project.cache.library_stamp import library_stamp
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.project.project import CodeBase
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.report_codec import decoder, encode

_MOST_RUNS = 24
"""How many kinds of runs are kept: other rules, or another mode, are another kind."""

_decode_sizes = msgspec.msgpack.Decoder(tuple[int, int]).decode


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
        self._store: Store = base.store
        self._digests = Digests(self._store)
        message = repr([library_stamp(), *kind]).encode("utf-8", "surrogateescape")
        self._key = hashlib.sha256(message).hexdigest()
        self._fresh: list[tuple[str, str, str, bytes, int]] = []

    def known(self, files: Iterable[SourceFile]) -> dict[str, FileReport]:
        """Return by path the reports that are still true."""
        rows = self._store.read(
            "select path, digest, base, body, sum from reports join runs using (run) where key = ?",
            (self._key,),
        )
        remaining = {row[0]: row[1:] for row in rows}
        table: dict[str, FileReport] = {}
        for file in files if remaining else ():
            row = remaining.get(self._store.name(file.path))
            if row is None or row[0] != self._digests.of(file.path, file.stamp):
                continue
            try:
                report = self._read(file, *row)
            except (msgspec.MsgspecError, _Wrong):
                self._store.throw_away()
                return {}
            if report is not None and report.path == file.path:
                table[file.path] = report
        return table

    def _read(self, file: SourceFile, digest: str, base: str, body: bytes, check: int) -> Any:
        """Return the report in a row; None if it is not true any more."""
        if self._seal(digest, base, body) != check:
            raise _Wrong
        if len(body) < _SMALL:
            size, lines = _decode_sizes(body)
            return FileReport(file.path, size, lines, digest=digest)
        report: FileReport = decoder()(body)
        return report if self._still(report, base) else None

    def _seal(self, digest: str, base: str, body: bytes) -> int:
        """Return what says that this user has kept a report for such a run, and of which file."""
        return self._store.seal(self._key.encode(), digest.encode(), base.encode(), body)

    def _still(self, report: FileReport, base: str) -> bool:
        if report.used is None:
            return True
        if report.used.whole:
            return bool(base) and base == self._base.fingerprint
        return base == self._base.outline and all(
            self._base.mark(self._store.whole(name)) == mark
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
            body = encode((report.size, report.lines) if report == plain else report)
        except UnicodeEncodeError:
            return
        name = self._store.name(file.path)
        check = self._seal(report.digest, base, body)
        self._fresh.append((name, report.digest, base, body, check))

    def keep(self) -> None:
        """Keep what was added for the next run."""
        self._digests.keep()
        if not self._fresh:
            return
        this = [(self._key, time.time_ns())]
        run = "(select run from runs where key = ?)"
        template = f"insert or replace into reports values ({run}, ?, ?, ?, ?, ?)"
        latest = "select run from runs order by used desc limit ?"
        self._store.write(
            ("insert or ignore into runs (key, used) values (?, ?)", this),
            ("update runs set used = ?2 where key = ?1", this),
            (template, ((self._key, *row) for row in self._fresh)),
            (f"delete from runs where run not in ({latest})", [(_MOST_RUNS,)]),
            (f"delete from reports where run not in ({latest})", [(_MOST_RUNS,)]),
        )
        self._fresh = []


_SMALL = 16
"""Bytes that a report with nothing but sizes takes at most; any other takes more."""


class _Wrong(Exception):
    """Raised where kept data is not what was written."""
