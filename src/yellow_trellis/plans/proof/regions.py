"""Regions of a new text that fixes claim, nested as slices hold them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator

from msgspec import Struct, field

from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.proof.claims import Region, claims_of, regions_alone
from yellow_trellis.plans.render import Rendered
from yellow_trellis.source import Source, Span

Move = Callable[[Span, bool], Span]
"""Says where a span of a text is in a later one. The flag: replaced code takes along what was put
right around it, a slice that is kept does not."""


class KeptSlice(Struct, eq=False):
    """A slice of the original in the new text, and what other fixes do in it."""

    old: Span
    new: Span
    is_run: bool = False
    """Whether it is neighbours of whatever number, rather than one node."""
    inside: list[Replacement] = field(default_factory=list)


class Replacement(Struct, eq=False):
    """Code that fixes replace together: claims that meet elsewhere than in a slice are one."""

    old: Span
    new: Span
    fixes: set[int]
    kept: list[KeptSlice]
    replaces: bool = True
    """Whether something comes in the place of the code, and not only beside it."""
    claims: list[tuple[Span, list[Span]]] = field(default_factory=list)
    """What each of several claims is about, and the slices that it keeps."""

    def join(self, replacement: Replacement) -> None:
        """Take in another replacement that meets this one: what both keep stays."""
        claims = [*(self.claims or [self.claim]), *(replacement.claims or [replacement.claim])]
        self.old = Span(
            min(self.old.start, replacement.old.start), max(self.old.end, replacement.old.end)
        )
        self.new = Span(
            min(self.new.start, replacement.new.start), max(self.new.end, replacement.new.end)
        )
        self.fixes |= replacement.fixes
        self.replaces = self.replaces and replacement.replaces
        self.claims = claims
        slices = {(item.old, item.new): item for item in (*self.kept, *replacement.kept)}
        self.kept = [
            item
            for item in slices.values()
            if all(
                not claimed.crosses(item.old) or any(keep.holds(item.old) for keep in keeps)
                for claimed, keeps in claims
            )
        ]

    @property
    def claim(self) -> tuple[Span, list[Span]]:
        """The region that it is about, and the slices that it keeps."""
        return self.old, [item.old for item in self.kept]

    def moved(self, move: Move) -> Replacement:
        """Return the same in a later text."""
        remaining = [
            KeptSlice(
                item.old,
                move(item.new, False),
                item.is_run,
                [inner.moved(move) for inner in item.inside],
            )
            for item in self.kept
        ]
        new = move(self.new, True)
        return Replacement(self.old, new, self.fixes, remaining, self.replaces, self.claims)


def regions_of(chosen: list[Candidate], rendered: Rendered, source: Source) -> list[Region]:
    """Return the claims of the fixes `chosen` in the text that they make, in no order."""
    regions: list[Region] = []
    moved: defaultdict[int, list[tuple[Span, Span]]] = defaultdict(list)
    for number, old, new in rendered.moved:
        moved[number].append((old, new))
    for candidate in chosen:
        fix, number = candidate.fix, candidate.number
        if candidate.made is not None:
            regions += regions_alone(fix, number, source, rendered.moved_to) if fix.edits else ()
        else:
            regions += _together(candidate, rendered, moved[number])
    return regions


def _together(
    candidate: Candidate, rendered: Rendered, moved: list[tuple[Span, Span]]
) -> Iterator[Region]:
    """Yield the regions of a fix that meets others."""
    fix, number, marked = candidate.fix, candidate.number, rendered.marked
    for at, claim in enumerate(claims_of(fix)):
        label = (at, None)
        stays = [(old, new) for old in claim.stays for new in marked.get((number, (at, old)), ())]
        moves = [(old, new) for old, new in moved if old in claim.moves]
        for new in marked.get((number, label), ()):
            remaining = tuple(pair for pair in (*stays, *moves) if new.holds(pair[1]))
            yield Region(number, claim.span, new, remaining, claim.runs, claim.replaces)


def nested(regions: Iterable[Region]) -> list[Replacement]:
    """Return the outermost regions, each with those that lie in its slices, in the new order."""
    top: list[Replacement] = []
    open_: list[Replacement] = []
    for region in sorted(regions, key=_outer_first):
        remaining = [KeptSlice(old, new, old in region.runs) for old, new in region.kept]
        replacement = Replacement(region.old, region.new, {region.fix}, remaining, region.replaces)
        while open_ and not _meets(open_[-1].new, replacement.new):
            open_.pop()
        _nest(replacement, top, open_)
    return top


def _outer_first(region: Region) -> tuple[int, int, int, int]:
    return region.new.start, -region.new.end, region.old.start - region.old.end, region.fix


def _meets(span: Span, second: Span) -> bool:
    """Return whether two spans share a byte, or one is empty and lies in or beside the other."""
    if span.start < span.end and second.start < second.end:
        return span.start < second.end and second.start < span.end
    return span.start <= second.end and second.start <= span.end


def _nest(replacement: Replacement, top: list[Replacement], open_: list[Replacement]) -> None:
    """Put `replacement` into the innermost slice that holds it; merge it with what it meets."""
    if not open_:
        top.append(replacement)
        open_.append(replacement)
        return
    around = open_[-1]
    for remainder in around.kept:
        if remainder.new.holds(replacement.new) and remainder.old.holds(replacement.old):
            remainder.inside.append(replacement)
            open_.append(replacement)
            return
    if not around.new.crosses(replacement.new) and not around.old.crosses(replacement.old):
        beside = open_[:-1]
        _nest(replacement, top, beside)
        if replacement.new.start < replacement.new.end:  # what is empty is over, the other is not
            open_[:] = beside
        return
    around.join(replacement)
