"""Name capture: whether the names of a template resolve at its place as its author meant."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from yellow_trellis.patterns import Match, Pattern
from yellow_trellis.semantics import Facts, Scope, facts_of
from yellow_trellis.source import Span


class NewNames(NamedTuple):
    """The names that a template has and the pattern it replaces does not."""

    built_in: frozenset[str]
    """Names of the language itself that it reads."""
    free: frozenset[str]
    """Other names that it reads: they are those of the module."""
    bound: frozenset[str]
    """Names that it binds in the scope around."""
    around: tuple[tuple[str, frozenset[str]], ...]
    """For holes inside a scope of the template's own: the names which that scope binds."""

    def may_clash(self, data: bytes) -> bool:
        """Return whether a file with the bytes `data` has any of the names at all."""
        names = (*self.built_in, *self.free, *self.bound)
        return bool(self.around) or any(name.encode("utf-8") in data for name in names)

    def __bool__(self) -> bool:
        return bool(self.built_in or self.free or self.bound or self.around)


@lru_cache(maxsize=4096)
def new_names(put: Pattern, find: Pattern) -> NewNames:
    """Compare the names of the template `put` with those of the pattern `find`."""
    if not put.language.references:
        return NewNames(frozenset(), frozenset(), frozenset(), ())
    entries = {name for scope in facts_of(find.tree).names.scopes for name in scope.symbols}
    span = Span(put.nodes[0].start, put.nodes[-1].end)
    model = facts_of(put.tree)
    names = model.names
    module = names.module
    stand_ins = {name: shape.hole.name for name, shape in put.stand_ins.items() if shape.hole}
    read, free, bound, around = set(), set(), set(), []
    for scope in names.scopes:
        for name in scope.symbols:
            owner = scope.owner(name)
            if name in stand_ins:
                capture = _bound_around(scope, module, stand_ins)
                if capture:
                    around.append((stand_ins[name], frozenset(capture)))
            elif not any(span.start <= start < span.end for start in _starts(scope, name)):
                continue  # of what the template stands in to be parsed
            elif module.binds(name):
                bound.add(name)
            elif owner is module and name in model.built_in_names:
                read.add(name)
            elif owner is module and name not in put.meant and name not in model.receiver_names:
                free.add(name)
    return NewNames(
        frozenset(read - entries),
        frozenset(free - entries),
        frozenset(bound - entries - set(put.meant)),
        tuple(around),
    )


def _starts(scope: Scope, name: str) -> Iterator[int]:
    return (start for start, _, _, _ in scope.symbols[name].places())


def _bound_around(scope: Scope, module: Scope, stand_ins: dict[str, str]) -> set[str]:
    """Return the names that the template's own scopes around a hole bind."""
    results: set[str] = set()
    inner: Scope | None = scope
    while inner is not None and inner is not module:
        if inner.kind != "class":
            results |= {name for name in inner.symbols if inner.binds(name)}
        inner = inner.parent
    return results - set(stand_ins)


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
            return f"`{name}` is not the built-in here: it is bound at {place}"
    for name in sorted(new.free):
        binding = facts.names.visible(name, scope)
        if binding is not None and binding.scope.parent is not None:
            place = binding.occurrences[0].place
            return f"`{name}` is no name of the module here: it is bound at {place}"
    for name in sorted(new.bound):
        place_ = _other_use(facts, scope, name, match.span)
        if place_:
            return f"`{name}` is taken here, at {place_}"
    for hole, names in new.around:
        for node in match.run_of(hole):
            for inner, name in _read_in(facts, node.span):
                if name in names and not _made_inside(inner.owner(name), node.span):
                    return f"what `@{{{hole}}}` took says `{name}`, which the new code binds"
    return ""


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


def _read_in(facts: Facts, span: Span) -> Iterator[tuple[Scope, str]]:
    for start, site in facts.names.sites.items():
        if span.start <= start < span.end:
            yield site


def _made_inside(scope: Scope, span: Span) -> bool:
    return span.start <= scope.start and scope.end <= span.end and scope.parent is not None
