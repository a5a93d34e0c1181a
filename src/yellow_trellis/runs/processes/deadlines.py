"""Limits to what one file may cost: time for a rule and for a file, memory for a worker."""

from __future__ import annotations

import signal
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from time import perf_counter
from types import FrameType

from yellow_trellis.findings.timing import OutOfTime, Watch
from yellow_trellis.runs.run_options import Limits


_AGAIN = 0.5
"""Seconds after which what has been stopped and goes on is stopped again: what a handler raises is
lost where Python cleans up an object, but it must not meet whoever is about to tell of it."""


GRACE = 1.0
"""Seconds beyond a limit after which a process that does not stop by itself is ended."""


def overdue(
    limits: Limits, now: float, started: float, rule: str, since: float
) -> OutOfTime | None:
    """Return what has taken longer than it may, if anything has: the file, or else its rule.

    Arguments: `started` is when the file was begun, `since` when the `rule` at work was; an empty
    one is none. All are seconds of `perf_counter`.
    """
    if limits.file is not None and now - started > limits.file:
        return OutOfTime("", limits.file)
    if rule and limits.rule is not None and now - since > limits.rule:
        return OutOfTime(rule, limits.rule)
    return None


class Deadline:
    """Stops what a watch says has gone on for too long.

    A timer looks at the watch now and then, which costs nothing in between; it also reaches into a
    regular expression that has gone wild. Where the system has no such timer, or outside of the
    main thread, nothing is stopped.
    """

    def __init__(self, limits: Limits) -> None:
        self.limits = limits
        self.watch: Watch | None = None
        self._stopped = 0.0

    @contextmanager
    def on_duty(self) -> Iterator[None]:
        """Run the timer."""
        spans = [s for s in (self.limits.rule, self.limits.file) if s is not None]
        main = threading.current_thread() is threading.main_thread()
        if not spans or not main or not hasattr(signal, "setitimer"):
            yield
            return
        before = signal.signal(signal.SIGALRM, self._look)
        beat = max(min(spans) / 5, 0.01)
        signal.setitimer(signal.ITIMER_REAL, beat, beat)
        try:
            yield
        finally:
            signal.setitimer(signal.ITIMER_REAL, 0)
            signal.signal(signal.SIGALRM, before)

    @contextmanager
    def off_duty(self) -> Iterator[None]:
        """Count no time meanwhile: a person takes what a question takes."""
        watch, self.watch = self.watch, None
        began = perf_counter()
        try:
            yield
        finally:
            if watch is not None:
                took = perf_counter() - began
                watch.started += took
                watch.since += took
            self.watch = watch

    def _look(self, number: int, frame: FrameType | None) -> None:
        watch, limits, now = self.watch, self.limits, perf_counter()
        if watch is None or now - self._stopped < _AGAIN:
            return
        over = overdue(limits, now, watch.started, watch.rule, watch.since)
        if over is not None:
            self._stopped = now
            raise over


@contextmanager
def limited(seconds: float | None) -> Iterator[None]:
    """Run a block within a number of seconds; None is no limit.

    Errors: `OutOfTime`, when it takes longer.
    """
    guard = Deadline(Limits(None, seconds))
    guard.watch = Watch()
    with guard.on_duty():
        yield


def limit_memory(size: int) -> None:
    """Let this process have no more than `size` bytes beyond what it has; where that can be set."""
    if sys.platform != "linux":
        return
    import resource

    with open("/proc/self/statm", encoding="ascii") as file:
        now = int(file.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (now + size, resource.RLIM_INFINITY))
