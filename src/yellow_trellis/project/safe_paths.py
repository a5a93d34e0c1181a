"""Files below a folder, reached name by name: no link is followed, nothing outside is touched.

A code base is input that strangers wrote, the folder in which we keep things included. To resolve
a path and look whether it lies inside is not enough: a link may come between the look and the use.
So each folder on the way is opened from the one above, and a link is an error.
"""

from __future__ import annotations

import errno
import os
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from stat import S_IMODE, S_ISLNK, S_ISREG
from typing import BinaryIO, NamedTuple

_SUFFIX = ".ytr"
"""How the name of a temporary file ends."""
_TOKEN = 4
"""Random bytes in it, each of which is two characters."""
_BY_HANDLE = os.open in os.supports_dir_fd
"""Whether the system opens what lies in an open folder; else it is looked at, then used by path."""
_FOLDER = os.O_RDONLY | getattr(os, "O_DIRECTORY", 0) | getattr(os, "O_NOFOLLOW", 0)
_PLAIN = getattr(os, "O_NOFOLLOW", 0) | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_BINARY", 0)
_LONGEST = 200
"""Bytes of a file's name that a temporary name repeats: names have a limit."""


class UnsafePathError(OSError):
    """A path that must not be used: it leads through a link, outside, or to no plain file."""

    def __init__(self, reason: str) -> None:
        super().__init__(errno.EPERM, reason)


def checked(name: str) -> list[str]:
    """Return the parts of a relative path with slashes. Errors: `UnsafePathError` for any other."""
    parts = name.split("/")
    odd = "\0" in name or (os.name == "nt" and any(mark in name for mark in "\\:"))
    if odd or any(part in ("", ".", "..") for part in parts):
        raise UnsafePathError("its path is not one below the folder of the run")
    return parts


def kept_below(file: Path, top: Path | None) -> tuple[Beneath, str]:
    """Return how a file that we write is reached: from `top`, or else from its own folder.

    A file that somebody names on the command line may lie anywhere; one that a configuration
    names lies below the folder `top`, and no link leads to it.
    """
    if top is None:
        return Beneath(file.parent), file.name
    return Beneath(top), os.path.relpath(file, top).replace(os.sep, "/")


def read_kept(file: Path, top: Path | None) -> bytes:
    """Return what such a file holds; one that is named on the command line may be a pipe."""
    below, name = kept_below(file, top)
    return below.read(name) if top is not None else file.read_bytes()


class _Folder(NamedTuple):
    """An open folder; where the system opens none, its path, of which no part is a link."""

    path: str
    handle: int | None

    def of(self, leaf: str) -> str:
        """Return how what lies in it is named to the system, with `handle` beside."""
        return leaf if self.handle is not None else os.path.join(self.path, leaf)

    def inner(self, leaf: str) -> _Folder:
        """Open a folder in it."""
        path = os.path.join(self.path, leaf)
        if self.handle is None:
            if os.path.islink(path) or not os.path.isdir(path):
                raise UnsafePathError(f"`{leaf}` is a link, or no folder")
            return _Folder(path, None)
        try:
            return _Folder(path, os.open(leaf, _FOLDER, dir_fd=self.handle))
        except OSError as wrong:
            raise _as_own_error(wrong, leaf) from None

    def close(self) -> None:
        """Let go of it."""
        if self.handle is not None:
            os.close(self.handle)


class Beneath:
    """The files below the folder `root`. Names are relative paths with slashes.

    All methods raise `OSError`, and of that `UnsafePathError` where a name leads through a link.
    """

    def __init__(self, root: Path) -> None:
        self.root = root

    @contextmanager
    def _folder(self, parts: list[str], make: bool = False) -> Iterator[_Folder]:
        """Open the folder that `parts` lead to; where asked, make what is missing."""
        handle = os.open(self.root, os.O_RDONLY | os.O_DIRECTORY) if _BY_HANDLE else None
        at = _Folder(str(self.root), handle)
        try:
            for part in parts:
                if make:
                    with suppress(FileExistsError):
                        os.mkdir(at.of(part), dir_fd=at.handle)
                inner = at.inner(part)
                at.close()
                at = inner
            yield at
        finally:
            at.close()

    def _open(self, name: str, flags: int) -> int:
        *folders, leaf = checked(name)
        with self._folder(folders) as at:
            try:
                handle = os.open(at.of(leaf), flags | _PLAIN, 0o666, dir_fd=at.handle)
            except OSError as wrong:
                raise _as_own_error(wrong, leaf) from None
        if not S_ISREG(os.fstat(handle).st_mode):
            os.close(handle)
            raise UnsafePathError(f"`{leaf}` is no plain file")
        return handle

    def reading(self, name: str) -> BinaryIO:
        """Open a file to be read."""
        return os.fdopen(self._open(name, os.O_RDONLY), "rb")

    def appending(self, name: str) -> BinaryIO:
        """Open a file to be added to; it is made if it is not there."""
        return os.fdopen(self._open(name, os.O_WRONLY | os.O_APPEND | os.O_CREAT), "ab")

    def read(self, name: str, most: int | None = None) -> bytes:
        """Return what a file holds; one of more than `most` bytes is an error."""
        with self.reading(name) as file:
            if most is not None and os.fstat(file.fileno()).st_size > most:
                raise OSError(errno.EFBIG, f"it has more than {most:,} bytes")
            return file.read()

    def make_folder(self, name: str) -> None:
        """Make a folder, and those around it."""
        with self._folder(checked(name), make=True):
            pass

    def names(self, name: str) -> list[str]:
        """Return what a folder holds, sorted; nothing where it is not there."""
        parts = checked(name) if name else []
        try:
            with self._folder(parts) as at:
                return sorted(os.listdir(at.path if at.handle is None else at.handle))
        except FileNotFoundError:
            return []

    def remove(self, name: str) -> None:
        """Remove a file, or a link by that name."""
        *folders, leaf = checked(name)
        with self._folder(folders) as at:
            os.unlink(at.of(leaf), dir_fd=at.handle)

    def remove_folder(self, name: str) -> None:
        """Remove a folder that holds only files."""
        *folders, leaf = checked(name)
        for inner in self.names(name):
            self.remove(f"{name}/{inner}")
        with self._folder(folders) as at:
            os.rmdir(at.of(leaf), dir_fd=at.handle)

    def remove_leftovers(self, folder: str, leaves: Iterable[str]) -> None:
        """Remove the temporary files of writers that were killed, beside files of a folder."""
        leads = {_lead(leaf) for leaf in leaves}
        tail = 2 * _TOKEN + len(_SUFFIX)
        for name in self.names(folder):
            if name.endswith(_SUFFIX) and name[:-tail] in leads:
                self.remove(f"{folder}/{name}" if folder else name)

    def replace(self, name: str, data: bytes) -> None:
        """Write `data` to a temporary file beside a file, flush it, and rename it over that.

        Whoever looks sees the old bytes or the new. Mode, owner and extended attributes are kept;
        where they cannot be, or where the file is read-only or has other names, it is refused.
        """
        *folders, leaf = checked(name)
        with self._folder(folders) as at:
            old = _status(leaf, at)
            result = f"{_lead(leaf)}{os.urandom(_TOKEN).hex()}{_SUFFIX}"
            flags = os.O_WRONLY | os.O_CREAT | os.O_EXCL | _PLAIN
            mode = 0o666 if old is None else 0o600
            handle = os.open(at.of(result), flags, mode, dir_fd=at.handle)
            try:
                with os.fdopen(handle, "wb") as file:
                    file.write(data)
                    if old is not None:
                        _take_over(file.fileno(), old, leaf, at)
                    file.flush()
                    os.fsync(file.fileno())
                new = (at.of(result), at.of(leaf))
                os.replace(*new, src_dir_fd=at.handle, dst_dir_fd=at.handle)
            except BaseException:
                with suppress(OSError):
                    os.unlink(at.of(result), dir_fd=at.handle)
                raise


def _lead(leaf: str) -> str:
    """Return how the name of a temporary file beside a file starts."""
    return f".{os.fsdecode(os.fsencode(leaf)[:_LONGEST])}."


def _as_own_error(wrong: OSError, name: str) -> OSError:
    """Return what the system says of a link as our own error."""
    if wrong.errno in (errno.ELOOP, errno.EMLINK, errno.ENOTDIR):
        return UnsafePathError(f"`{name}` is a link, or no folder")
    return wrong


def _status(leaf: str, at: _Folder) -> os.stat_result | None:
    """Return the status of a file that is to be replaced; None where it is not there."""
    try:
        status = os.stat(at.of(leaf), dir_fd=at.handle, follow_symlinks=False)
    except FileNotFoundError:
        return None
    if S_ISLNK(status.st_mode):
        raise UnsafePathError(f"`{leaf}` is a link, or no folder")
    if not S_ISREG(status.st_mode):
        raise UnsafePathError(f"`{leaf}` is no plain file")
    if status.st_nlink > 1:
        raise UnsafePathError("it has another name (a hard link), which would keep the old text")
    if not status.st_mode & 0o222:
        raise UnsafePathError("it is read-only")
    return status


def _take_over(handle: int, old: os.stat_result, leaf: str, at: _Folder) -> None:
    """Give a new file the owner, the mode and the extended attributes of the old one."""
    if not _BY_HANDLE:
        os.chmod(at.of(leaf), S_IMODE(old.st_mode))
        return
    new = os.fstat(handle)
    if (old.st_uid, old.st_gid) != (new.st_uid, new.st_gid):
        try:
            os.fchown(handle, old.st_uid, old.st_gid)
        except OSError:
            raise UnsafePathError(
                "it belongs to another user or group, which could not be kept"
            ) from None
    os.fchmod(handle, S_IMODE(old.st_mode))
    if not hasattr(os, "listxattr"):
        return
    source = os.open(at.of(leaf), os.O_RDONLY | _PLAIN, dir_fd=at.handle)
    try:
        for attribute in _attributes(source):
            value = os.getxattr(source, attribute)
            try:
                os.setxattr(handle, attribute, value)
            except OSError:
                if attribute not in _attributes(handle) or os.getxattr(handle, attribute) != value:
                    message = f"its attribute `{attribute}` could not be kept"
                    raise UnsafePathError(message) from None
    finally:
        os.close(source)


def _attributes(handle: int) -> list[str]:
    try:
        return os.listxattr(handle)
    except OSError:
        return []  # the file system has none
