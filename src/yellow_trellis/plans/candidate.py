"""A finding whose fix is asked for."""

from __future__ import annotations

from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes import Fix
from yellow_trellis.plans.write_op import Primitive, edges, moved, primitives
from yellow_trellis.source import Span


class Candidate:
    """A finding whose fix is asked for, with what that fix writes.

    What only matters where fixes meet is worked out when it is asked for.
    """

    __slots__ = ("_edges", "_moves", "_writes", "finding", "fix", "made", "number", "twins")

    def __init__(
        self, finding: Finding, fix: Fix, number: int, results: tuple[int, int, bytes] | None
    ) -> None:
        self.finding = finding
        self.fix = fix
        self.number = number
        self.made = results
        """For a fix that meets no other: the span that it replaces, and by what."""
        self.twins: list[Finding] = []
        """Findings whose fix is the very same."""
        self._writes: list[Primitive] | None = None
        self._edges: list[Primitive] | None = None
        self._moves: tuple[Span, ...] | None = None

    @property
    def writes(self) -> list[Primitive]:
        """The write operations of the fix."""
        if self._writes is None:
            self._writes = primitives(self.fix, self.number)
        return self._writes

    @property
    def edges(self) -> list[Primitive]:
        """The edges of its extent, of what it claims and of the slices that it keeps."""
        if self._edges is None:
            self._edges = edges(self.fix, self.number)
        return self._edges

    @property
    def moves(self) -> tuple[Span, ...]:
        """The slices that it puts elsewhere."""
        if self._moves is None:
            self._moves = moved(self.writes)
        return self._moves
