"""The names of a file in a language with block scopes."""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property

from yellow_trellis.semantics.lexical.scope_reader import LexicalScope
from yellow_trellis.semantics.names import Names
from yellow_trellis.semantics.scope import Binding, Scope, Use
from yellow_trellis.syntax import Node


class LexicalNames(Names):
    """The scopes and bindings of one file."""

    def binding(self, node: Node) -> Binding | None:
        """Return what the name `node` refers to, or binds; None for what no code here binds."""
        site = self.sites.get(node.start)
        if site is None:
            return None
        scope, name = site
        use = self.use_at(node)
        if use is None:
            return None
        if use == "bind":
            return self.bound(scope, name)
        owner = scope.owner(name, use)
        assert isinstance(owner, LexicalScope)
        return self.bound(owner, name) if owner.gives(name, use) else None

    def use_at(self, node: Node) -> Use | None:
        """Return what the name `node` does; None for what is no name of a scope."""
        site = self.sites.get(node.start)
        if site is None:
            return None
        places = site[0].symbols[site[1]].places()
        return next((use for start, end, use, _ in places if (start, end) == node.span), None)

    def scope_at(self, node: Node) -> Scope:
        """Return the scope in which the code `node` runs; of a definition, the one around it."""
        if (site := self.sites.get(node.start)) is not None and not node.children:
            return site[0]
        at = bisect_right(self._starts, node.start) - 1
        scope: Scope | None = self._by_start[at]
        while scope is not None and scope.parent is not None:
            if scope.start <= node.start and node.end <= scope.end:
                if (scope.start, scope.end) != node.span:
                    return scope
            scope = scope.parent
        return self.module

    @cached_property
    def _by_start(self) -> list[Scope]:
        return sorted(self.scopes, key=lambda scope: (scope.start, -scope.end))

    @cached_property
    def _starts(self) -> list[int]:
        return [scope.start for scope in self._by_start]
