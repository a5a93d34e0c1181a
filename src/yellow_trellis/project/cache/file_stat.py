"""The status of a file by which a change is seen without reading it."""

from __future__ import annotations

import os
import time
from typing import NamedTuple

_SETTLED = 2_000_000_000
"""Nanoseconds after which a file that changes again surely gets another time."""


def digest_of(data: bytes) -> str:
    """Return the SHA-256 of bytes in hexadecimal."""
    import hashlib  # it takes a tenth of the start, and few commands need it

    return hashlib.sha256(data).hexdigest()


class Stamp(NamedTuple):
    """Size in bytes, when it was changed, number of the file, and when its status was changed.

    Times are in nanoseconds. A program can set the first back to what it was, and not the second;
    on Windows that is when the file was made, which tells no more.
    """

    size: int = 0
    changed: int = 0
    file: int = 0
    noted: int = 0

    @classmethod
    def of(cls, path: str) -> Stamp | None:
        """Return the stamp of the file at `path`; None if it cannot be had."""
        try:
            return cls.read(os.stat(path))
        except OSError:
            return None

    @classmethod
    def read(cls, status: os.stat_result) -> Stamp:
        """Return the stamp in what the system tells of a file."""
        return cls(status.st_size, status.st_mtime_ns, status.st_ino, status.st_ctime_ns)

    @property
    def settled(self) -> bool:
        """Return whether the change is so old that a further one would show in its status."""
        return time.time_ns() - max(self.changed, self.noted) > _SETTLED
