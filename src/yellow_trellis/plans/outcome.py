"""Outcomes of findings: exactly one state each, so that nothing is dropped in silence."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from yellow_trellis.findings.finding import Finding
from yellow_trellis.source import Place, Source

State = Literal["applied", "composed", "merged", "deferred", "refused", "left"]
STATES: tuple[State, ...] = ("applied", "composed", "merged", "deferred", "refused", "left")

WRITTEN: frozenset[State] = frozenset({"applied", "composed", "merged"})
"""The states of findings whose fix is in the text."""

FOR_REVIEW = "its fix asks for review"
"""The reason of a finding that is left although it has a fix."""

FOR_ASKING = "its rule is to be applied only when asked"
"""The reason of a finding whose rule fixes nothing unasked."""

DOUBT = "it is left to a person"
"""The reason of a finding that tells of a place which may have to change too."""

SKIPPED = "it was skipped"
"""The reason of a finding that is left because that was chosen."""


class Outcome(Struct):
    """A finding of one round and its end.

    `applied`: its fix is in the text, alone. `composed`: so is it, inside or around another.
    `merged`: another finding's identical fix serves it too. `deferred`: an earlier rule won, it is
    looked at again next round. `refused`: its fix fails the proof. `left`: it has no fix to apply.
    """

    finding: Finding
    state: State
    source: Source
    """The text of the round."""
    reason: str = ""
    by: str = ""
    """The rule that won, for a deferred one."""
    knock_on: bool = False
    """Whether the finding was caused by a fix of this run."""

    @property
    def place(self) -> Place:
        """The place of the finding in the text of its round: line and column from 1."""
        return self.source.place(self.finding.span.start)
