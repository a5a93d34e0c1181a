"""How a name meant by its dotted name is written at one place, and the import it takes."""

from __future__ import annotations

import builtins
from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple

from yellow_trellis.facts import Facts, Import, Scope, facts_of, relative_module
from yellow_trellis.syntax import Node

Where = Literal["module", "local", "types", "guarded"]
"""At the top of the file, in the function around, or in the block that only type checkers read; or
where no import can be put: the one that it comes for is done under a condition, or in a `try`."""

_BUILTINS = frozenset(dir(builtins))
_TYPES_ONLY = frozenset({"TYPE_CHECKING", "typing.TYPE_CHECKING", "t.TYPE_CHECKING"})


class Wanted(NamedTuple):
    """An import that new code needs: ``import module`` or ``from module import name``."""

    meaning: str
    """The dotted name of what it brings."""
    module: str
    """As written, dots of a relative import before it."""
    name: str | None = None
    alias: str | None = None
    where: Where = "module"

    @property
    def bound(self) -> str:
        """The name that it binds."""
        return self.alias or self.name or self.module.partition(".")[0]

    @property
    def item(self) -> str:
        """What stands for it in a list of names."""
        name = self.name or self.module
        return name if self.alias is None else f"{name} as {self.alias}"

    @property
    def statement(self) -> str:
        """The import statement."""
        if self.name is None:
            return f"import {self.item}"
        return f"from {self.module} import {self.item}"


def guarded(imports: Iterable[Wanted]) -> str:
    """Return why one of `imports` cannot be added; empty if all can."""
    for one in imports:
        if one.where == "guarded":
            return f"`{one.item}` would be imported without the guard of what it comes for"
    return ""


def spell(place: Node, name: str, old: Node | None = None) -> tuple[str, Wanted | None]:
    """Return how `name`, a dotted name, is written at `place`, and the import that it needs.

    Arguments: `old` is the code that refers to what it replaces: the new import is written in the
    manner of the one that brought the old name.
    """
    speller = _Speller(place, name, old)
    known = min(speller.known(), key=lambda text: (text.count("."), len(text)), default=None)
    if known is not None:
        return known, None
    return speller.added()


class _Speller:
    def __init__(self, place: Node, name: str, old: Node | None) -> None:
        self.place = place
        self.facts: Facts = facts_of(place.tree)
        self.names = self.facts.names
        self.scope = self.names.scope_at(place)
        self.target = self.facts.graph.resolve(name) or name
        self.old = old
        self.annotating = in_annotation(place if old is None else old)

    # ------------------------------------------------------------------ what is there

    def known(self) -> Iterator[str]:
        """Yield the ways in which the code at the place can say it already."""
        head, _, last = self.target.rpartition(".")
        if head == "builtins" and self.free(last):
            yield last
        own = self.facts.place.module + "."
        if self.target.startswith(own):
            inner = self.target[len(own) :]
            first = inner.partition(".")[0]
            binding = self.names.visible(first, self.scope)
            if "<" not in inner and binding is not None and binding.scope is self.names.module:
                yield inner
        for scope, one in self.names.imports:
            if one.name != "*" and self._usable(scope, one):
                yield from self._through(one, scope)

    def _usable(self, scope: Scope, one: Import) -> bool:
        """Tell whether an import is seen from the place, and done before it."""
        binding = self.names.visible(one.bound, self.scope)
        if binding is None or binding.scope is not scope:
            return False
        if scope is self.scope and one.statement.start > self.place.start:
            return False
        return self.annotating or not types_only(self._statement(one))

    def _through(self, one: Import, scope: Scope) -> Iterator[str]:
        graph = self.facts.graph
        if one.name is None and one.alias is None:
            module, spelled = one.module, one.module
        else:
            path = self.facts.paths.of_name(scope, one.bound)
            module = (graph.resolve(path) if path is not None else None) or ""
            spelled = one.bound
        if module == self.target:
            yield spelled
        elif module and self.target.startswith(module + "."):
            rest = self.target[len(module) + 1 :]
            if module == self._module()[0] or self._module()[0].count(".") < module.count("."):
                yield f"{spelled}.{rest}"

    def _statement(self, one: Import) -> Node:
        node = self.place.tree.leaf_at(*one.statement)
        assert node is not None
        return node

    def free(self, name: str) -> bool:
        """Tell whether `name` means nothing of this file at the place."""
        return self.names.visible(name, self.scope) is None

    # ------------------------------------------------------------------ what is added

    def _module(self) -> tuple[str, str]:
        """Split the target into the module to import from and what is taken from it.

        The code base knows its modules; of others, the last part is the name, or the last two
        where the one before it is written like a class.
        """
        parts = self.target.split(".")
        graph = self.facts.graph
        for count in range(len(parts) - 1, 0, -1):
            if graph.holds(".".join(parts[:count])):
                return ".".join(parts[:count]), ".".join(parts[count:])
        count = len(parts) - 1
        if count > 1 and parts[count - 1][:1].isupper():
            count -= 1
        return ".".join(parts[:count]), ".".join(parts[count:])

    def added(self) -> tuple[str, Wanted]:
        """Return the spelling with the import to add for it."""
        module, rest = self._module()
        brought = self._brought_by()
        if not module:  # a package at the top
            alias = self._alias(rest, "the")
            wanted = Wanted(rest, rest, alias=alias, where=self._where(brought))
            return wanted.bound, wanted
        first, _, more = rest.partition(".")
        more = "." + more if more else ""
        where = self._where(brought)
        if module == "builtins":
            return self.target, Wanted("builtins", "builtins", where=where)
        manner = self._manner(brought)
        if manner == "module" and self.facts.graph.holds(self.target):
            manner = "name"  # a module is taken out of its package as it is
        if manner == "dotted" and self._top_free(module):
            return f"{module}.{rest}", Wanted(module, module, where=where)
        if manner in ("module", "dotted") and "." in module:
            parent, _, leaf = module.rpartition(".")
            alias = self._alias(leaf, parent)
            wanted = Wanted(module, self._written(parent), leaf, alias, where)
            return f"{wanted.bound}.{rest}", wanted
        alias = self._alias(first, module)
        wanted = Wanted(f"{module}.{first}", self._written(module), first, alias, where)
        return wanted.bound + more, wanted

    def _brought_by(self) -> tuple[Scope, Import] | None:
        """Return the import through which the old name was reached."""
        node = self.old
        while node is not None and node.kind in ("attribute", "call"):
            node = node.items[0].bare
        binding = self.names.binding(node) if node is not None else None
        if binding is None:
            return None
        for one in binding.definitions:
            if (found := self.names.import_of(one)) is not None:
                return one.scope, found
        return None

    def _where(self, brought: tuple[Scope, Import] | None) -> Where:
        if brought is not None:
            scope, one = brought
            if scope.kind == "function":
                return "local"
            statement = self._statement(one)
            if self.annotating and types_only(statement):
                return "types"
            if statement.parent is not None and statement.parent.parent is not None:
                return "module" if types_only(statement) else "guarded"
        return "module"

    def _manner(self, brought: tuple[Scope, Import] | None) -> Literal["name", "module", "dotted"]:
        """Return how the file imports such things: by name, by module, by dotted module."""
        if brought is not None:
            return self._manner_of(brought[1])
        top = self.target.partition(".")[0]
        manners = [
            self._manner_of(one)
            for _, one in self.names.imports
            if (one.source(self.facts.place.package) or "").partition(".")[0] == top
        ]
        return max(set(manners), key=manners.count) if manners else "name"

    def _manner_of(self, one: Import) -> Literal["name", "module", "dotted"]:
        if one.name is None:
            return "dotted" if one.alias is None else "module"
        reached = self.old is not None and self.old.kind == "attribute"
        return "module" if reached and one.bound != self.target.rpartition(".")[2] else "name"

    def _top_free(self, module: str) -> bool:
        top = module.partition(".")[0]
        binding = self.names.visible(top, self.scope)
        if binding is None:
            return True
        path = self.facts.paths.of_name(binding.scope, top)
        return path is not None and self.facts.graph.resolve(path) == top

    def _alias(self, name: str, module: str) -> str | None:
        """Return another name where `name` is taken; None where it is not."""
        if self._untaken(name):
            return None
        stem = f"{module.rpartition('.')[2].strip('_')}_{name}"
        count, alias = 1, stem
        while not self._untaken(alias):
            count += 1
            alias = f"{stem}_{count}"
        return alias

    def _untaken(self, name: str) -> bool:
        module = self.names.module
        if not self.free(name) or self.names.binds(module, name):
            return False
        if name in _BUILTINS and name in module.users:
            return False
        # the new name must not come between an inner scope and what that means by it
        return not any(scope.owner(name) is not module for scope in module.users.get(name, ()))

    def _written(self, module: str) -> str:
        """Return the module as the file writes it: with dots where it imports its own so."""
        package = self.facts.place.package
        if not package or module.partition(".")[0] != package.partition(".")[0]:
            return module
        own = [one for _, one in self.names.imports if _own(one, package)]
        if not own or not all(one.level for one in own):
            return module
        return relative_module(module, package)


def _own(one: Import, package: str) -> bool:
    return bool(one.level) or one.module.partition(".")[0] == package.partition(".")[0]


def types_only(statement: Node) -> bool:
    """Tell whether a statement stands in a block that only type checkers read."""
    node = statement
    for above in statement.ancestors():
        if above.kind == "if_statement" and node.field == "consequence":
            condition = above.child("condition")
            if condition is not None and condition.text in _TYPES_ONLY:
                return True
        node = above
    return False


def in_annotation(node: Node) -> bool:
    """Tell whether code stands where only a type is meant."""
    return any(above.kind == "type" for above in (node, *node.ancestors()))
