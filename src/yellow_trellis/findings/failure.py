"""A rule that raised: foreign code costs only itself, on the file at which it failed."""

from __future__ import annotations

import signal
from typing import NamedTuple

from yellow_trellis.findings.timing import OutOfTime


class RuleFailure(NamedTuple):
    """A rule that raised on a file: its name and what it said."""

    rule: str
    reason: str


def is_contained(error: BaseException) -> bool:
    """Return whether what foreign code has raised costs only that, and not the run.

    So it is with all that it raises: it must not end a run by `sys.exit`. But an interruption from
    the keyboard is that of a person, where the process heeds any: workers do not.
    """
    if isinstance(error, KeyboardInterrupt):
        return signal.getsignal(signal.SIGINT) is signal.SIG_IGN
    return not isinstance(error, OutOfTime)


def reason_of(error: BaseException) -> str:
    """Return a description of an error: its kind, its message, and the line that raised it."""
    trace = error.__traceback__
    while trace is not None and trace.tb_next is not None:
        trace = trace.tb_next
    place = ""
    if trace is not None:
        place = f" ({trace.tb_frame.f_code.co_filename}:{trace.tb_lineno})"
    message = _message(error)
    return f"{type(error).__name__}{': ' if message else ''}{message}{place}"


def _message(error: BaseException) -> str:
    """Return the message of an error, which may itself be foreign code."""
    try:
        return str(error)
    except BaseException as wrong:
        if not is_contained(wrong):
            raise
        return "a message that cannot be shown"
