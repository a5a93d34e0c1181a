"""The worker process: it holds the session, so that no rule can stop the server.

Calls are answered one after the other. A worker that dies, or does not answer in time, is replaced
by a new one that gets all open files again.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from yellow_trellis.editor.positions import PositionEncoding
from yellow_trellis.editor.text_change import TextChange, changed
from yellow_trellis.runs.processes.child import Child
from yellow_trellis.source import Source

SECONDS = 30.0
"""How long a call may take before the worker is taken for dead."""


class WorkerError(Exception):
    """A call that was not answered: the worker died, took too long, or met a fault of ours."""


class Worker:
    """A session in another process.

    Arguments: `trusted` and `encoding` are those of the session.
    """

    def __init__(self, trusted: bool = False, encoding: PositionEncoding = "utf-16") -> None:
        self.trusted = trusted
        self.encoding = encoding
        self.on_restart: Callable[[str], None] = lambda reason: None
        """Told why the process had to be started anew."""
        self._texts: dict[str, Source] = {}
        """By path: the open files, for a process that is started anew."""
        self._lock = threading.Lock()
        self._child: Child | None = None

    def begin(self) -> None:
        """Start the process ahead of the first request."""
        with self._lock:
            if self._child is None:
                self._start()

    def configure(self, trusted: bool, encoding: PositionEncoding) -> None:
        """Restart the process if the options of its session have changed."""
        with self._lock:
            if (trusted, encoding) != (self.trusted, self.encoding):
                self.trusted, self.encoding = trusted, encoding
                self._kill()

    def open(self, path: str, text: str) -> None:
        """Hand over an open file."""
        with self._lock:
            self._texts[path] = changed(Source(b""), TextChange(None, text), "utf-8").source
            self._ask("open", (path, text))

    def change(self, path: str, changes: list[TextChange]) -> None:
        """Hand over changes of an open file."""
        with self._lock:
            for change in changes:
                self._texts[path] = changed(self._texts[path], change, self.encoding).source
            self._ask("change", (path, changes))

    def close(self, path: str) -> None:
        """Let a file go."""
        with self._lock:
            self._texts.pop(path, None)
            self._ask("close", (path,))

    def call(self, method: str, *arguments: object) -> Any:
        """Return what a method of the session returns. Errors: `WorkerError`."""
        with self._lock:
            return self._ask(method, arguments)

    def texts(self) -> dict[str, str]:
        """Return the texts of the open files by path."""
        with self._lock:
            return {path: text.data.decode("utf-8") for path, text in self._texts.items()}

    def restart(self) -> None:
        """Restart the process, so that configurations and rules are read again."""
        with self._lock:
            self._kill()

    def stop(self) -> None:
        """End the process."""
        with self._lock:
            self._kill()

    def _ask(self, method: str, arguments: tuple[object, ...]) -> Any:
        fresh = self._child is None
        if fresh:
            self._start()
        if fresh and method in ("open", "change", "close"):
            return None  # the texts that it has got have that already
        try:
            return self._answer(method, arguments)
        except (EOFError, OSError) as error:
            self._kill()
            self.on_restart(f"the worker that evaluates the rules died ({type(error).__name__})")
        except TimeoutError:
            self._kill()
            self.on_restart(f"the rules did not answer within {SECONDS:g} s")
        raise WorkerError(method)

    def _answer(self, method: str, arguments: tuple[object, ...]) -> Any:
        assert self._child is not None
        pipe = self._child.pipe
        pipe.send((method, arguments))
        if not pipe.poll(SECONDS):
            raise TimeoutError
        done, value = pipe.recv()
        if not done:
            raise WorkerError(value)
        return value

    def _start(self) -> None:
        self._child = Child(_serve, (self.encoding, self.trusted), start="spawn")
        for path, text in self._texts.items():
            self._answer("open", (path, text.data.decode("utf-8")))

    def _kill(self) -> None:
        if self._child is not None:
            self._child.end()
        self._child = None


def silence() -> None:
    """Let what rules print go nowhere: standard output is the editor's."""
    nowhere = os.open(os.devnull, os.O_RDWR)
    os.dup2(nowhere, 0)
    os.dup2(nowhere, 1)


def _serve(end: Connection, encoding: PositionEncoding, trusted: bool) -> None:
    """Answer calls until the other end is closed."""
    silence()
    from yellow_trellis.editor.session import Session

    session = Session(encoding, trusted)
    while True:
        try:
            method, arguments = end.recv()
        except (EOFError, OSError):
            return
        try:
            answer = True, getattr(session, method)(*arguments)
        except Exception as error:
            answer = False, f"{type(error).__name__}: {error}"
        end.send(answer)
