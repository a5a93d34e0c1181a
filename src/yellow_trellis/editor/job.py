"""A job: work over a whole workspace in a process of its own, which can be ended at any moment.

Such work takes seconds to minutes. In the worker it would keep key strokes waiting, and a thread
could not be stopped. The process ends with the job, so that nothing is held that nobody needs.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Mapping
from multiprocessing.connection import Connection
from typing import Any

from yellow_trellis.editor.positions import PositionEncoding
from yellow_trellis.editor.worker import WorkerError, silence
from yellow_trellis.runs.processes.child import Child


class Job:
    """One piece of work over a workspace.

    Arguments: `encoding` and `trusted` are those of a session; `texts` are by path the open files.
    """

    def __init__(self, encoding: PositionEncoding, trusted: bool, texts: Mapping[str, str]) -> None:
        self._arguments = encoding, trusted, dict(texts)
        self._child: Child | None = None
        self._is_cancelled = False

    def answer(
        self, name: str, arguments: tuple[object, ...], tell: Callable[[int, int], None]
    ) -> Any:
        """Return what the work called `name` in `JOBS` gives.

        Arguments: `tell` is told how many files have been looked at, and how many there are.
        Errors: `WorkerError`, also where the job was cancelled.
        """
        self._child = Child(
            *(_serve, (*self._arguments, name, arguments)), start="spawn", may_have_children=True
        )
        try:
            while True:
                if self._is_cancelled:
                    raise WorkerError("it was cancelled")
                kind, value = self._child.pipe.recv()
                if kind == "step":
                    tell(*value)
                elif kind == "done":
                    return value
                else:
                    raise WorkerError(value)
        except (EOFError, OSError):
            reason = "was cancelled" if self._is_cancelled else "died: the rules may be at fault"
            raise WorkerError(f"the work on the workspace {reason}") from None
        finally:
            self._child.end()

    def cancel(self) -> None:
        """End the work, wherever it is."""
        self._is_cancelled = True
        if self._child is not None:
            self._child.kill()


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
    if hasattr(os, "nice"):
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
