"""What a rule found at one place, and the fixes it offers there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from yellow_trellis.fixes import Fix
from yellow_trellis.source import Span

Level = Literal["error", "warning", "note", "off"]
LEVELS: tuple[Level, ...] = ("error", "warning", "note", "off")


@dataclass(frozen=True, slots=True)
class Finding:
    """A rule, a place in bytes, a message, and no, one or several fixes to choose from."""

    rule: str
    level: Level
    span: Span
    message: str
    fixes: tuple[Fix, ...] = ()
    rank: int = 0
    """The place of the rule in its ruleset, from 0: the earlier rule wins a conflict."""

    def choice(self, with_review: bool) -> Fix | None:
        """Return the fix to apply: the first safe one, or the first one if review is waived."""
        for offered in self.fixes:
            if with_review or offered.safety == "safe":
                return offered
        return None
