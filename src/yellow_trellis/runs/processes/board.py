"""Shared memory in which a worker notes its progress for the process that watches it."""

from __future__ import annotations

import struct
from time import perf_counter
from typing import NamedTuple

from yellow_trellis.findings.timing import OutOfTime
from yellow_trellis.runs.processes.child import Start
from yellow_trellis.runs.processes.deadlines import GRACE, overdue
from yellow_trellis.runs.run_options import Limits

_VERSION = struct.Struct("=Q")
"""Counts what is written: odd while somebody writes."""
_FORM = struct.Struct("=iddH")
"""The number of the file, since when it is looked at, since when a rule is, bytes of its name."""
_LONGEST = 400
_IDLE = -1


class _State(NamedTuple):
    """The last state that was written."""

    number: int
    started: float
    since: float
    rule: str


class Board:
    """Written by one worker, read by its parent. Seconds are those of `perf_counter`.

    A worker that hangs in compiled code, or ends itself, cannot say at what: so it is written down
    before. The memory is a sequence lock: what is read while it is written is not believed.
    """

    def __init__(self, start: Start) -> None:
        import multiprocessing

        context = multiprocessing.get_context(start)
        self._memory = context.RawArray("B", _VERSION.size + _FORM.size + _LONGEST)
        self._version = 0
        self.rest()

    def rest(self) -> None:
        """Note that no file is looked at."""
        self._write(_State(_IDLE, 0.0, 0.0, ""))

    def begin_file(self, number: int) -> None:
        """Note that the file of that number, from 0, is looked at from now on."""
        self._write(_State(number, perf_counter(), 0.0, ""))

    def note_rule(self, name: str, since: float) -> None:
        """Note which rule is at work since when; an empty name is none."""
        self._write(self._state._replace(since=since, rule=name))

    def _write(self, state: _State) -> None:
        data = state.rule.encode("utf-8", "surrogateescape")[:_LONGEST]
        start = _VERSION.size
        _VERSION.pack_into(self._memory, 0, self._version + 1)
        _FORM.pack_into(self._memory, start, *state[:3], len(data))
        start += _FORM.size
        self._memory[start : start + len(data)] = data
        self._version += 2
        _VERSION.pack_into(self._memory, 0, self._version)
        self._state = state

    def _read(self) -> _State | None:
        """Return what was written last; None while it is being written."""
        before = bytes(self._memory)
        if _VERSION.unpack_from(before)[0] % 2 or before != bytes(self._memory):
            return None
        number, started, since, size = _FORM.unpack_from(before, _VERSION.size)
        start = _VERSION.size + _FORM.size
        name = before[start : start + size].decode("utf-8", "surrogateescape")
        return _State(number, started, since, name)

    @property
    def number(self) -> int | None:
        """The number of the file that is looked at, if one is."""
        state = self._read()
        return None if state is None or state.number == _IDLE else state.number

    @property
    def rule(self) -> str:
        """The rule that is at work; empty if none is."""
        state = self._read()
        return "" if state is None else state.rule

    def late(self, limits: Limits) -> OutOfTime | None:
        """Return what has gone on for `GRACE` seconds longer than it may, if anything has."""
        state = self._read()
        if state is None or state.number == _IDLE:
            return None
        return overdue(limits, perf_counter() - GRACE, state.started, state.rule, state.since)
