"""Names that fixes take the binding from, while code elsewhere still says them.

`y = 1` that becomes `z = 1` is right by its tree, and so is a definition that goes; but what is
left of the file would raise, or mean another `y` further out. Only names that are bound in what a
fix writes over are asked about, once all fixes of the text are in it: one rule may rename the
definition, and another one the uses.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from itertools import accumulate
from typing import NamedTuple

from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.proof.claims import Region
from yellow_trellis.plans.proof.structure import is_expression
from yellow_trellis.semantics import facts_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


def bound_in(tree: Tree, candidate: Candidate) -> frozenset[str]:
    """Return the names that code outside of a fix may say, and what it writes over binds."""
    fix = candidate.fix
    binds_inside = tree.language.inner_binding.search(tree.source.data, *fix.extent)
    if not tree.language.references or (is_expression(tree, fix.extent) and not binds_inside):
        return frozenset()
    names = facts_of(tree).names
    results: set[str] = set()
    for edit in fix.edits:
        for scope, name in names.sites_in(edit.span) if not edit.inserts else ():
            owner = scope.owner(name)
            is_inside = owner.parent is not None and edit.span.holds(Span(owner.start, owner.end))
            if not is_inside and names.binds(owner, name) and name not in results:
                places = (one.span for one in names.bound(owner, name).definitions)
                if any(edit.span.holds(place) for place in places):
                    results.add(name)
    return frozenset(results)


def lost_name(before: Tree, after: Tree, names: frozenset[str], regions: Sequence[Region]) -> str:
    """Return one of `names` that stands in code which no longer means what it meant; else nothing.

    That is one that nothing binds any more, or only the module, where an inner scope did.
    Arguments: `regions` are where fixes have written; what they keep is asked about.
    """
    old, new = _Uses(before, names), _Uses(after, names)
    for name in sorted(names):
        if new.unbound[name] > old.unbound[name]:
            return name
    places = _Spans(region.old for region in regions), _Spans(region.new for region in regions)
    whole = Span(0, len(before.source.data)), Span(0, len(after.source.data))
    kept = (pair for region in regions for pair in region.kept)
    for span, span_after in (whole, *kept):
        uses = places[0].without(old.within(span), span)
        uses_after = places[1].without(new.within(span_after), span_after)
        if [use.name for use in uses] == [use.name for use in uses_after]:  # else it was moved
            for use, use_after in zip(uses, uses_after, strict=True):
                if use.where != use_after.where != "inside":
                    return use.name
    return ""


class _Use(NamedTuple):
    """A place that uses a name, and where that is bound: inside, in the module, or nowhere."""

    start: int
    name: str
    where: str


class _Uses:
    """The uses of some names in a tree."""

    def __init__(self, tree: Tree, names: frozenset[str]) -> None:
        self._uses = sorted(_uses(tree, names))
        self._starts = [use.start for use in self._uses]

    @property
    def unbound(self) -> Counter[str]:
        """Return how often each name is used where nothing binds it."""
        return Counter(use.name for use in self._uses if use.where == "nowhere")

    def within(self, span: Span) -> list[_Use]:
        """Return the uses in a span, in source order."""
        first, last = (bisect_left(self._starts, at) for at in span)
        return self._uses[first:last]


class _Spans:
    """Spans that may lie in each other."""

    def __init__(self, spans: Iterable[Span]) -> None:
        self._spans = sorted(spans)

    def without(self, uses: list[_Use], around: Span) -> list[_Use]:
        """Return those of the uses in `around` that lie in none of the spans inside of it."""
        if not uses:
            return uses
        first, last = (bisect_left(self._spans, (at,)) for at in around)
        inner = [s for s in self._spans[first:last] if around.holds(s) and s != around]
        starts = [span.start for span in inner]
        ends = list(accumulate((span.end for span in inner), max))
        return [
            use
            for use in uses
            if not ((at := bisect_right(starts, use.start)) and ends[at - 1] > use.start)
        ]


def _uses(tree: Tree, names: frozenset[str]) -> Iterator[_Use]:
    """Yield the uses of `names`, scope by scope."""
    model = facts_of(tree).names
    for scope in model.scopes:
        for name in names.intersection(scope.symbols):
            owner = scope.owner(name)
            where = "nowhere"
            if model.binds(owner, name):
                where = "module" if owner is model.module else "inside"
            for start, _, use, _ in scope.symbols[name].places():
                if use != "bind":
                    yield _Use(start, name, where)
