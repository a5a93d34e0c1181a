"""A file that gets all of a text, or stays as it was.

A link leads to the file that is meant. What is no file, such as a pipe or `/dev/stdout`, is written
to as it is, once the text is there: a file in its place would be another thing.
"""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from stat import S_IMODE, S_ISREG
from typing import BinaryIO


@contextmanager
def whole_file(path: str) -> Iterator[BinaryIO]:
    """Give a stream that becomes the file at `path` when it is left without an error.

    An existing file keeps its mode. Errors: `OSError`.
    """
    import tempfile  # most calls write no file

    mode = os.stat(path).st_mode if os.path.exists(path) else None
    if mode is not None and not S_ISREG(mode):
        with tempfile.TemporaryFile() as text:
            yield text
            text.seek(0)
            with open(path, "wb") as stream:
                shutil.copyfileobj(text, stream)
        return
    path = os.path.realpath(path)
    handle, name = tempfile.mkstemp(prefix=".ytr-", dir=os.path.dirname(path))
    try:
        with os.fdopen(handle, "wb") as stream:
            yield stream
        os.chmod(name, 0o666 & ~_umask() if mode is None else S_IMODE(mode))
        os.replace(name, path)
    except BaseException:
        os.unlink(name)
        raise


def _umask() -> int:
    """Return the bits that new files do not get."""
    mask = os.umask(0o022)
    os.umask(mask)
    return mask
