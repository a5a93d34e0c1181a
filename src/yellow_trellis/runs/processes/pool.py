"""Tasks spread over worker processes, or over any executor, results as they come."""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Protocol, runtime_checkable

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.project.project_registry import code_base
from yellow_trellis.rules import Ruleset
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.processes.task import Task, process_files, work

if TYPE_CHECKING:
    from concurrent.futures import Executor, Future

    from yellow_trellis.runs.report_codec import Sent

_BATCH = 512 * 1024
_MOST_FILES = 200
_WORTH_WORKERS = 1024 * 1024
"""Bytes of code below which starting worker processes costs more than it saves."""

_BEAT = 5.0
"""Seconds after which an executor is asked whether anybody is at work."""


@runtime_checkable
class Watched(Protocol):
    """An executor that can tell that nobody is at work."""

    def check(self) -> None:
        """Look whether anybody is at work. Errors: `TrellisError`, when nobody was for long."""
        ...


_AHEAD = 3
"""Tasks that are handed out for each worker, so that none waits and few are lost with one."""


def batches(files: Iterable[SourceFile]) -> Iterator[tuple[SourceFile, ...]]:
    """Yield the files in batches, the largest first, so that the last worker is not left alone."""
    batch: list[SourceFile] = []
    size = 0
    for file in sorted(files, key=lambda f: (-f.size, f.path)):
        batch.append(file)
        size += file.size
        if size >= _BATCH or len(batch) >= _MOST_FILES:
            yield tuple(batch)
            batch, size = [], 0
    if batch:
        yield tuple(batch)


def spread(
    task: Task, files: Iterable[SourceFile], executor: Executor | None = None
) -> Iterator[FileReport]:
    """Yield the reports of `files`, as they come, each looked at as `task` says.

    Arguments: `executor` does the work instead of the processes that the options ask for. Rules in
    Python, and a limit of memory, take a process beside this one in any case.
    """
    parts = list(batches(files))
    if executor is not None:
        many = getattr(executor, "_max_workers", None) or 16
        yield from _through(deque(task._replace(files=part) for part in parts), executor, many)
        return
    if not parts:
        return
    rules, workers = task.rules, task.options.workers
    count = workers if workers is not None else os.cpu_count() or 1
    small = workers is None and sum(f.size for part in parts for f in part) < _WORTH_WORKERS
    if isinstance(rules, Ruleset) or not (
        rules.runs_code or task.options.limits.memory is not None or (count > 1 and not small)
    ):
        for part in parts:
            yield from process_files(task._replace(files=part))
        return
    # A forked worker starts with all modules, rules and what is known of the code base in place;
    # elsewhere it reads them anew.
    for language in {file.language for part in parts for file in part}:
        rules.ruleset().warm_up(language)
    base = code_base(task.base)
    if task.base.symbols:
        _ = base.vocabulary
    if task.options.mode == "rework":
        base.read_imports()
    from yellow_trellis.runs.processes.crew import in_processes  # who works alone needs none of it

    yield from in_processes(task, parts, count)


def _through(tasks: deque[Task], executor: Executor, workers: int) -> Iterator[FileReport]:
    """Send tasks through an executor, a few ahead; what a lost worker had is done once more.

    The second time each file goes alone: one that costs its worker again is told, the rest is done.
    """
    from concurrent.futures import FIRST_COMPLETED, wait

    from yellow_trellis.runs.report_codec import unpacked

    pending: dict[Future[Sent], Task] = {}
    suspects: deque[Task] = deque()
    try:
        while tasks or pending:
            while tasks and len(pending) < workers * _AHEAD:
                task = tasks.popleft()
                pending[executor.submit(work, task)] = task
            done, _ = wait(pending, _BEAT, FIRST_COMPLETED)
            if not done and isinstance(executor, Watched):
                executor.check()
            for future in done:
                task = pending.pop(future)
                try:
                    yield from unpacked(future.result())
                except Exception:
                    suspects.extend(task._replace(files=(file,)) for file in task.files)
        for task in suspects:
            try:
                future = executor.submit(work, task)
                while not wait([future], _BEAT).done:
                    if isinstance(executor, Watched):
                        executor.check()
                yield from unpacked(future.result())
            except TrellisError:
                raise
            except Exception as wrong:
                (file,) = task.files
                reason = f"its worker was lost: {type(wrong).__name__}: {wrong}"
                yield FileReport.failed(file.path, reason)
    except BaseException:
        for future in pending:
            future.cancel()
        raise
