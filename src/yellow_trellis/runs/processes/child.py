"""A process beside this one, with a pipe to it, that leaves nothing behind.

It ends when this process ends, be that killed, and what it has started itself ends with it: a
program that a rule has left behind would hold standard output open, and whoever reads that would
wait. A pool from the standard library was refused, since it cannot end one process.
"""

from __future__ import annotations

import os
import signal
import sys
import threading
import time
from collections.abc import Callable, Iterable
from contextlib import suppress
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from multiprocessing.connection import Connection
    from multiprocessing.process import BaseProcess

_BEAT = 0.5
"""Seconds between two looks at whether the parent is there, where the system does not tell."""

Start = str
"""How a process is started: ``fork`` or ``spawn``, as `multiprocessing` has them."""


def best_start() -> Start:
    """Return ``fork`` where a process may be copied with all that it has loaded."""
    return "fork" if sys.platform == "linux" else "spawn"


class Child:
    """A process that calls `target` with its end of a pipe and `arguments`.

    Arguments: `start` is how it is started; `others` are children whose pipes a copy of this
    process must not keep open; `may_have_children` allows it to start processes of ours;
    `is_apart` gives it a group of processes of its own, which a signal of the terminal does not
    reach, and all of which ends with it.
    """

    def __init__(
        self,
        target: Callable[..., object],
        arguments: tuple[object, ...],
        *,
        start: Start,
        others: Iterable[Child] = (),
        may_have_children: bool = False,
        is_apart: bool = True,
    ) -> None:
        import multiprocessing

        context: Any = multiprocessing.get_context(start)
        self.pipe: Connection
        self.pipe, there = context.Pipe()
        self._is_apart = is_apart and hasattr(os, "setpgid")
        self._ending = threading.Lock()
        self._is_reaped = False
        open_here = [self.pipe, *(other.pipe for other in others)] if start == "fork" else []
        is_told = threading.current_thread() is threading.main_thread()
        begin = (os.getpid(), is_told, self._is_apart, there, open_here, target, arguments)
        self._process: BaseProcess = context.Process(
            target=_begin, args=begin, daemon=not may_have_children
        )
        sys.stdout.flush()  # what is not written yet would be written twice
        sys.stderr.flush()
        self._process.start()
        there.close()

    def wait(self) -> int:
        """Wait for its end, and return its status: below 0 the signal that ended it."""
        self._process.join()
        return self._process.exitcode or 0

    def kill(self) -> None:
        """End it, whatever it is at, and what it has started; from any thread.

        A thread that waits for it at the pipe sees an `EOFError`, and still has to call `end`.
        """
        with self._ending:
            if not self._is_reaped:
                self._kill()

    def end(self) -> None:
        """End it as `kill` does and let go of it; the pipe is gone then."""
        with self._ending:
            if not self._is_reaped:
                self._kill()
                self._process.join()
                self._is_reaped = True  # its number may be that of another process now
                self.pipe.close()

    def _kill(self) -> None:
        if self._is_apart and self._process.pid is not None:
            with suppress(ProcessLookupError, PermissionError):
                os.killpg(self._process.pid, signal.SIGKILL)
        self._process.kill()


def _begin(
    parent: int,
    is_told: bool,
    is_apart: bool,
    pipe: Connection,
    open_here: list[Connection],
    target: Callable[..., object],
    arguments: tuple[object, ...],
) -> None:
    """Call `target`; this is all that such a process runs.

    Arguments: `is_told` tells that the system can say when `parent`, the process, ends.
    """
    for item in open_here:
        item.close()
    if is_apart:
        os.setpgid(0, 0)
    if not (is_told and _ends_with_parent()):
        threading.Thread(target=_watch, args=(parent,), daemon=True).start()
    elif os.getppid() != parent:
        os._exit(1)
    target(pipe, *arguments)


_PARENT_ENDS = 1
"""Number of the request to Linux for a signal when the thread that started this process ends."""


def _ends_with_parent() -> bool:
    """Ask the system to end this process with its parent; return whether it will."""
    if sys.platform != "linux":
        return False
    import ctypes

    with suppress(OSError, AttributeError):
        return bool(ctypes.CDLL(None).prctl(_PARENT_ENDS, signal.SIGKILL, 0, 0, 0) == 0)
    return False


def _watch(parent: int) -> None:
    """End this process once its parent has gone."""
    while os.getppid() == parent:
        time.sleep(_BEAT)
    os._exit(1)
