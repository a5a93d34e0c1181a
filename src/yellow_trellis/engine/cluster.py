"""Workers on other machines: a Dask scheduler, asked through its executor."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import Executor
from contextlib import contextmanager

from yellow_trellis.mistake import Mistake

_PATIENCE = 15
"""Seconds to wait for the scheduler."""


class NoCluster(Mistake, RuntimeError):
    """A cluster that cannot be used: which, why, and what to do."""


@contextmanager
def cluster(address: str) -> Iterator[Executor]:
    """Connect to the scheduler at `address`, for instance ``tcp://depot:8786``.

    Its workers must see the same files under the same paths, and have this library installed.
    Errors: `NoCluster`, when nobody answers there or the extra `cluster` is missing.
    """
    try:
        from distributed import Client
    except ModuleNotFoundError as missing:
        raise NoCluster(
            f"a cluster needs the package {missing.name}: "
            "install it with `pip install 'yellow-trellis[cluster]'`"
        ) from None
    try:
        client = Client(address, timeout=_PATIENCE, set_as_default=False)
    except (OSError, TimeoutError, ValueError) as wrong:
        raise NoCluster(
            f"{address}: no scheduler answers ({type(wrong).__name__}): "
            "start one with `dask scheduler`, and workers with `dask worker ADDRESS`"
        ) from None
    try:
        if not client.scheduler_info()["workers"]:
            raise NoCluster(f"{address}: the scheduler has no workers: start some")
        yield client.get_executor(pure=False)
    finally:
        client.close()
