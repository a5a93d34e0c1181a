"""A conflict, with its name, both parties and both places."""

from __future__ import annotations

from typing import Literal, NamedTuple

from yellow_trellis.notebook_html import table
from yellow_trellis.source import Place, Span

Kind = Literal[
    "overlap",
    "lost work",
    "tie",
    "name clash",
    "comment loss",
    "broken syntax",
    "wrong shape",
    "see-saw",
]

EXPLAINED: dict[Kind, str] = {
    "overlap": "both want the same code",
    "lost work": "one drops what the other edits",
    "tie": "both insert at one point and no order is given",
    "name clash": "new code would bind or reach another thing than meant",
    "comment loss": "a comment would have nowhere to go",
    "broken syntax": "the new text does not parse",
    "wrong shape": "the new text parses into another tree than the template says",
    "see-saw": "the rounds return to an earlier text",
}

WAYS_OUT: dict[Kind, str] = {
    "name clash": "rename it with all of its uses, as `fix.rename` does",
    "comment loss": "move the comment, or let the rule lose it by `drops_comments`",
    "broken syntax": "leave such code out by a condition of the rule",
    "wrong shape": "leave such code out by a condition of the rule",
}
"""What helps a fix that fails the proof, where nothing better is known."""


class ConflictSide(NamedTuple):
    """One side of a conflict: the rule, the fix, and the bytes it wanted to write."""

    rule: str
    title: str
    span: Span
    start: Place
    end: Place
    code: str
    """The code that was there."""
    wanted: str = ""
    """What the fix alone would have made of it."""


class Conflict(NamedTuple):
    """Two fixes that cannot both be applied, or one that failed the proof (`other` is None)."""

    kind: Kind
    party: ConflictSide
    """The one that wins, or the only one."""
    other: ConflictSide | None = None
    """The one that yields."""
    reason: str = ""

    def _repr_html_(self) -> str:
        sides = [side for side in (self.party, self.other) if side is not None]
        rows = [(self.kind, side.rule, side.start, side.code, side.wanted) for side in sides]
        return table(("conflict", "rule", "place", "code", "wanted"), rows)

    @property
    def explained(self) -> str:
        """The conflict in words."""
        return self.reason or EXPLAINED[self.kind]
