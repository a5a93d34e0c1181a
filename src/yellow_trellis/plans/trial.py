"""A trial of two rules on one file, as a report has it."""

from __future__ import annotations

from typing import Literal, NamedTuple

from yellow_trellis.source import Place

TrialKind = Literal["order matters", "feeds", "undoes", "unfinished"]

TOLD: dict[TrialKind, str] = {
    "order matters": "one after the other gives another text than the other way round",
    "feeds": "what the first writes is found by the second",
    "undoes": "the second brings back what the first replaced",
    "unfinished": "one go over its own output finds more",
}


class Trial(NamedTuple):
    """Something that was seen by applying `first`, then `second` (or the other way round)."""

    kind: TrialKind
    first: str
    second: str
    place: Place
    code: str
    """The code at the place, as it was."""
