"""One writer at a time under a folder."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.cache.state_dir import private_folder
from yellow_trellis.project.safe_paths import UnsafePathError

PATIENCE = 10.0
"""Seconds to wait for another run to end."""


class BusyError(TrellisError, RuntimeError):
    """Another run writes under the same folder."""


@contextmanager
def locked(root: Path, patience: float = PATIENCE) -> Iterator[None]:
    """Keep other runs from writing under `root`; wait `patience` seconds for one that does.

    The lock goes with the process: one that was killed holds nothing.
    Errors: `BusyError`; `OSError` where the folder cannot be written.
    """
    from filelock import FileLock, Timeout

    path = private_folder(root) / "lock"
    if path.is_symlink():
        raise UnsafePathError(f"{path} is a link: take it away")
    lock = FileLock(path)
    try:
        lock.acquire(timeout=patience)
    except Timeout:
        raise BusyError(
            f"{root}: another run is writing here: try again when it has ended. "
            "Nothing was written by this one"
        ) from None
    try:
        yield
    finally:
        lock.release()
