"""A file that gets all of a text, or stays as it was."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from typing import BinaryIO


@contextmanager
def whole_file(path: str) -> Iterator[BinaryIO]:
    """Give a stream that becomes the file at `path` when it is left without an error.

    Errors: `OSError`.
    """
    import tempfile  # most calls write no file

    handle, name = tempfile.mkstemp(prefix=".ytr-", dir=os.path.dirname(os.path.abspath(path)))
    try:
        with os.fdopen(handle, "wb") as stream:
            yield stream
        os.chmod(name, 0o666 & ~_umask())
        os.replace(name, path)
    except BaseException:
        os.unlink(name)
        raise


def _umask() -> int:
    """Return the bits that new files do not get."""
    mask = os.umask(0o022)
    os.umask(mask)
    return mask
