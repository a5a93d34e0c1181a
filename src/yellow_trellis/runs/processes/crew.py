"""Worker processes under a watchful parent: one that is late, greedy or gone costs what it was at.

A rule can do what no exception stops: end the process, or stay in compiled code for hours. So a
worker writes down what it is at, and its parent ends it when that takes too long.
"""

from __future__ import annotations

import os
import signal
from collections import deque
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.processes.board import Board
from yellow_trellis.runs.processes.child import Child, Start, best_start
from yellow_trellis.runs.processes.deadlines import limit_memory
from yellow_trellis.runs.processes.task import Task, work

if TYPE_CHECKING:
    from multiprocessing.connection import Connection

    from yellow_trellis.runs.report_codec import Sent

_BEAT = 0.25
"""Seconds between two looks at what the workers are at."""


class _Job(NamedTuple):
    """Files for one worker; after a loss each file of it goes alone."""

    files: tuple[SourceFile, ...]
    over: tuple[tuple[str, str], ...] = ()
    """Rules that are not to be tried on them, each with what is told of it."""
    suspects: frozenset[str] = frozenset()
    """Rules at which a worker was lost; an empty one stands for no rule."""

    def alone(self, file: SourceFile) -> _Job:
        """Return the job of one of its files."""
        return self._replace(files=(file,))


class _Worker:
    """One process, and the job that it has."""

    def __init__(self, start: Start, task: Task, others: Iterable[_Worker]) -> None:
        self.board = Board(start)
        self.child: Child = Child(
            *(_serve, (task, self.board)), start=start, others=(o.child for o in others)
        )
        self.job: _Job | None = None

    def give(self, job: _Job) -> None:
        """Hand it a job. One that is gone already is noticed when its answer is waited for."""
        self.job = job
        try:
            self.child.pipe.send((job.files, job.over))
        except OSError:
            self.child.wait()

    def take(self) -> Sent | None:
        """Return the reports that it has sent; None where it is gone instead."""
        try:
            sent: Sent = self.child.pipe.recv()
        except (EOFError, OSError):
            return None
        return sent

    @property
    def loss(self) -> str:
        """The way in which it ended."""
        code = self.child.wait()
        if code >= 0:
            return f"its worker ended itself, with status {code}"
        name = signal.Signals(-code).name if -code in {*signal.Signals} else str(-code)
        message = ", as it does for want of memory" if name == "SIGKILL" else ""
        return f"its worker was ended by the system with {name}{message}"


class Crew:
    """Up to `count` processes, started when there is work for them, which do as `task` says.

    Arguments: `start` is how a process is started, the best way of the system if left out.
    """

    def __init__(self, task: Task, count: int, start: Start = "") -> None:
        self._start = start or best_start()
        self._task = task
        self._count = count
        self._workers: list[_Worker] = []

    def look(self, batches: Iterable[tuple[SourceFile, ...]]) -> Iterator[FileReport]:
        """Yield the reports of all files, as they come.

        What takes longer than a limit of the task allows costs its worker, and a rule that does so
        is not tried on that file again. A file at which a worker is lost is tried once more, alone;
        then the rule at work, or else the file, is given up. Each is told in the report.
        """
        from multiprocessing.connection import wait

        from yellow_trellis.runs.report_codec import unpacked

        jobs = deque(_Job(files) for files in batches)
        workers = self._workers
        while jobs or any(worker.job for worker in workers):
            idle = [worker for worker in workers if worker.job is None]
            while jobs and (idle or len(workers) < self._count):
                if not idle:
                    idle.append(_Worker(self._start, self._task, workers))
                    workers.append(idle[0])
                idle.pop().give(jobs.popleft())
            busy = {worker.child.pipe: worker for worker in workers if worker.job is not None}
            for pipe in wait(list(busy), _BEAT):
                worker = busy[pipe]  # type: ignore[index]
                assert worker.job is not None
                job, sent = worker.job, worker.take()
                if sent is None:
                    yield from _after_loss(worker, job, jobs)
                    self._end(worker)
                    continue
                worker.job = None
                yield from unpacked(sent)
            for worker in [worker for worker in workers if worker.job is not None]:
                over = worker.board.late(self._task.options.limits)
                if over is not None and worker.job is not None and not worker.child.pipe.poll():
                    at, job = worker.board.number or 0, worker.job
                    self._end(worker)
                    yield from _given_up(job, at, over.rule, str(over), jobs)

    def _end(self, worker: _Worker) -> None:
        self._workers.remove(worker)
        worker.child.end()  # it writes nothing that could be torn

    def dismiss(self) -> None:
        """End all processes, whatever they are at."""
        for worker in list(self._workers):
            self._end(worker)


def in_processes(
    task: Task, batches: Iterable[tuple[SourceFile, ...]], count: int
) -> Iterator[FileReport]:
    """Yield the reports of all files, as they come from up to `count` processes; see `Crew`."""
    crew = Crew(task, count)
    try:
        yield from crew.look(batches)
    finally:
        crew.dismiss()


def _after_loss(worker: _Worker, job: _Job, jobs: deque[_Job]) -> Iterator[FileReport]:
    """Put off what a lost worker had; yield the report of a file that is given up."""
    at = worker.board.number
    if at is None and len(job.files) > 1:  # it was lost between two files: any may be the cause
        jobs.extend(job.alone(file) for file in job.files)
        return
    rule = worker.board.rule
    if rule in job.suspects:
        yield from _given_up(job, at or 0, rule, worker.loss, jobs)
        return
    file = job.files[at or 0]
    jobs.append(job.alone(file)._replace(suspects=job.suspects | {rule}))
    _put_off_others(job, file, jobs)


def _given_up(
    job: _Job, at: int, rule: str, reason: str, jobs: deque[_Job]
) -> Iterator[FileReport]:
    """Give up a rule on a file, or all of the file where no rule was at work."""
    file = job.files[at]
    if rule:
        jobs.append(job.alone(file)._replace(over=(*job.over, (rule, reason))))
    else:
        yield FileReport.failed(file.path, reason)
    _put_off_others(job, file, jobs)


def _put_off_others(job: _Job, file: SourceFile, jobs: deque[_Job]) -> None:
    others = tuple(item for item in job.files if item is not file)
    if others:
        jobs.append(job._replace(files=others))


def _serve(pipe: Connection, task: Task, board: Board) -> None:
    """Do what comes through `pipe` until it ends; this is all that a worker process runs."""
    settle_in(task.options.limits.memory)
    try:
        while True:
            files, over = pipe.recv()
            sent = work(task._replace(files=files, over=over), board)
            board.rest()
            pipe.send(sent)
    except (EOFError, OSError):
        status = 0  # the parent has gone, or wants no more
    except BaseException:  # such as a lack of memory while it packs: the parent tells of it
        status = 1
    os._exit(status)  # no handler of the parent's is for this process


def settle_in(memory: int | None = None) -> None:
    """Make a worker of this process.

    It leaves an interruption to the process that gave it work. `memory` is how many bytes more it
    may take.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    if memory is not None:
        limit_memory(memory)
