"""The scopes of a file and the binding of each name in it, as all languages have them."""

from __future__ import annotations

from abc import ABC, abstractmethod
from bisect import bisect_left
from collections.abc import Callable, Iterator
from functools import cached_property

from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree


class Names(ABC):
    """The scopes and bindings of one file, worked out when first asked for and then kept."""

    def __init__(self, tree: Tree, read: Callable[[Tree], list[Scope]]) -> None:
        self.tree = tree
        self._read = read

    def release(self) -> None:
        """Cut the ties between the scopes; nothing here is of use after."""
        for scope in self.__dict__.get("scopes", ()):
            scope.release()
        self.__dict__.clear()

    @cached_property
    def scopes(self) -> list[Scope]:
        """All scopes, the module first."""
        return self._read(self.tree)

    @property
    def module(self) -> Scope:
        """The scope of the whole file."""
        return self.scopes[0]

    @cached_property
    def bindings(self) -> tuple[Binding, ...]:
        """All names that some scope of the file binds, in the order of the scopes."""
        bindings: list[Binding] = []
        for scope in self.scopes:
            for name in scope.users:
                if self.binds(scope, name):
                    bindings.append(self.bound(scope, name))
        return tuple(bindings)

    def binds(self, scope: Scope, name: str) -> bool:
        """Return whether `name` is bound in `scope`."""
        return scope.binds(name)

    @cached_property
    def _bound(self) -> dict[tuple[int, str], Binding]:
        return {}

    def bound(self, scope: Scope, name: str) -> Binding:
        """Return the binding of `name` in `scope`, the same object each time."""
        key = (id(scope), name)
        if key not in self._bound:
            self._bound[key] = Binding(scope, name)
        return self._bound[key]

    def sites_in(self, span: Span) -> Iterator[tuple[Scope, str]]:
        """Yield the scope and the name of each place in a span where a name stands."""
        starts = self._site_starts
        for at in range(bisect_left(starts, span.start), len(starts)):
            if starts[at] >= span.end:
                return
            yield self.sites[starts[at]]

    @cached_property
    def _site_starts(self) -> list[int]:
        return sorted(self.sites)

    @cached_property
    def sites(self) -> dict[int, tuple[Scope, str]]:
        """By first byte: the scope and name of each name in the file."""
        return {
            start: (scope, name)
            for scope in self.scopes
            for name, symbol in scope.symbols.items()
            for start, _, _, _ in symbol.places()
        }

    @abstractmethod
    def binding(self, node: Node) -> Binding | None:
        """Return what the name `node` refers to, or binds; None for what no code here binds.

        An attribute, a keyword of a call and other names that live in no scope have none.
        """

    @abstractmethod
    def scope_at(self, node: Node) -> Scope:
        """Return the scope in which the code `node` runs; of a definition, the one around it."""

    def visible(self, name: str, scope: Scope) -> Binding | None:
        """Return what `name` would refer to in `scope`; None if nothing in the file binds it."""
        owner = scope.owner(name)
        if self.binds(owner, name):
            return self.bound(owner, name)
        return None

    @cached_property
    def imports(self) -> tuple[tuple[Scope, Import], ...]:
        """All imports of the file with their scopes, in source order."""
        results = [(scope, item) for scope in self.scopes for item in scope.imports]
        return tuple(sorted(results, key=lambda pair: pair[1].item))

    def import_of(self, occurrence: Occurrence) -> Import | None:
        """Return the import that binds a name, if an import does."""
        start = occurrence.span.start
        return next((item for item in occurrence.scope.imports if item.bound_at == start), None)

    def item_of(self, imported: Import) -> Node:
        """Return the item of an import statement that stands for one name."""
        node = self.tree.leaf_at(*imported.item)
        assert node is not None
        return node.outermost
