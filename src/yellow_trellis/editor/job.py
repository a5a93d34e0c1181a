"""A job: work over a whole workspace in a process of its own, which can be ended at any moment.

Such work takes seconds to minutes. In the worker it would keep key strokes waiting, and a thread
could not be stopped. The process ends with the job, so that nothing is held that nobody needs.
"""

from __future__ import annotations

import multiprocessing
import os
import signal
from collections.abc import Callable, Mapping
from multiprocessing.connection import Connection
from typing import Any

from yellow_trellis.editor.positions import PositionEncoding
from yellow_trellis.editor.worker import WorkerFailed, silence


class Job:
    """One piece of work over a workspace.

    Arguments: `encoding` and `trusted` are those of a session; `texts` are by path the open files.
    """

    def __init__(self, encoding: PositionEncoding, trusted: bool, texts: Mapping[str, str]) -> None:
        self._arguments = encoding, trusted, dict(texts)
        self._process: Any = None
        self._is_cancelled = False

    def answer(
        self, name: str, arguments: tuple[object, ...], tell: Callable[[int, int], None]
    ) -> Any:
        """Return what the work called `name` in `JOBS` gives.

        Arguments: `tell` is told how many files have been looked at, and how many there are.
        Errors: `WorkerFailed`, also where the job was cancelled.
        """
        context = multiprocessing.get_context("spawn")
        ours, theirs = context.Pipe(duplex=False)
        self._process = context.Process(
            target=_serve, args=(theirs, *self._arguments, name, arguments)
        )
        self._process.start()
        theirs.close()
        try:
            while True:
                if self._is_cancelled:
                    raise WorkerFailed("it was cancelled")
                kind, value = ours.recv()
                if kind == "step":
                    tell(*value)
                elif kind == "done":
                    return value
                else:
                    raise WorkerFailed(value)
        except (EOFError, OSError):
            reason = "was cancelled" if self._is_cancelled else "died: the rules may be at fault"
            raise WorkerFailed(f"the work on the workspace {reason}") from None
        finally:
            ours.close()
            self._end()

    def cancel(self) -> None:
        """End the work, wherever it is."""
        self._is_cancelled = True
        self._end()

    def _end(self) -> None:
        process = self._process
        if process is None or process.pid is None:
            return
        if hasattr(os, "killpg"):
            try:
                os.killpg(process.pid, signal.SIGKILL)  # with the workers that it has started
            except (ProcessLookupError, PermissionError):
                process.kill()
        else:
            process.kill()
        process.join()


def _serve(
    end: Connection,
    encoding: PositionEncoding,
    trusted: bool,
    texts: dict[str, str],
    name: str,
    arguments: tuple[object, ...],
) -> None:
    """Do one piece of work, behind whatever else the machine has to do."""
    silence()
    if hasattr(os, "setpgrp"):
        os.setpgrp()
        os.nice(10)
    from yellow_trellis.editor.jobs import JOBS
    from yellow_trellis.editor.open_files import OpenFiles

    files = OpenFiles(encoding, trusted)
    for path, text in texts.items():
        files.open(path, text)
    try:
        answer = "done", JOBS[name](files, lambda *count: end.send(("step", count)), *arguments)
    except Exception as error:  # the server tells it, and stays up
        answer = "failed", f"{type(error).__name__}: {error}"
    end.send(answer)
