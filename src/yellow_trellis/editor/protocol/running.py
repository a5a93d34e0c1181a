"""Work over a workspace for a connection: told while it runs, ended when it is cancelled."""

from __future__ import annotations

import asyncio
import uuid
from typing import TYPE_CHECKING, Any

from lsprotocol import types as lsp

from yellow_trellis.editor.worker import WorkerError

if TYPE_CHECKING:
    from yellow_trellis.editor.protocol.server import TrellisServer


async def run_job(
    server: TrellisServer,
    title: str,
    name: str,
    *arguments: object,
    token: lsp.ProgressToken | None = None,
    quiet: bool = False,
) -> Any:
    """Return what a job gives; it runs beside the worker, so that key strokes do not wait.

    Arguments:
        title: what the editor shows while it runs.
        name: a name in `JOBS`, with its `arguments`.
        token: that of the editor for its progress; one is asked for if there is none.
        quiet: whether nothing is shown.
    Errors: `WorkerError`, also where somebody cancelled it.
    """
    job = server.new_job()
    loop = asyncio.get_running_loop()
    progress = None if quiet else await _begin(server, title, token, job.cancel)
    steps = _Steps()

    def tell(done: int, total: int) -> None:
        if progress is not None and steps.is_due(done, total):
            share = 100 * done // max(total, 1)
            report = lsp.WorkDoneProgressReport(
                message=f"{done:,} of {total:,} files", percentage=share
            )
            loop.call_soon_threadsafe(server.work_done_progress.report, progress, report)

    try:
        return await loop.run_in_executor(server.jobs, job.answer, name, arguments, tell)
    except asyncio.CancelledError:
        job.cancel()
        raise
    finally:
        if progress is not None:
            server.work_done_progress.end(progress, lsp.WorkDoneProgressEnd())
            server.work_done_progress.tokens.pop(progress, None)


class _Steps:
    """Lets each hundredth part of some work be told once."""

    def __init__(self) -> None:
        self._last = -1

    def is_due(self, done: int, total: int) -> bool:
        share = 100 * done // max(total, 1)
        is_due, self._last = share != self._last, share
        return is_due


async def _begin(
    server: TrellisServer, title: str, token: lsp.ProgressToken | None, cancel: Any
) -> lsp.ProgressToken | None:
    """Let the editor show that work goes on; return the token, None where it cannot show it."""
    window = server.client_capabilities.window
    if token is None:
        if window is None or not window.work_done_progress:
            return None
        token = str(uuid.uuid4())
        await server.work_done_progress.create_async(token)
    begin = lsp.WorkDoneProgressBegin(title=title, cancellable=True, percentage=0)
    server.work_done_progress.begin(token, begin)
    server.work_done_progress.tokens[token].add_done_callback(
        lambda future: cancel() if future.cancelled() else None
    )
    return token


async def changes_from(
    server: TrellisServer, title: str, name: str, *arguments: object
) -> Any:
    """Return the changes that a job makes, or in words why there are none; show its notes."""
    try:
        done = await run_job(server, title, name, *arguments)
    except WorkerError as error:
        return str(error)
    if isinstance(done, str):
        return done
    for note in done.notes:
        server.tell(note)
    return done.changes
