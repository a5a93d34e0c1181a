"""Changes on the disk, followed by the server itself where the editor does not report them."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Iterable

from yellow_trellis.project.discovery import SKIPPED

_TICK = 500
"""Milliseconds after which the wait for changes looks whether it is to end."""


class DiskWatch:
    """A thread that calls `on_change` with the paths of files that count and have changed.

    Arguments: `names` are the endings of such files; `on_fault` is called with the reason where the
    system cannot watch so many folders, or cannot watch them at all.
    """

    def __init__(
        self,
        folders: Iterable[str],
        names: tuple[str, ...],
        on_change: Callable[[list[str]], None],
        on_fault: Callable[[str], None],
    ) -> None:
        self._folders = [folder for folder in folders if os.path.isdir(folder)]
        self._names = names
        self._on_change = on_change
        self._on_fault = on_fault
        self._ended = threading.Event()

    def start(self) -> None:
        """Begin to follow changes. Errors: `ImportError`, where watchfiles is not installed."""
        import watchfiles  # many editors watch the files themselves

        if self._folders:
            threading.Thread(target=self._run, args=(watchfiles.watch,), daemon=True).start()

    def stop(self) -> None:
        """End it."""
        self._ended.set()

    def _run(self, watch: Callable[..., Iterable[set[tuple[object, str]]]]) -> None:
        try:
            for changes in watch(
                *self._folders,
                watch_filter=self._counts,
                stop_event=self._ended,
                rust_timeout=_TICK,
                raise_interrupt=False,
            ):
                self._on_change(sorted({path for _, path in changes}))
        except (OSError, RuntimeError) as error:
            if not self._ended.is_set():
                self._on_fault(str(error))

    def _counts(self, _: object, path: str) -> bool:
        return path.endswith(self._names) and SKIPPED.isdisjoint(path.split(os.sep))
