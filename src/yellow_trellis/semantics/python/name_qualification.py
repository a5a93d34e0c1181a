"""The spelling of a dotted name at one place, and the import that it requires."""

from __future__ import annotations

import builtins
from collections.abc import Iterator
from typing import Literal

from yellow_trellis.schema import near
from yellow_trellis.semantics import (
    Binding,
    Import,
    ImportForm,
    RequiredImport,
    Scope,
    relative_module,
    types_only,
)
from yellow_trellis.semantics.python.code_base.loading import (
    circle_of,
    order_of,
    rests_while_loading,
)
from yellow_trellis.semantics.python.semantic_model import PythonFacts, facts_of
from yellow_trellis.semantics.required_import import ImportPlacement
from yellow_trellis.syntax import Node

_BUILTINS = frozenset(dir(builtins))


def missing(facts: PythonFacts, module: str, name: str) -> str:
    """Return why `name` cannot be imported from `module`; empty if it may be there."""
    summary = facts.graph.summary(module) if facts.graph.holds(module) else None
    if summary is None or summary.may_have(name) or facts.graph.holds(f"{module}.{name}"):
        return ""
    like = near(name, summary.names)
    return f"`{module}` has no `{name}`" + (f": did you mean `{like}`?" if like else "")


def closes_circle(facts: PythonFacts, module: str) -> str:
    """Return why `module` cannot be imported at the top of the file; empty if it can."""
    if not facts.graph.holds(module):
        return ""
    return circle_of(facts.graph, facts.place.module, module)


def spell(
    place: Node, name: str, old: Node | None = None, is_called: bool = False
) -> tuple[str, RequiredImport | None]:
    """Return how `name`, a dotted name, is written at `place`, and the import that it needs.

    Arguments: `old` is the code that refers to what it replaces: the new import is written in the
    manner of the one that brought the old name.
    """
    speller = _Speller(place, name, old)
    entry = min(speller.known(), key=lambda text: (text.count("."), len(text)), default=None)
    if entry is None:
        return speller.added()
    head, _, last = speller.target.rpartition(".")
    if head and (fault := missing(speller.facts, head, last)):
        return entry, RequiredImport(name, name, fault=fault)
    if speller.is_inside():
        fault = f"`{entry}` would be called by itself"
        return entry, RequiredImport(name, name, fault=fault)
    return entry, None


class _Speller:
    def __init__(self, place: Node, name: str, old: Node | None) -> None:
        self.place = place
        self.facts: PythonFacts = facts_of(place.tree)
        self.names = self.facts.names
        self.scope = self.names.scope_at(place)
        self.said = name
        """The name as it was asked for, which may be that of a re-export."""
        self.target = self.facts.graph.resolve(name) or name
        self.old = old
        self.annotating = in_annotation(place if old is None else old)
        self.brought = self._brought_by()
        """The import through which the old name is reached, if one is, with its scope."""

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
                if self._is_bound_by_now(binding):
                    yield inner
        for scope, item in self.names.imports:
            if item.name != "*" and self._usable(scope, item):
                yield from self._through(item, scope)
        module = self.names.module
        if not self.names.binds(module, last) and self.free(last) and "<" not in last:
            stars = [item for item in module.imports if item.name == "*"]
            if stars and all(map(self._is_done, stars)):
                brought = self.facts.graph.resolve(f"{self.facts.place.module}:*.{last}")
                if brought == self.target:
                    yield last

    def _is_done(self, star: Import) -> bool:
        """Return whether a star import has brought all that it brings when the place is run."""
        source = star.source(self.facts.place.package) or ""
        return self._comes_first(self._statement(star)) and not closes_circle(self.facts, source)

    def is_inside(self) -> bool:
        """Return whether the place is in the body of what it is to name."""
        scope: Scope | None = self.scope
        while scope is not None:
            if scope.kind == "function" and self.facts.graph.same(
                self.facts.paths.of_scope(scope), self.target
            ):
                return True
            scope = scope.parent
        return False

    def _usable(self, scope: Scope, item: Import) -> bool:
        """Return whether an import is seen from the place, and done before it."""
        binding = self.names.visible(item.bound, self.scope)
        if binding is None or binding.scope is not scope:
            return False
        statement = self._statement(item)
        if self.annotating and types_only(statement):
            return True
        return self._comes_first(statement)

    def _is_bound_by_now(self, binding: Binding) -> bool:
        """Return whether a name of the module is bound when the place is run.

        A function may run as soon as code behind it does more than define.
        """
        items = self.place.tree.root.items
        own = next((n for n, item in enumerate(items) if item.end > self.place.start), 0)
        starts = [definition.span.start for definition in binding.definitions]
        first = next((n for n, item in enumerate(items) if item.end > min(starts, default=0)), 0)
        if first < own:
            return True
        between = items[own + 1 : first]
        return self.scope is not self.names.module and not any(map(_may_run, between))

    def _comes_first(self, statement: Node) -> bool:
        """Return whether a statement is done before the place is run, on all ways to it.

        It is where the body that it stands in is around the place, with the statement in front; or
        where it stands in front of the import that brought the old name, in the same body.
        """
        body = statement.parent
        inner = self.place
        for above in self.place.ancestors():
            if above is body or (body is not None and above.span == body.span):
                if statement.start < inner.start:
                    return True
                break
            inner = above
        if self.brought is None:
            return False
        old = self._statement(self.brought[1])
        return old.parent is body and statement.start <= old.start

    def _through(self, item: Import, scope: Scope) -> Iterator[str]:
        graph = self.facts.graph
        if item.name is None and item.alias is None:
            if self._is_begun(item.module):
                return
            module, spelled = item.module, item.module
        else:
            path = self.facts.paths.of_name(scope, item.bound)
            module = (graph.resolve(path) if path is not None else None) or ""
            spelled = item.bound
        if module == self.target:
            yield spelled
        elif module and not self._is_whole(module):
            return
        elif module and self.target.startswith(module + "."):
            tail = self.target[len(module) + 1 :]
            if module == self._module()[0] or self._module()[0].count(".") < module.count("."):
                yield f"{spelled}.{tail}"

    def _is_whole(self, module: str) -> bool:
        """Return whether all of a module is there when the place is run."""
        graph = self.facts.graph
        here = self.facts.place.module
        if not graph.holds(module) or not circle_of(graph, here, module):
            return True
        return self._may_wait(module)

    def _statement(self, item: Import) -> Node:
        node = self.place.tree.leaf_at(*item.statement)
        assert node is not None
        return node

    def free(self, name: str) -> bool:
        """Return whether `name` means nothing of this file at the place."""
        return self.names.visible(name, self.scope) is None

    # ------------------------------------------------------------------ what is added

    def _module(self) -> tuple[str, str]:
        """Split the target into the module to import from and what is taken from it.

        The code base knows its modules; of others, the last part is the name, or the last two
        where the one before it is written like a class.
        """
        parts = self.said.split(".")
        graph = self.facts.graph
        for count in range(len(parts) - 1, 0, -1):
            if graph.holds(".".join(parts[:count])):
                return ".".join(parts[:count]), ".".join(parts[count:])
        count = len(parts) - 1
        if count > 1 and parts[count - 1][:1].isupper():
            count -= 1
        return ".".join(parts[:count]), ".".join(parts[count:])

    def added(self) -> tuple[str, RequiredImport]:
        """Return the spelling with the import to add for it."""
        text, target = self._added()
        where, beside = self._where()
        fault = self._fault()
        if not fault and where == "module":
            module, tail = self._module()
            fault = closes_circle(self.facts, module or tail)
            # what it binds would be a name of the whole function, also where another is read
            if fault and self.free(target.bound) and self._may_wait(module or tail):
                where, beside, fault = "local", None, ""
        if not fault and where == "local":
            module, tail = self._module()
            fault = order_of(self.facts.graph, self.facts.place.module, module or tail)
        return text, target._replace(where=where, beside=beside, fault=fault)

    def _may_wait(self, module: str) -> bool:
        """Return whether a module can be imported by the function around, when that is called."""
        scope: Scope | None = self.scope
        while scope is not None and scope.kind != "function":
            scope = scope.parent
        here = self.facts.place.module
        return scope is not None and rests_while_loading(self.facts.graph, here, module)

    def _added(self) -> tuple[str, RequiredImport]:
        module, tail = self._module()
        if not module:  # a package at the top
            required_import = RequiredImport(tail, tail, alias=self._alias(tail, "the"))
            return required_import.bound, required_import
        first, _, extra = tail.partition(".")
        extra = "." + extra if extra else ""
        if module == "builtins":
            return self.target, RequiredImport("builtins", "builtins")
        manner = self._manner()
        if manner == "module" and self.facts.graph.holds(self.target):
            manner = "name"  # a module is taken out of its package as it is
        if manner == "dotted" and self._is_begun(module):
            manner = "name"
        if manner == "dotted" and self._top_free(module):
            return f"{module}.{tail}", RequiredImport(module, module)
        if manner in ("module", "dotted") and "." in module:
            parent, _, leaf = module.rpartition(".")
            alias = self._alias(leaf, parent)
            required_import = RequiredImport(module, self._module_text(parent), leaf, alias)
            return f"{required_import.bound}.{tail}", required_import
        alias = self._alias(first, module)
        required_import = RequiredImport(
            f"{module}.{first}", self._module_text(module), first, alias
        )
        return required_import.bound + extra, required_import

    def _brought_by(self) -> tuple[Scope, Import] | None:
        """Return the import through which the old name was reached."""
        node = self.old
        while node is not None and node.kind in ("attribute", "call"):
            node = node.items[0].bare
        binding = self.names.binding(node) if node is not None else None
        if binding is None:
            return None
        for definition in binding.definitions:
            if (result := self.names.import_of(definition)) is not None:
                return definition.scope, result
        return None

    def _where(self) -> tuple[ImportPlacement, ImportForm | None]:
        if self.brought is None:
            return "module", None
        scope, item = self.brought
        statement = self._statement(item)
        if types_only(statement):
            return ("types" if self.annotating else "module"), None
        where: ImportPlacement = "local" if scope.kind == "function" else "module"
        return where, ImportForm.of(item)

    def _fault(self) -> str:
        """Return why no import can be added, wherever it would go; empty if one can."""
        if self.brought is not None and (fault := self._fallback(*self.brought)):
            return fault
        module, tail = self._module()
        if module and module == self.facts.place.module:
            return f"`{tail}` of this module may not be bound by then"
        return missing(self.facts, module, tail.partition(".")[0])

    def _fallback(self, scope: Scope, item: Import) -> str:
        """Return why no import can stand in for one that is done under a condition."""
        statement = self._statement(item)
        binding = self.names.visible(item.bound, scope)
        others = binding.definitions if binding is not None else ()
        if len(others) > 1 and not self._is_plain(statement):
            last = others[-1].place
            return f"the import of `{item.bound}` is guarded: it is bound at {last} as well"
        return ""

    @staticmethod
    def _is_plain(statement: Node) -> bool:
        """Return whether a statement stands in the body of a module, class or function itself."""
        body = statement.parent
        holder = body.parent if body is not None else None
        return holder is None or holder.kind in ("function_definition", "class_definition")

    def _manner(self) -> Literal["name", "module", "dotted"]:
        """Return how the file imports such things: by name, by module, by dotted module."""
        if self.brought is not None:
            return self._manner_of(self.brought[1])
        top = self.target.partition(".")[0]
        manners = [
            self._manner_of(item)
            for _, item in self.names.imports
            if (item.source(self.facts.place.package) or "").partition(".")[0] == top
        ]
        return max(manners, key=manners.count) if manners else "name"

    def _manner_of(self, item: Import) -> Literal["name", "module", "dotted"]:
        if item.name is None:
            return "dotted" if item.alias is None else "module"
        reached = self.old is not None and self.old.kind == "attribute"
        return "module" if reached and item.bound != self.target.rpartition(".")[2] else "name"

    def _is_begun(self, module: str) -> bool:
        """Return whether a module is reached through this one, which its package lacks yet."""
        here = self.facts.place.module
        return "." in here and (module == here or module.startswith(here + "."))

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
        if self._is_starred(name) or self.facts.hides_elsewhere(name):
            return False
        # the new name must not come between an inner scope and what that means by it
        return not any(scope.owner(name) is not module for scope in module.users.get(name, ()))

    def _is_starred(self, name: str) -> bool:
        """Return whether a star import brings `name`, or may bring it and something reads it."""
        module = self.names.module
        stars = [item for item in module.imports if item.name == "*"]
        if not stars:
            return False
        graph = self.facts.graph
        if all(graph.holds(star.source(self.facts.place.package) or "") for star in stars):
            brought = graph.resolve(f"{self.facts.place.module}:*.{name}")
            return brought is not None and not brought.startswith("builtins.")
        return name in module.users

    def _module_text(self, module: str) -> str:
        """Return the module as the file writes it: with dots where it imports its own so."""
        package = self.facts.place.package
        if not package or module.partition(".")[0] != package.partition(".")[0]:
            return module
        own = [item for _, item in self.names.imports if _own(item, package)]
        if not own or not all(item.level for item in own):
            return module
        return relative_module(module, package)


def _own(item: Import, package: str) -> bool:
    return bool(item.level) or item.module.partition(".")[0] == package.partition(".")[0]


def _may_run(statement: Node) -> bool:
    """Return whether a statement at the top of a module may call what the module defines."""
    core = statement.core
    if core.kind in ("function_definition", "class_definition", "decorated_definition"):
        return False
    return any(node.kind == "call" for node in statement.walk())


def in_annotation(node: Node) -> bool:
    """Return whether code stands where only a type is meant."""
    return any(above.kind == "type" for above in (node, *node.ancestors()))
