"""Replacing a file in one step: whoever looks sees the old bytes or the new, never a part."""

from __future__ import annotations

import glob
import os
import tempfile
from contextlib import suppress
from pathlib import Path
from stat import S_IMODE

_SUFFIX = ".ytr"


def replace_file(path: Path, data: bytes) -> None:
    """Write `data` to a temporary file beside `path`, flush it, and rename it over `path`.

    Permissions, and the owner where allowed, are kept.
    Errors: `OSError`; the file is then as it was.
    """
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=_SUFFIX, dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        if path.exists():
            status = path.stat()
            with suppress(OSError, AttributeError):
                os.chown(name, status.st_uid, status.st_gid)
            os.chmod(name, S_IMODE(status.st_mode))
        os.replace(name, path)
    except BaseException:
        with suppress(OSError):
            os.unlink(name)
        raise


def leftovers(path: Path) -> list[Path]:
    """Return temporary files beside `path` of writers that were killed."""
    return list(path.parent.glob(f".{glob.escape(path.name)}.*{_SUFFIX}"))
