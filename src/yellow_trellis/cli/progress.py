"""A progress bar on standard error that comes up only when a run takes longer than a second."""

from __future__ import annotations

import os
import sys
import time
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from rich.progress import Progress, TaskID

    from yellow_trellis.project.discovery import SourceFile
    from yellow_trellis.runs.file_report import FileReport

_AFTER = 1.0


class ProgressBar:
    """Counts what is done, and shows it where somebody looks."""

    def __init__(self) -> None:
        self.started = time.monotonic()
        self.files = self.done = self.lines = self.findings = 0
        self._progress: Progress | None = None
        self._task: TaskID | None = None

    def start(self, files: list[SourceFile]) -> None:
        """Note how much there is to do."""
        self.files = len(files)

    def step(self, report: FileReport) -> None:
        """Note a file that is done."""
        self.done += 1
        self.lines += report.lines
        self.findings += len(report.findings)
        elapsed = time.monotonic() - self.started
        if self._progress is None:
            if elapsed < _AFTER or not sys.stderr.isatty() or os.environ.get("TERM") == "dumb":
                return
            self._show()
        assert self._progress is not None and self._task is not None
        rate = int(self.lines / elapsed)
        self._progress.update(self._task, completed=self.done, rate=rate, found=self.findings)

    def _show(self) -> None:
        from rich.console import Console
        from rich.progress import (
            BarColumn,
            MofNCompleteColumn,
            Progress,
            TextColumn,
            TimeRemainingColumn,
        )

        self._progress = Progress(
            TextColumn("looking"),
            BarColumn(),
            MofNCompleteColumn(),
            TextColumn("files  {task.fields[rate]:,} lines/s  {task.fields[found]:,} findings"),
            TimeRemainingColumn(),
            console=Console(stderr=True),
            transient=True,
        )
        self._progress.start()
        self._task = self._progress.add_task("", total=self.files, rate=0, found=0)

    def summary(self) -> str:
        """Return how far it came."""
        return f"{self.done:,} of {self.files:,} files, {self.findings:,} findings"

    def stop(self) -> None:
        """Take the bar away."""
        if self._progress is not None:
            self._progress.stop()
            self._progress = None
