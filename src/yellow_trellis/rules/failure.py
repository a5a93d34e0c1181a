"""A rule that raised: foreign code costs only itself, on the file at which it failed."""

from __future__ import annotations

from typing import NamedTuple


class RuleFailure(NamedTuple):
    """A rule that raised on a file: its name and what it said."""

    rule: str
    reason: str


def reason_of(error: BaseException) -> str:
    """Return what is told of an error: its kind, its message, and the line that raised it."""
    trace = error.__traceback__
    while trace is not None and trace.tb_next is not None:
        trace = trace.tb_next
    place = ""
    if trace is not None:
        place = f" ({trace.tb_frame.f_code.co_filename}:{trace.tb_lineno})"
    return f"{type(error).__name__}: {error}{place}"
