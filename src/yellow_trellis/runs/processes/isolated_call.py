"""One call in a process of its own, so that foreign code costs no more than the call."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable
from contextlib import suppress
from typing import TYPE_CHECKING, TypeVar

from yellow_trellis.runs.processes.child import Child
from yellow_trellis.runs.processes.deadlines import GRACE, limited

if TYPE_CHECKING:
    from multiprocessing.connection import Connection

_Result = TypeVar("_Result")


class LostCallError(RuntimeError):
    """A call that did not come to its end: the message says why."""


def done_apart(work: Callable[[], _Result], seconds: float | None) -> _Result:
    """Return what `work` returns, done in a copy of this process where the system has such.

    Arguments: `seconds` are those it may take; None is no limit. Its result can be pickled.
    Errors: `LostCallError`, when it took too long, ended its process, or raised what no rule may.
    """
    if sys.platform != "linux":
        return _done_here(work, seconds)
    child = Child(_answer, (work, seconds), start="fork")
    try:
        if not child.pipe.poll(None if seconds is None else seconds + GRACE):
            raise LostCallError(f"stopped after {seconds:g} s")
        result, reason = child.pipe.recv()
    except EOFError:
        raise LostCallError(f"it ended its process, with status {child.wait()}") from None
    finally:
        child.end()
    if reason:
        raise LostCallError(reason)
    results: _Result = result
    return results


def _done_here(work: Callable[[], _Result], seconds: float | None) -> _Result:
    from yellow_trellis.findings.timing import OutOfTime

    try:
        with limited(seconds):
            return work()
    except OutOfTime as over:
        raise LostCallError(str(over)) from None


def _answer(pipe: Connection, work: Callable[[], object], seconds: float | None) -> None:
    from yellow_trellis.findings.failure import reason_of

    try:
        pipe.send((_done_here(work, seconds), ""))
    except BaseException as wrong:
        with suppress(OSError):
            reason = str(wrong) if isinstance(wrong, LostCallError) else reason_of(wrong)
            pipe.send((None, reason))
    os._exit(0)
