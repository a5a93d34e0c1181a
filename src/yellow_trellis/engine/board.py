"""What a worker is at, in memory that it shares with the process that watches it."""

from __future__ import annotations

import struct
from multiprocessing.context import BaseContext
from time import perf_counter

from yellow_trellis.engine.limits import GRACE, overdue
from yellow_trellis.engine.wanted import Limits
from yellow_trellis.rules.watch import OutOfTime

_FORM = struct.Struct("=iddH")
"""The number of the file, since when it is looked at, since when a rule is, bytes of its name."""
_LONGEST = 400
_IDLE = -1


class Board:
    """Written by one worker, read by its parent. Seconds are those of `perf_counter`.

    A worker that hangs in compiled code, or ends itself, cannot say at what: so it is written down
    before. What is read while it is written may be torn; a worker that is late writes no more.
    """

    def __init__(self, context: BaseContext) -> None:
        self._memory = context.RawArray("B", _FORM.size + _LONGEST)
        self.rest()

    def rest(self) -> None:
        """Note that no file is looked at."""
        _FORM.pack_into(self._memory, 0, _IDLE, 0.0, 0.0, 0)

    def begin_file(self, number: int) -> None:
        """Note that the file of that number, from 0, is looked at from now on."""
        _FORM.pack_into(self._memory, 0, number, perf_counter(), 0.0, 0)

    def note_rule(self, name: str, since: float) -> None:
        """Note which rule is at work since when; an empty name is none."""
        data = name.encode("utf-8", "surrogateescape")[:_LONGEST]
        number, started, _, _ = _FORM.unpack_from(self._memory)
        _FORM.pack_into(self._memory, 0, number, started, since, len(data))
        self._memory[_FORM.size : _FORM.size + len(data)] = data

    @property
    def number(self) -> int | None:
        """The number of the file that is looked at, if one is."""
        number: int = _FORM.unpack_from(self._memory)[0]
        return None if number == _IDLE else number

    @property
    def rule(self) -> str:
        """The rule that is at work; empty if none is."""
        size: int = _FORM.unpack_from(self._memory)[3]
        start = _FORM.size
        return bytes(self._memory[start : start + size]).decode("utf-8", "surrogateescape")

    def late(self, limits: Limits) -> OutOfTime | None:
        """Return what has gone on for `GRACE` seconds longer than it may, if anything has."""
        number, started, since, _ = _FORM.unpack_from(self._memory)
        if number == _IDLE:
            return None
        return overdue(limits, perf_counter() - GRACE, started, self.rule, since)
