"""The spelling of a dotted name at one place of a JavaScript file, and the import it requires."""

from __future__ import annotations

import re
from collections.abc import Iterator

from yellow_trellis.languages.language import kinds
from yellow_trellis.schema import near
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.javascript.module_names import (
    SUFFIXES,
    module_and_member,
    specifier_of,
)
from yellow_trellis.semantics.javascript.paths import GLOBAL
from yellow_trellis.semantics.javascript.semantic_model import JavaScriptFacts, facts_of
from yellow_trellis.semantics.required_import import ImportPlacement, RequiredImport
from yellow_trellis.semantics.scope import Binding, Use
from yellow_trellis.syntax import Node

_TYPES = kinds("nested_type_identifier type_annotation type_identifier")


def spell(
    place: Node, name: str, old: Node | None = None, is_called: bool = False
) -> tuple[str, RequiredImport | None]:
    """Return how `name`, a dotted name, is written at `place`, and the import that it needs.

    Arguments: `old` is the code that refers to what it replaces: an import of types stays one.
    """
    speller = _Speller(place, name, old)
    best = min(speller.spellings(), key=lambda text: (text.count("."), len(text)), default=None)
    return (best, None) if best is not None else speller.added()


class _Speller:
    def __init__(self, place: Node, name: str, old: Node | None) -> None:
        self.place = place
        self.facts: JavaScriptFacts = facts_of(place.tree)
        self.names = self.facts.names
        self.scope = self.names.scope_at(place)
        self.said = name
        self.target = self.facts.graph.resolve(name) or name
        self.old = old

    def spellings(self) -> Iterator[str]:
        """Yield the ways in which the code at the place can say it already."""
        head, _, last = self.target.rpartition(".")
        if head == GLOBAL and self.is_free(last):
            yield last
        if head.partition(".")[0] == GLOBAL and self.is_free(GLOBAL):
            yield self.target
        own = self.facts.place.module + "."
        if self.target.startswith(own):
            first, _, _ = self.target[len(own) :].partition(".")
            if self._sees_own(first):
                yield self.target[len(own) :]
        for scope, item in self.names.imports:
            binding = self.names.visible(item.bound, self.scope)
            is_ready = scope is self.names.module or item.bound_at < self.place.start
            if is_ready and binding is not None and binding.scope is scope:
                yield from self._through(item, binding)

    def is_free(self, name: str) -> bool:
        """Return whether nothing binds `name` at the place."""
        return self.names.visible(name, self.scope) is None

    def _sees_own(self, name: str) -> bool:
        binding = self.names.visible(name, self.scope)
        return binding is not None and binding.scope is self.names.module

    def _through(self, item: Import, binding: Binding) -> Iterator[str]:
        """Yield the name that an import gives to what is sought, or a member of what it brings."""
        path = self.facts.paths.of_binding(binding)
        if path is None:
            return
        if self.facts.graph.same(path, self.target):
            yield item.bound
        elif item.name is None:
            _, last = module_and_member(self.facts.graph, self.said)
            if self.facts.graph.same(f"{path}{last}", self.target):
                yield f"{item.bound}.{last}"

    def added(self) -> tuple[str, RequiredImport]:
        """Return the spelling with the import to add for it."""
        module, tail = module_and_member(self.facts.graph, self.said)
        first, dot, extra = tail.partition(".")
        if module == GLOBAL:
            fault = f"`{first}` is bound here, and so is `{GLOBAL}`"
            return tail, RequiredImport(self.said, module, first, fault=fault)
        bound = self._untaken(first if first != "default" else _camel(module), module)
        alias = None if bound == first else bound
        where: ImportPlacement = "types" if self._is_of_types() else "module"
        required = RequiredImport(
            f"{module}.{first}", self._specifier(module), first, alias, where,
            fault=self._fault(module, first),
        )
        return bound + dot + extra, required

    def _fault(self, module: str, name: str) -> str:
        graph = self.facts.graph
        if module == self.facts.place.module:
            return f"`{name}` of this module cannot be seen from here"
        if not graph.holds(module):
            folder = module.partition("/")[0] + "/"
            if any(name.startswith(folder) for name in graph.files):
                return f"`{module}` is no module of this code base"
            return ""
        if self.facts.place.package is None:
            return f"where this file stands is not known, so not how it imports `{module}`"
        summary = graph.summary(module)
        if summary is None:
            return f"`{module}` cannot be read"
        exported = summary.exported or ()
        if name in exported or summary.stars:
            return ""
        like = near(name, exported)
        return f"`{module}` exports no `{name}`" + (f": did you mean `{like}`?" if like else "")

    def _untaken(self, name: str, module: str) -> str:
        """Return `name`, or one made of it and of the module where it is taken."""
        stem, count, bound = _camel(module) + name[:1].upper() + name[1:], 1, name
        while not self._is_untaken(bound):
            bound = stem if count == 1 else f"{stem}{count}"
            count += 1
        return bound

    def _is_untaken(self, name: str) -> bool:
        module = self.names.module
        uses: tuple[Use, ...] = ("read", "annotation")
        if any(self.names.visible(name, scope) for scope in (self.scope, module)):
            return False
        if name in module.users:  # a name of the global object, which the import would hide
            return False
        return all(self.scope.owner(name, use) is module for use in uses)

    def _is_of_types(self) -> bool:
        """Return whether what brought the old name is an import of types, for types only."""
        node = self.old
        if node is None or node.kind not in _TYPES:
            return False
        binding = self.names.binding(node)
        for definition in binding.definitions if binding is not None else ():
            item = self.names.import_of(definition)
            statement = self.place.tree.leaf_at(*item.statement) if item is not None else None
            if statement is not None:
                return any(child.kind == "type" for child in statement.outermost.children)
        return False

    def _specifier(self, module: str) -> str:
        """Return how the file imports a module: files by relative paths, with endings if it does.
        """
        if not self.facts.graph.holds(module) or self.facts.place.package is None:
            return module
        text = specifier_of(module, self.facts.place.package)
        path = self.facts.graph.files[module].replace("\\", "/")
        own = [item.module for _, item in self.names.imports if item.module.startswith(".")]
        with_ends = [text for text in own if text.endswith((".js", ".mjs", ".cjs", ".jsx"))]
        if own and len(with_ends) * 2 > len(own):
            text += "/index" if path.rpartition("/")[2] == f"index{_suffix(path)}" else ""
            text += _WRITTEN.get(_suffix(path), _suffix(path))
        return text


def _suffix(path: str) -> str:
    return next((suffix for suffix in SUFFIXES if path.endswith(suffix)), "")


_WRITTEN = {".ts": ".js", ".tsx": ".js", ".d.ts": ".js", ".mts": ".mjs", ".cts": ".cjs"}
"""By ending of a source: that which an import says, of what is built from it."""


def _camel(module: str) -> str:
    """Return a name for a module: its last part, in camel case."""
    words = re.findall(r"[A-Za-z0-9]+", module.rpartition("/")[2]) or ["module"]
    text = words[0] + "".join(word[:1].upper() + word[1:] for word in words[1:])
    return text if not text[0].isdigit() else f"module{text}"
