"""The key of the user, by which the library knows what it has kept itself.

A database may come with the code, from whoever wrote that. What it holds is sealed with a key that
is kept with the user and never with the code, so that nobody else can make one that is believed.
"""

from __future__ import annotations

import os
import secrets
import time
from functools import lru_cache
from hashlib import blake2b
from pathlib import Path

from yellow_trellis.errors import TrellisError

_SIZE = 32
_NAME = "cache-key"
_TRIES = 20


def user_key() -> bytes | None:
    """Return the key of the user, made when first asked for; None where none can be kept."""
    from yellow_trellis.project.trust import store

    try:
        return _key_in(store().with_name(_NAME))
    except TrellisError:
        return None  # there is no home


@lru_cache(maxsize=4)
def _key_in(file: Path) -> bytes | None:
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return _read(file)
    except OSError:
        return None
    with os.fdopen(handle, "wb") as new:
        key = secrets.token_bytes(_SIZE)
        new.write(key)
    return key


def _read(file: Path) -> bytes | None:
    """Return the key in a file, which another process may be writing just now."""
    for _ in range(_TRIES):
        try:
            key = file.read_bytes()[: _SIZE + 1]
        except OSError:
            return None
        if len(key) == _SIZE:
            return key
        time.sleep(0.01)
    return None


def seal(key: bytes, *parts: bytes) -> int:
    """Return a number of 56 bits that only who has `key` can work out for `parts`."""
    digest = blake2b(key=key, digest_size=7)
    for part in parts:
        digest.update(len(part).to_bytes(8, "big"))
        digest.update(part)
    return int.from_bytes(digest.digest(), "big")
