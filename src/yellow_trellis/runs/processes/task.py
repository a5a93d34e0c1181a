"""The task of one worker, and its execution file by file."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from functools import partial
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis import plans
from yellow_trellis.findings.failure import is_contained, reason_of
from yellow_trellis.findings.timing import OutOfTime, TreeChangedError, Watch
from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.project.dependency_trace import DependencyTrace
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.project.file_filter import GENERATED, generated
from yellow_trellis.project.project_registry import BaseSpec, code_base, keep, surroundings
from yellow_trellis.rules import Ruleset
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.file_scan import ProjectView
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.processes.deadlines import Deadline
from yellow_trellis.runs.rule_source import Rules
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.semantics.alias_map import SPELLED

if TYPE_CHECKING:
    from yellow_trellis.runs.processes.board import Board
    from yellow_trellis.runs.report_codec import Sent


class Task(NamedTuple):
    """Some files for one worker, and what to do with them."""

    files: tuple[SourceFile, ...]
    rules: Rules
    options: RunOptions
    base: BaseSpec
    folder: str = ""
    """The folder that paths start from."""
    over: tuple[tuple[str, str], ...] = ()
    """Rules that are not tried on these files, each with what is told of it."""
    refused: tuple[tuple[str, str], ...] = ()
    """Rules whose fixes are not applied, each with the reason."""
    changed_from: tuple[tuple[str, bytes | None], ...] | None = None
    """If only changed lines count: by path, the text that changes are counted from."""


def work(task: Task, board: Board | None = None) -> Sent:
    """Look at the files of `task`, and return the reports packed; runs in a worker process.

    Arguments: `board` is told which file and which rule it is at.
    """
    from yellow_trellis.runs.report_codec import packed  # who works alone needs none of it

    return packed(list(process_files(task, board)))


def process_files(task: Task, board: Board | None = None) -> Iterator[FileReport]:
    """Yield the report of each file of `task`, in this process."""
    guard = Deadline(task.options.limits)
    with guard.on_duty():
        for number, file in enumerate(task.files):
            if board is not None:
                board.begin_file(number)
            yield look_at(file, task, guard, board=board)
    keep(task.base)


def look_at(
    file: SourceFile,
    task: Task,
    guard: Deadline,
    choose: plans.Choose | None = None,
    board: Board | None = None,
) -> FileReport:
    """Read one file and look at it; whatever goes wrong is in the report."""
    rules = task.rules
    path = os.path.join(task.folder, file.path)
    ruleset = rules if isinstance(rules, Ruleset) else rules.ruleset(path)
    failed = partial(FileReport.failed, file.path)
    watch = Watch(over=dict(task.over), tell=board.note_rule if board is not None else None)
    try:
        with watch.phase("read"):
            raw = task.base.read(path)
    except OSError as wrong:
        return failed(f"cannot be read: {wrong.strerror or wrong}")
    if not task.options.file_filter.generated and generated(raw):
        return FileReport(file.path, len(raw), left=GENERATED, digest=digest_of(raw))
    base = task.base
    vocabulary = code_base(base).vocabulary if base.symbols else SPELLED
    consulted = DependencyTrace()
    guard.watch = watch
    earlier = None if task.changed_from is None else (dict(task.changed_from)[file.path],)
    look = partial(
        process_file,
        raw,
        file.path,
        file.language,
        ruleset,
        task.options,
        ProjectView(partial(surroundings, base, path, consulted), vocabulary),
        refused=dict(task.refused),
        changed_from=earlier,
        choose=choose,
        watch=watch,
    )
    try:
        report = _untouched(look, watch)
    except RecursionError:
        return failed("its code is nested too deeply to be looked at", len(raw))
    except MemoryError:
        return failed("it takes more memory than a worker may have", len(raw))
    except OutOfTime as over:
        return failed(str(over), len(raw))
    except BaseException as error:  # a fault of ours costs the file, never the run
        if not is_contained(error):
            raise
        return failed(f"it could not be looked at: {reason_of(error)}", len(raw))
    finally:
        guard.watch = None
    if consulted.is_used:
        report = report._replace(used=consulted.settled())
    if task.options.timed:
        took = (tuple(watch.phases.items()), tuple(watch.rules.items()))
        report = report._replace(phase_seconds=took[0], rule_seconds=took[1])
    return report


def _untouched(look: Callable[[], FileReport], watch: Watch) -> FileReport:
    """Return what `look` does, leaving out and reporting rules that write to the tree."""
    while True:
        try:
            return look()
        except TreeChangedError as wrong:
            if wrong.rule:
                watch.over[wrong.rule] = str(wrong)
            elif watch.is_careful:
                raise
            watch.is_careful = True
