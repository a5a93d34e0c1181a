"""Tasks spread over worker processes, or over any executor, results as they come."""

from __future__ import annotations

import gc
import os
import signal
import sys
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from typing import TYPE_CHECKING

from yellow_trellis.engine.base import code_base
from yellow_trellis.engine.discovery import Found
from yellow_trellis.engine.limits import limit_memory
from yellow_trellis.engine.notices import Problem
from yellow_trellis.engine.reports import FileReport
from yellow_trellis.engine.task import Task, looked, work
from yellow_trellis.rules import Ruleset

if TYPE_CHECKING:
    from concurrent.futures import Executor, Future

    from yellow_trellis.engine.wire import Sent

_BATCH = 512 * 1024
_MOST_FILES = 200
_WORTH_WORKERS = 1024 * 1024
"""Bytes of code below which starting worker processes costs more than it saves."""

_AHEAD = 3
"""Tasks that are handed out for each worker, so that none waits and few are lost with one."""


def batches(files: Iterable[Found]) -> Iterator[tuple[Found, ...]]:
    """Yield the files in batches, the largest first, so that the last worker is not left alone."""
    batch: list[Found] = []
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
    tasks: list[Task], workers: int | None = None, executor: Executor | None = None
) -> Iterator[FileReport]:
    """Yield the reports of all files of `tasks`, as they come.

    Arguments: `workers` is how many processes, as many as there are processors if left out, none
    of them started where the code is too small to be worth it; `executor` does the work instead.
    """
    if executor is not None:
        many = getattr(executor, "_max_workers", None) or 16
        yield from _through(deque(tasks), lambda: executor, many)
        return
    count = workers if workers is not None else os.cpu_count() or 1
    small = workers is None and sum(f.size for t in tasks for f in t.files) < _WORTH_WORKERS
    if count < 2 or small or not tasks or isinstance(tasks[0].rules, Ruleset):
        for task in tasks:
            yield from looked(task)
        return
    # A forked worker starts with all modules, rules and what is known of the code base in place;
    # elsewhere it reads them anew.
    base = code_base(tasks[0].base)
    if tasks[0].base.asked:
        _ = base.vocabulary
    if tasks[0].mode == "rework":
        _ = base.taken
    yield from _in_processes(tasks, count)


def _in_processes(tasks: list[Task], count: int) -> Iterator[FileReport]:
    import multiprocessing
    from concurrent.futures import ProcessPoolExecutor

    method = "fork" if sys.platform == "linux" else "spawn"
    if method == "fork" and not isinstance(rules := tasks[0].rules, Ruleset):
        for language in {file.language for task in tasks for file in task.files}:
            rules.ruleset().foresee(language)
    context = multiprocessing.get_context(method)
    pools: list[ProcessPoolExecutor] = []

    def pool() -> ProcessPoolExecutor:
        pools.append(
            ProcessPoolExecutor(
                count, context, initializer=settle_in, initargs=(tasks[0].limits.memory,)
            )
        )
        return pools[-1]

    try:
        yield from _through(deque(tasks), pool, count)
    except BaseException:
        for process in multiprocessing.active_children():
            process.terminate()  # nothing is written by workers: there is nothing to wait for
        for one in pools:
            one.shutdown(wait=False, cancel_futures=True)
        raise
    for one in pools:
        one.shutdown()


def settle_in(memory: int | None = None) -> None:
    """Make a worker of this process.

    It collects garbage between its tasks only, as what a file needs dies all at once, and leaves
    an interruption to the process that gave it work. `memory` is how many bytes more it may take.
    """
    gc.freeze()
    gc.disable()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    if memory is not None:
        limit_memory(memory)


def _through(
    tasks: deque[Task], executor: Callable[[], Executor], workers: int
) -> Iterator[FileReport]:
    """Send tasks through an executor, a few ahead; what a lost worker had is done once more.

    The second time each file goes alone: one that costs its worker again is told, the rest is done.
    """
    from concurrent.futures import FIRST_COMPLETED, wait

    from yellow_trellis.engine.wire import unpacked

    pending: dict[Future[Sent], Task] = {}
    current = executor()
    suspects: deque[Task] = deque()
    try:
        while tasks or pending:
            while tasks and len(pending) < workers * _AHEAD:
                task = tasks.popleft()
                pending[current.submit(work, task)] = task
            done, _ = wait(pending, return_when=FIRST_COMPLETED)
            lost = False
            for future in done:
                task = pending.pop(future)
                try:
                    yield from unpacked(future.result())
                except Exception as wrong:
                    lost = lost or _is_lost(wrong)
                    suspects.extend(task._replace(files=(file,)) for file in task.files)
            if lost:  # the pool is of no use any more, and all that it had is in doubt
                for task in pending.values():
                    suspects.extend(task._replace(files=(file,)) for file in task.files)
                pending.clear()
                current = executor()
        for task in suspects:
            future = current.submit(work, task)
            try:
                yield from unpacked(future.result())
            except Exception as wrong:
                if _is_lost(wrong):
                    current = executor()
                (file,) = task.files
                reason = f"its worker was lost: {type(wrong).__name__}: {wrong}"
                yield FileReport(file.path, problems=(Problem(file.path, reason),))
    except BaseException:
        for future in pending:
            future.cancel()
        raise


def _is_lost(wrong: Exception) -> bool:
    from concurrent.futures import BrokenExecutor

    return isinstance(wrong, BrokenExecutor)
