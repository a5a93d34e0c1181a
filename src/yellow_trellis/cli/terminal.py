"""What all commands print with: one look, colour only on a terminal, nothing unseen."""

from __future__ import annotations

import sys
import time
from collections.abc import Iterable
from pathlib import Path

from rich.console import Console
from rich.progress import (
    BarColumn,
    MofNCompleteColumn,
    Progress,
    TaskID,
    TextColumn,
    TimeRemainingColumn,
)
from rich.text import Text

from yellow_trellis.engine.ask import Ask
from yellow_trellis.engine.discovery import Found
from yellow_trellis.engine.examination import FileReport, FindingRecord, Mode, Problem
from yellow_trellis.engine.runner import Rules, Run, run

RULE, PLACE, DIM, GOOD, BAD, ASK = "bold yellow", "cyan", "bright_black", "green", "red", "magenta"

_BAR_AFTER = 1.0


def console() -> Console:
    """Return the console for results."""
    out = Console(highlight=False, soft_wrap=True, emoji=False, markup=False)
    return out


def notes() -> Console:
    """Return the console for progress and notes, on standard error."""
    return Console(stderr=True, highlight=False, soft_wrap=True, emoji=False, markup=False)


def visible(text: str) -> str:
    """Return `text` with control characters, and bytes that are no text, made visible."""
    return "".join(_shown(c) for c in text)


def _shown(char: str) -> str:
    code = ord(char)
    if char == "\t":
        return "    "
    if code < 32:
        return chr(0x2400 + code)
    if 0x7F <= code < 0xA0 or 0xDC80 <= code <= 0xDCFF or 0x202A <= code <= 0x202E:
        return f"\\x{code & 0xFF:02x}" if code != 0x7F else "\u2421"
    return char


def code_line(found: FindingRecord) -> Text:
    """Return place and first line of a finding, what was found standing out."""
    line = found.line
    start = found.start.column - 1
    stop = found.end.column - 1 if found.end.line == found.start.line else len(line)
    lead = len(line) - len(line.lstrip())
    return Text.assemble(
        (f"{found.start!s:>9}  ", DIM),
        visible(line[lead:start]),
        (visible(line[start:stop]), "bold"),
        visible(line[stop:]),
    )


def counted(number: int, one: str, many: str | None = None) -> str:
    """Return `number` with its noun: ``1 file``, ``2,000 files``."""
    return f"{number:,} {one if number == 1 else many or one + 's'}"


def listed(words: Iterable[str]) -> str:
    """Return words as a list in a sentence."""
    found = list(words)
    if len(found) < 2:
        return "".join(found)
    return ", ".join(found[:-1]) + " and " + found[-1]


class _Bar:
    """A progress bar on standard error that comes up only when a run takes longer than a second."""

    def __init__(self) -> None:
        self.started = time.monotonic()
        self.total = self.done = self.lines = self.findings = 0
        self.progress: Progress | None = None
        self.task: TaskID | None = None

    def start(self, files: list[Found]) -> None:
        self.total = sum(f.size for f in files)
        self.files = len(files)

    def step(self, report: FileReport) -> None:
        self.done += 1
        self.lines += report.lines
        self.findings += len(report.findings)
        elapsed = time.monotonic() - self.started
        if self.progress is None:
            if elapsed < _BAR_AFTER or not sys.stderr.isatty():
                return
            self.progress = Progress(
                TextColumn("looking"),
                BarColumn(),
                MofNCompleteColumn(),
                TextColumn("files  {task.fields[rate]:,} lines/s  {task.fields[found]:,} findings"),
                TimeRemainingColumn(),
                console=notes(),
                transient=True,
            )
            self.progress.start()
            self.task = self.progress.add_task("", total=self.files, rate=0, found=0)
        assert self.task is not None
        rate = int(self.lines / elapsed)
        self.progress.update(self.task, completed=self.done, rate=rate, found=self.findings)

    def stop(self) -> None:
        if self.progress is not None:
            self.progress.stop()


def run_shown(
    paths: tuple[str, ...],
    rules: Rules,
    *,
    mode: Mode = "survey",
    with_review: bool = False,
    with_holes: bool = False,
    workers: int | None = None,
    ask: Ask | None = None,
) -> tuple[Run, float]:
    """Run with a progress bar; return the run and how many seconds it took.

    Arguments: see `run`; with `ask` there is no bar, as a person is at work.
    """
    bar = _Bar()
    try:
        found = run(
            paths or (".",),
            rules,
            mode=mode,
            with_review=with_review,
            with_holes=with_holes,
            workers=workers,
            ask=ask,
            on_start=bar.start if ask is None else None,
            on_progress=bar.step if ask is None else None,
        )
    finally:
        bar.stop()
    return found, time.monotonic() - bar.started


def shown_path(path: str) -> str:
    """Return `path` as it is shown: from the current folder where it lies inside."""
    try:
        return str(Path(path).resolve().relative_to(Path.cwd().resolve()))
    except ValueError:
        return path


def tell_problems(problems: list[Problem]) -> None:
    """Print what could not be handled on standard error."""
    out = notes()
    for problem in problems:
        who = f"the rule {problem.rule} failed: " if problem.rule else ""
        out.print(
            Text.assemble(
                (shown_path(problem.path), PLACE), ": ", visible(f"{who}{problem.reason}")
            )
        )
    if problems:
        out.print(Text(f"{counted(len(problems), 'problem')}; the rest was handled.", style=BAD))
