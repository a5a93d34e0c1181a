"""A finding of a rule at one place, and the fixes it offers there."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import Literal, NamedTuple, Union

from yellow_trellis.fixes import Fix, Safety
from yellow_trellis.notebook_html import table
from yellow_trellis.patterns import Match
from yellow_trellis.patterns.match import holes_of
from yellow_trellis.source import Span

Level = Literal["error", "warning", "note", "off"]
LEVELS: tuple[Level, ...] = ("error", "warning", "note", "off")

Unasked = Literal["nothing", "safe", "all"]
"""Which fixes are applied without asking: none, those that keep behaviour, or all."""
UNASKED: tuple[Unasked, ...] = ("nothing", "safe", "all")


class LazyFix:
    """A fix that is only made when it is looked at: a survey of many findings makes few.

    Arguments: `may_fail` tells whether it may be refused in a file with some bytes, by itself; it
    may always be if left out.
    """

    def __init__(
        self,
        title: str,
        safety: Safety,
        make: Callable[[], Fix],
        may_fail: Callable[[bytes], bool] = lambda data: True,
    ) -> None:
        self.title = title
        self.safety = safety
        self.may_fail = may_fail
        self._make = make

    @cached_property
    def fix(self) -> Fix:
        """The fix itself."""
        return self._make()


OfferedFix = Union[Fix, LazyFix]


class Finding(NamedTuple):
    """A rule, a place in bytes, a message, and no, one or several fixes to choose from."""

    rule: str
    level: Level
    span: Span
    message: str
    fixes: tuple[OfferedFix, ...] = ()
    rank: int = 0
    """The place of the rule in its ruleset, from 0: the earlier rule wins a conflict."""
    match: Match | None = None
    """For a declared rule: the match that it is about."""
    left: str = ""
    """Why it is left alone, where a comment says so."""
    unasked: Unasked = "safe"
    """Which of its fixes are applied without asking."""
    lasts: bool = False
    """Whether it stands although a later round does not find it, as one that has no fix."""
    once: bool = False
    """Whether its fix is only for what was there when the run started."""

    def __repr__(self) -> str:
        start, end = self.span
        return f"<Finding {self.rule} {self.level} bytes {start}-{end} {self.message[:60]!r}>"

    def _repr_html_(self) -> str:
        place = f"bytes {self.span.start} to {self.span.end}"
        return table(
            ("rule", "level", "place", "message"), [(self.rule, self.level, place, self.message)]
        )

    @property
    def holes(self) -> list[tuple[str, str]]:
        """The code that each hole of a declared rule's pattern took, as written."""
        return [] if self.match is None else holes_of(self.match)

    @property
    def extent(self) -> Span:
        """The code that its fixes are about, as far as is known without making them."""
        results = [fix.extent for fix in self.fixes if isinstance(fix, Fix)]
        if not results:
            return self.span
        spans = [self.span, *results]
        return Span(min(s.start for s in spans), max(s.end for s in spans))

    def choice(self, with_review: bool) -> Fix | None:
        """Return the fix to apply: the first that is applied unasked, or the first of all."""
        unasked = "all" if with_review else self.unasked
        for number, offered in enumerate(self.fixes):
            if unasked == "all" or (unasked == offered.safety == "safe"):
                return self.fix_at(number)
        return None

    def fix_at(self, number: int) -> Fix:
        """Return one of the fixes, from 0, which may be only offered until somebody takes it."""
        offered = self.fixes[number]
        return offered if isinstance(offered, Fix) else offered.fix
