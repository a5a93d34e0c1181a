"""Name capture: whether the names of a template resolve at its place as its author meant."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from yellow_trellis.patterns import Match, Pattern
from yellow_trellis.semantics import Facts, Scope, facts_of
from yellow_trellis.source import Span


class HoleNames(NamedTuple):
    """The names that scopes of a template, and its code at the top, bind where a hole stands."""

    hole: str
    captured: frozenset[str]
    """Names that scopes around any of its places bind."""
    kept: frozenset[str]
    """Names that are bound around each of its places, be it by code at the top."""
    binders: frozenset[str]
    """The holes that are bound there, such as one for a parameter."""


class NewNames(NamedTuple):
    """The names that a template has and the pattern it replaces does not."""

    built_in: frozenset[str]
    """Names of the language itself that it reads."""
    free: frozenset[str]
    """Other names that it reads: they are those of the module."""
    bound: frozenset[str]
    """Names that it binds in the scope around."""
    around: tuple[HoleNames, ...]
    """Of each hole, where scopes of the template or names that the pattern binds can matter."""
    was_bound: frozenset[str]
    """The holes of the pattern that it binds, such as one for a parameter."""
    kept: frozenset[str]
    """The holes of the template."""
    loses: bool = False
    """Whether the pattern binds a name that the template does not."""

    def may_clash(self, data: bytes) -> bool:
        """Return whether a file with the bytes `data` has any of the names at all."""
        names = (*self.built_in, *self.free, *self.bound)
        return bool(self.around) or any(name.encode("utf-8") in data for name in names)

    def __bool__(self) -> bool:
        return bool(self.built_in or self.free or self.bound or self.around)


_NONE = NewNames(frozenset(), frozenset(), frozenset(), (), frozenset(), frozenset())


@lru_cache(maxsize=4096)
def new_names(put: Pattern, find: Pattern) -> NewNames:
    """Compare the names of the template `put` with those of the pattern `find`."""
    if not put.language.references:
        return _NONE
    old = facts_of(find.tree).names
    entries = {name for scope in old.scopes for name in scope.symbols}
    span = Span(put.nodes[0].start, put.nodes[-1].end)
    model = facts_of(put.tree)
    names = model.names
    module = names.module
    stand_ins = _stand_ins(put)
    read, free, bound = set(), set(), set()
    places: defaultdict[str, list[set[str]]] = defaultdict(list)
    for scope in names.scopes:
        for name in scope.symbols:
            owner = scope.owner(name)
            if name in stand_ins:
                itself = {name} if scope.binds(name) else set()
                places[stand_ins[name]].append(_bound_around(scope, module) | itself)
            elif not any(span.start <= start < span.end for start in _starts(scope, name)):
                continue  # of what the template stands in to be parsed
            elif module.binds(name):
                bound.add(name)
            elif owner is module and name in model.built_in_names:
                read.add(name)
            elif owner is module and name not in put.meant and name not in model.receiver_names:
                free.add(name)
    context = [scope for scope in names.scopes if scope is module or _is_around(scope, span)]
    top = {name for scope in context for name in scope.symbols if scope.binds(name)}
    was_bound = _bound_holes(find)
    binds = was_bound or any(scope.binds(n) for scope in old.scopes for n in scope.symbols)
    around = [_names_at(hole, sets, top, stand_ins) for hole, sets in places.items()]
    return NewNames(
        frozenset(read - entries),
        frozenset(free - entries),
        frozenset(bound - entries - set(put.meant)),
        tuple(around) if binds or any(occurrence.captured for occurrence in around) else (),
        was_bound,
        put.open_keys.union(put.holes),
        bool(_bound_names(find) - _bound_names(put)),
    )


def _bound_names(pattern: Pattern) -> frozenset[str]:
    """Return the names that code of a pattern binds, those of its holes aside."""
    stand_ins = _stand_ins(pattern)
    return frozenset(
        name
        for scope in facts_of(pattern.tree).names.scopes
        for name in scope.symbols
        if name not in stand_ins and scope.binds(name)
    )


def binds_any(pattern: Pattern) -> bool:
    """Return whether code of a pattern binds a name, or what a hole takes."""
    if not pattern.language.references:
        return False
    return bool(_bound_names(pattern) or _bound_holes(pattern))


def _is_around(scope: Scope, span: Span) -> bool:
    """Return whether a scope holds a span and more: what a template stands in to be parsed."""
    inside = scope.start <= span.start and span.end <= scope.end
    return inside and (scope.start, scope.end) != (span.start, span.end)


def _stand_ins(pattern: Pattern) -> dict[str, str]:
    """Return the holes of a pattern by what stands for them in its tree."""
    shapes = pattern.stand_ins.items()
    return {name: shape.hole.name for name, shape in shapes if shape.hole is not None}


def _bound_holes(find: Pattern) -> frozenset[str]:
    """Return the holes that a pattern binds."""
    stand_ins = _stand_ins(find)
    return frozenset(
        stand_ins[name]
        for scope in facts_of(find.tree).names.scopes
        for name in scope.symbols
        if name in stand_ins and scope.binds(name)
    )


def _names_at(
    hole: str, places: list[set[str]], top: set[str], stand_ins: dict[str, str]
) -> HoleNames:
    everywhere = set.intersection(*places) | top
    bound = [{stand_ins[n] for n in (*names, *top) if n in stand_ins} for names in places]
    return HoleNames(
        hole,
        frozenset(set.union(*places) - set(stand_ins)),
        frozenset(everywhere - set(stand_ins)),
        frozenset(set.intersection(*bound)),  # one that stands twice may be bound in each place
    )


def _starts(scope: Scope, name: str) -> Iterator[int]:
    return (start for start, _, _, _ in scope.symbols[name].places())


def _bound_around(scope: Scope, module: Scope) -> set[str]:
    """Return the names that the template's own scopes around a hole bind."""
    results: set[str] = set()
    inner: Scope | None = scope
    while inner is not None and inner is not module:
        if inner.kind != "class":
            results |= {name for name in inner.symbols if inner.binds(name)}
        inner = inner.parent
    return results


def clash_in(put: Pattern, match: Match) -> str:
    """Return why a name of the template `put` would mean another thing where `match` is.

    Empty if each means what it says. Only what the pattern did not say already is asked about.
    """
    new = new_names(put, match.pattern)
    if not new or not new.may_clash(match.tree.source.data):
        return ""
    facts = facts_of(match.tree)
    scope = facts.names.scope_at(match.node)
    for name in sorted(new.built_in):
        binding = facts.names.visible(name, scope)
        if binding is not None:
            place = binding.occurrences[0].place
            return f"`{name}` is not the built-in here: it is bound at {place}; rename that first"
    for name in sorted(new.free):
        binding = facts.names.visible(name, scope)
        if binding is not None and binding.scope.parent is not None:
            place = binding.occurrences[0].place
            reason = f"`{name}` is no name of the module here: it is bound at {place}"
            return f"{reason}; rename that first"
    for name in sorted(new.bound):
        place_ = _other_use(facts, scope, name, match.span)
        if place_:
            return f"`{name}` is taken here, at {place_}; rename that first"
    for around in new.around:
        for node in match.run_of(around.hole):
            for inner, name in facts.names.sites_in(node.span):
                owner = inner.owner(name)
                if _made_inside(owner, node.span):
                    continue
                if reason := _lost_or_captured(facts, match, new, around, owner, name):
                    return f"what `@{{{around.hole}}}` took says `{name}`, which {reason}"
    return ""


def patched_in(match: Match) -> str:
    """Return why what a pattern means by a name is not what the program runs; empty if it is."""
    for name in sorted(name for name in match.pattern.meant.values() if "." in name):
        if by := facts_of(match.tree).patched(name):
            return f"`{name}` is patched: {by}; change that place first"
    return ""


def _lost_or_captured(
    facts: Facts, match: Match, new: NewNames, around: HoleNames, owner: Scope, name: str
) -> str:
    """Return why a name that a hole took means another thing in the new code; empty if it does not.

    Arguments: `owner` is the scope that binds the name.
    """
    places = [definition.span for definition in facts.names.bound(owner, name).definitions]
    made_here = _made_inside(owner, match.span) or (
        bool(places) and all(match.span.holds(place) for place in places)
    )
    if not made_here:
        return "the new code binds" if name in around.captured else ""
    if name in around.kept:
        return ""
    for hole in new.kept - (new.was_bound - around.binders):
        for node in match.taken(hole):
            if any(node.span.holds(place) for place in places):
                return ""
    return "the new code binds no more"


def _other_use(facts: Facts, scope: Scope, name: str, span: Span) -> str:
    """Return where `name` stands for what `scope` has or sees, outside of `span`."""
    for user in facts.names.scopes:
        if name not in user.symbols or not _is_or_inside(user, scope):
            continue
        owner = user.owner(name)
        if owner is not scope and _is_or_inside(owner, scope):
            continue
        for start in _starts(user, name):
            if not span.start <= start < span.end:
                return str(facts.tree.source.place(start))
    return ""


def _is_or_inside(scope: Scope, second: Scope) -> bool:
    above: Scope | None = scope
    while above is not None:
        if above is second:
            return True
        above = above.parent
    return False


def _made_inside(scope: Scope, span: Span) -> bool:
    return span.start <= scope.start and scope.end <= span.end and scope.parent is not None
