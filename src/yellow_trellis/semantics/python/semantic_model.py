"""The semantic model of one file: computed when first asked for, and then kept."""

from __future__ import annotations

import builtins
from collections.abc import Iterator
from functools import cached_property

from yellow_trellis import semantics
from yellow_trellis.semantics import Binding, Occurrence
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.module_interface import Summary
from yellow_trellis.semantics.python import name_usage
from yellow_trellis.semantics.python.code_base.loading import (
    beyond,
    holds_order,
    loaded_with,
    ready_for,
)
from yellow_trellis.semantics.python.interface_builder import summarize
from yellow_trellis.semantics.python.name_resolution import PythonNames
from yellow_trellis.semantics.python.type_inference import TypeInference
from yellow_trellis.semantics.scope import Scope
from yellow_trellis.semantics.semantic_model import Facts, UnusedImport
from yellow_trellis.syntax import Node, Tree


def model_of(tree: Tree) -> PythonFacts:
    """Return the semantic model of a tree of Python."""
    return PythonFacts(tree)


def facts_of(tree: Tree) -> PythonFacts:
    """Return the semantic model of a tree of Python, the same object each time."""
    result = semantics.facts_of(tree)
    assert isinstance(result, PythonFacts)
    return result


class PythonFacts(Facts):
    """The scopes of one file, its bindings, and what its names mean in the code base."""

    built_in_names = frozenset(dir(builtins))
    receiver_names = frozenset({"self", "cls"})
    """Names that mean what the method around them says: a template that reads one means that."""

    @cached_property
    def names(self) -> PythonNames:
        """The scopes and bindings of the file."""
        return PythonNames(self.tree)

    @cached_property
    def summary(self) -> Summary:
        """The interface of the file."""
        return summarize(self.paths)

    @cached_property
    def paths(self) -> TypeInference:
        """The inference of what expressions of the file are, by definitions and imports."""
        return TypeInference(self.names, self.place.module, self.place.package)

    def meaning(self, node: Node) -> str | None:
        """Return the dotted name under which what `node` names is defined.

        A name or attribute is followed through imports, aliases and re-exports; a method through
        its receiver. None where that is not certain.
        """
        path = self.paths.of(node)
        if path is None or self._is_hidden(node):
            return None
        return self.graph.resolve(path)

    def type_of(self, node: Node) -> str | None:
        """Return the dotted name of the class that the value of `node` is an instance of."""
        path = self.paths.of(node)
        return None if path is None else self.graph.type_of(path)

    def receiver_of(self, node: Node, name: str) -> Node | str | None:
        """Return the receiver that stays where `node` is replaced by the member `name`."""
        node = node.bare
        if node.kind != "attribute":
            return None
        receiver = node.items[0]
        kind = self.type_of(receiver)
        if kind is None:
            return None
        target = self.graph.resolve(f"{kind}().{name.rpartition('.')[2]}")
        if target is not None and self.graph.same(target.replace("().", "."), name):
            return receiver
        return f"`{name}` is no member of `{receiver.text}`, of which `{node.text}` is asked"

    def means(self, node: Node, name: str) -> bool:
        """Return whether `node` refers to what is known as `name`, a dotted name."""
        node = node.bare
        if node.kind == "identifier" and not self._refers(node):
            return False
        return not self._is_hidden(node) and self.graph.same(self.paths.of(node), name)

    def patched(self, name: str) -> str:
        """Return where `name` is given another value, here or in a module that is no test."""
        for node in self._stored.get(name.rpartition(".")[2], ()):
            path = self.paths.of(node)
            if path is not None and "()" not in path and self.graph.same(path, name):
                return f"{node.place} gives it another value"
        module = self.place.vocabulary.patched.get(name)
        return f"the module `{module}` gives it another value" if module else ""

    def _is_hidden(self, node: Node) -> bool:
        """Return whether the file gives instances of a class something else in a method's place."""
        node = node.bare
        if node.kind != "attribute" or (name := node.items[-1].text) not in self._stored:
            return False
        path = self.paths.of(node)
        result = self.graph.resolve(path) if path is not None else None
        entry = self.graph.entry(result) if result is not None else None
        if entry is None or entry.kind != "function" or entry.property:
            return False
        kind = self.type_of(node.items[0])
        return kind is not None and any(
            self.type_of(item.items[0]) == kind for item in self._stored[name]
        )

    @cached_property
    def _stored(self) -> dict[str, list[Node]]:
        """By name: the attributes that the file assigns."""
        table: dict[str, list[Node]] = {}
        for node in self.names.stores:
            table.setdefault(node.items[-1].text, []).append(node)
        return table

    def _refers(self, node: Node) -> bool:
        """Return whether the name `node` is read: neither bound, nor a keyword or attribute."""
        site = self.names.sites.get(node.start)
        if site is None:
            return False
        parent = node.parent
        if parent is not None and parent.kind == "keyword_argument" and node.field == "name":
            return False
        symbol = site[0].symbols[site[1]]
        return all(start != node.start for start, _ in symbol.binds)

    def unused_imports(self) -> Iterator[UnusedImport]:
        """Yield the imported names that nothing in the file uses."""
        return name_usage.unused_imports(self.names)

    def unused_bindings(self) -> Iterator[Binding]:
        """Yield the local variables that are bound and never read."""
        return name_usage.unused_bindings(self.names)

    def redefinitions(self) -> Iterator[tuple[Occurrence, Occurrence]]:
        """Yield pairs of definitions of which the second replaces the first before any use."""
        return name_usage.redefinitions(self.names)

    def used_before_bound(self) -> Iterator[Occurrence]:
        """Yield the local variables that are read before anything binds them."""
        return name_usage.used_before_bound(self.names)

    def must_load(self, item: Import) -> bool:
        """Return whether an import has to stay for what it loads, whether its name is used or not.

        So it is where modules import each other, which may only work in one order, and where code
        here or elsewhere reaches a module as an attribute and does not import it.
        """
        modules = [module for module in self._loaded_by(item) if self.graph.holds(module)]
        used = [
            second
            for scope, second in self.names.imports
            if second != item and scope.parent is None and self._is_used(scope, second)
        ]
        if not modules or any(second.statement == item.statement for second in used if item.name):
            return False  # the statement stays
        if any(holds_order(self.graph, self.place.module, module) for module in modules):
            return True
        others = {module for second in used for module in self._loaded_by(second)}
        remainder = ready_for(self.graph, self.place.module, others)
        loaded = loaded_with(self.graph, modules) - remainder
        reached = {name for reach in self.summary.reaches for name in beyond(reach)}
        return bool(reached & loaded) or any(map(self.place.relied_on, loaded))

    def hides_elsewhere(self, name: str) -> bool:
        """Return whether a star import of this module has another `name` beside it.

        If the module bound the name too, what that means there might change.
        """
        exported = self.summary.exported
        if name.startswith("_") or (exported is not None and name not in exported):
            return False
        results: set[str] = set()
        todo = [self.place.module]
        while todo:
            module = todo.pop()
            results.add(module)
            for user in sorted(self.place.importers(module) - results):
                summary = self.graph.summary(user) if self.graph.holds(user) else None
                if summary is None or module not in summary.stars:
                    continue
                others = (star for star in summary.stars if star != module)
                if name in summary.names or hasattr(builtins, name):
                    return True
                if any(self.graph.brings(star, name) for star in others):
                    return True
                todo.append(user)
        return False

    def _is_used(self, scope: Scope, item: Import) -> bool:
        binding = self.names.visible(item.bound, scope)
        return item.name == "*" or (binding is not None and bool(binding.references))

    def _loaded_by(self, item: Import) -> Iterator[str]:
        """Yield what an import may load by name, which may be a module or in one."""
        source = item.source(self.place.package)
        if source is not None:
            yield source
            if item.name is not None:
                yield f"{source}.{item.name}"

    def places(self, name: str) -> list[Node]:
        """Return the nodes that refer to what is known as `name`, in source order."""
        if name not in self._places:
            self._places[name] = sorted(self._find(name), key=lambda node: node.start)
        return self._places[name]

    @cached_property
    def _places(self) -> dict[str, list[Node]]:
        return {}

    def _find(self, name: str) -> Iterator[Node]:
        """Yield them: names by their bindings, members by where their word stands.

        What is found may be given another name, ``again = stamp``: that is looked into then.
        """
        words = self.place.vocabulary.of(name)
        members = [
            node
            for node in self.members(words)
            if self.graph.same(self.paths.of(node), name) and not self._is_hidden(node)
        ]
        for scope in self.names.scopes:
            for word in scope.users:
                if self._may_mean(scope, word, words):
                    members += self._read_as(scope, word, name)
        results: set[int] = set()
        while members:
            node = members.pop()
            if node.start in results:
                continue
            results.add(node.start)
            yield node
            target = _given_to(node)
            binding = self.names.binding(target) if target is not None else None
            if binding is not None:
                members += self._read_as(binding.scope, binding.name, name)

    def _read_as(self, scope: Scope, word: str, name: str) -> list[Node]:
        """Return where `word` of `scope` is read, if it means what is known as `name`."""
        reads = [start for user in scope.users[word] for start in _reads(user, word)]
        if not reads or not self.graph.same(self.paths.of_name(scope, word), name):
            return []
        nodes = (self.tree.leaf_at(start) for start in reads)
        return [node for node in nodes if node is not None and node.kind == "identifier"]

    def members(self, words: frozenset[str] | None) -> Iterator[Node]:
        """Yield the attributes whose last name is one of `words`; all of them for None."""
        if words is None:
            yield from self.tree.of_kinds(_MEMBERS)
            for name in self.tree.of_kinds(frozenset({"dotted_name"})):
                if len(name.items) > 1 and name.parent is not None and _is_in_pattern(name.parent):
                    yield name
            return
        for word in words:
            for start in self.tree.hits(word.encode("utf-8"), whole_word=True):
                if (node := self._member_at(start)) is not None:
                    yield node

    def _member_at(self, start: int) -> Node | None:
        """Return the attribute whose last name starts at byte `start`."""
        leaf = self.tree.leaf_at(start)
        above = leaf.parent if leaf is not None and leaf.start == start else None
        if above is None or above.children[0] is leaf:
            return None
        if above.kind == "dotted_name" and above.children[-1] is leaf:
            return above if above.parent is not None and _is_in_pattern(above.parent) else None
        return above if above.kind in _MEMBERS else None

    def _may_mean(self, scope: Scope, word: str, words: frozenset[str] | None) -> bool:
        """Return cheaply whether `word` of `scope` can be one of `words`, or imported from it."""
        if words is None or word in words:
            return True
        return any(
            item.alias == word and (item.name or item.module.rpartition(".")[2]) in words
            for item in scope.imports
        )


def _is_in_pattern(node: Node) -> bool:
    return node.kind in ("case_pattern", "class_pattern", "keyword_pattern")


def _given_to(node: Node) -> Node | None:
    """Return the name that `node` is assigned to, if it is the whole of what is assigned."""
    outer = node
    while (above := outer.parent) is not None and above.bare is node:
        outer = above
    if above is None or above.kind not in ("assignment", "named_expression"):
        return None
    target = above.child("left") or above.child("name")
    return target if target is not None and outer is not target else None


_MEMBERS = frozenset({"attribute", "member_type"})


def _reads(scope: Scope, name: str) -> list[int]:
    symbol = scope.symbols[name]
    return [start for start, _, use, _ in symbol.places() if use in ("read", "annotation")]
