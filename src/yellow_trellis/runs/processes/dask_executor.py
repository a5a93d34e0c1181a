"""Workers on other machines: a Dask scheduler, asked through its executor.

Each of its workers has a process of ours beside it, so that limits hold there too, and a rule that
ends its process costs no worker of the cluster.
"""

from __future__ import annotations

import socket
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Executor, Future
from contextlib import contextmanager
from multiprocessing import current_process
from threading import local
from typing import TYPE_CHECKING, Any, cast
from urllib.parse import urlsplit

from yellow_trellis.errors import TrellisError
from yellow_trellis.rules import Ruleset
from yellow_trellis.runs.processes.task import Task

if TYPE_CHECKING:
    from yellow_trellis.runs.processes.crew import Crew
    from yellow_trellis.runs.report_codec import Sent

_PATIENCE = 15
"""Seconds to wait for the scheduler."""
_WITHOUT_WORKERS = 60
"""Seconds after which a run ends that has lost all workers of its cluster."""


class ClusterError(TrellisError, RuntimeError):
    """A cluster that cannot be used: which, why, and what to do."""


@contextmanager
def cluster(address: str) -> Iterator[Executor]:
    """Connect to the scheduler at `address`, for instance ``tcp://depot:8786``.

    Its workers must see the same files under the same paths, and have this library installed.
    Errors: `ClusterError`, when nobody answers there, the extra `cluster` is missing, or, in
    between, the cluster is without workers for a minute.
    """
    try:
        from distributed import Client
    except ModuleNotFoundError as missing:
        raise ClusterError(
            f"a cluster needs the package {missing.name}: "
            "install it with `pip install 'yellow-trellis[cluster]'`"
        ) from None
    _refuse_wrong(address)
    try:
        client = Client(address, timeout=_PATIENCE, set_as_default=False)
    except (OSError, TimeoutError, ValueError) as wrong:
        raise _no_answer(address, type(wrong).__name__) from None
    try:
        if not client.scheduler_info()["workers"]:
            raise ClusterError(f"{address}: the scheduler has no workers: start some")
        yield ClusterExecutor(client, address)
    finally:
        client.close(timeout=_PATIENCE)


def _no_answer(address: str, reason: str) -> ClusterError:
    return ClusterError(
        f"{address}: no scheduler answers ({reason}): "
        "start one with `dask scheduler`, and workers with `dask worker ADDRESS`"
    )


def _refuse_wrong(address: str) -> None:
    """Refuse at once an address at which nobody can be, or nobody listens."""
    try:
        parts = urlsplit(address if "://" in address else f"tcp://{address}")
        host, port = parts.hostname, parts.port
    except ValueError:
        host = port = None
    if not host or not port:
        raise ClusterError(f"{address!r} is no address: write one as tcp://depot:8786")
    if parts.scheme in ("tcp", "tls"):
        try:
            socket.create_connection((host, port), timeout=_PATIENCE).close()
        except OSError as wrong:
            raise _no_answer(address, wrong.strerror or type(wrong).__name__) from None


class ClusterExecutor(Executor):
    """Sends tasks to a cluster, and notices when it has no workers left."""

    def __init__(self, client: Any, address: str) -> None:
        self._client = client
        self._address = address
        self._seen = time.monotonic()

    def submit(self, work: Callable[..., Any], /, *args: Any, **value: Any) -> Future[Any]:
        """Have a worker do the work; that of a `Task` is done in a process beside it."""
        if args and isinstance(args[0], Task) and not isinstance(args[0].rules, Ruleset):
            work = work_beside
        return self._executor.submit(work, *args, **value)

    @property
    def _executor(self) -> Executor:
        return cast(Executor, self._client.get_executor(pure=False))

    def check(self) -> None:
        """Look whether anybody is at work. Errors: `ClusterError`, when nobody was for a minute."""
        now = time.monotonic()
        if self._client.scheduler_info(n_workers=-1)["workers"]:
            self._seen = now
        elif now - self._seen > _WITHOUT_WORKERS:
            raise ClusterError(
                f"{self._address}: the cluster has had no workers for {_WITHOUT_WORKERS} s: "
                "start some, and run it again"
            )


_kept = local()


def work_beside(task: Task) -> Sent:
    """Look at the files of `task` in a process beside this worker, and return the reports packed.

    The process is kept for the tasks of the same run.
    """
    from yellow_trellis.runs.processes.crew import Crew
    from yellow_trellis.runs.report_codec import packed

    whole = task._replace(files=())
    crew: Crew | None = getattr(_kept, "crew", None)
    if crew is None or _kept.task != whole:
        if crew is not None:
            crew.dismiss()
        current_process().daemon = False  # Dask makes its workers such as may start no process
        crew, _kept.task = Crew(whole, 1, "spawn"), whole
        _kept.crew = crew
    return packed(list(crew.look([task.files])))
