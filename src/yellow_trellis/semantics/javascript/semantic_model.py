"""The semantic model of a file of JavaScript or TypeScript."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from yellow_trellis import semantics
from yellow_trellis.semantics.javascript import name_usage
from yellow_trellis.semantics.javascript.builtins import BUILTINS
from yellow_trellis.semantics.javascript.graph import JavaScriptGraph
from yellow_trellis.semantics.javascript.interface_builder import summarize
from yellow_trellis.semantics.javascript.paths import MEMBERS, NamePaths, is_dynamic, path_of_global
from yellow_trellis.semantics.javascript.scopes import read_scopes
from yellow_trellis.semantics.lexical.names import LexicalNames
from yellow_trellis.semantics.module_interface import Summary
from yellow_trellis.semantics.project_context import ProjectContext
from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
from yellow_trellis.semantics.semantic_model import Facts, UnusedImport
from yellow_trellis.syntax import Node, Tree

_REFERRING = frozenset({"annotation", "read"})
_ALIASES = frozenset({"const", "import", "let", "var"})


def model_of(tree: Tree) -> JavaScriptFacts:
    """Return the semantic model of a tree."""
    return JavaScriptFacts(tree)


def facts_of(tree: Tree) -> JavaScriptFacts:
    """Return the semantic model of a tree, the same object each time."""
    result = semantics.facts_of(tree)
    assert isinstance(result, JavaScriptFacts)
    return result


class JavaScriptFacts(Facts):
    """The scopes of one file, its bindings, and what its names mean in the code base."""

    built_in_names = BUILTINS
    alone = ProjectContext(JavaScriptGraph(), "__file__", None)

    @cached_property
    def names(self) -> LexicalNames:
        """The scopes and bindings of the file."""
        return LexicalNames(self.tree, read_scopes)

    @cached_property
    def paths(self) -> NamePaths:
        """The paths of names and members."""
        place = self.place
        return NamePaths(self.names, place.module, place.package, place.graph)

    @cached_property
    def summary(self) -> Summary:
        """The interface of the file."""
        return summarize(self.paths)

    @property
    def is_script(self) -> bool:
        """True if the names at the top of the file are those of all scripts."""
        return bool(self.tree.source.path) and name_usage.is_script(self.names)

    def meaning(self, node: Node) -> str | None:
        """Return the dotted name under which what `node` names is defined.

        A name is followed through imports, constants and re-exports. None where that is not
        certain.
        """
        path = self.paths.of(node)
        return None if path is None else self.graph.resolve(path)

    def means(self, node: Node, name: str) -> bool:
        """Return whether `node` refers to what is known as `name`, a dotted name."""
        node = node.bare
        if not node.children and self.names.use_at(node) not in _REFERRING:
            return False
        return self.graph.same(self.paths.of(node), name)

    def places(self, name: str) -> list[Node]:
        """Return the nodes that refer to what is known as `name`, in source order."""
        if name not in self._places:
            self._places[name] = sorted(self._find(name), key=lambda node: node.start)
        return self._places[name]

    @cached_property
    def _places(self) -> dict[str, list[Node]]:
        return {}

    def _find(self, name: str) -> Iterator[Node]:
        words = self.place.vocabulary.of(name)
        for node in self.members(words):
            if self.graph.same(self.paths.of(node), name):
                yield node
        for scope in self.names.scopes:
            for word in scope.users:
                yield from self._read_as(scope, word, name, words)

    def _read_as(
        self, scope: Scope, word: str, name: str, words: frozenset[str] | None
    ) -> Iterator[Node]:
        """Yield where `word` of `scope` is read, if it means what is known as `name`."""
        if scope.binds(word):
            binding = self.names.bound(scope, word)
            if words is not None and word not in words and not binding.hows & _ALIASES:
                return
            path = self.paths.of_binding(binding)
        elif words is None or word in words:
            binding, path = self.names.bound(scope, word), path_of_global(word)
        else:
            return
        if self.graph.same(path, name):
            for item in binding.occurrences:
                if item.use in _REFERRING and not is_dynamic(item.scope, word):
                    yield item.node

    def members(self, words: frozenset[str] | None) -> Iterator[Node]:
        """Yield the members whose last name is one of `words`; all of them for None."""
        if words is None:
            yield from self.tree.of_kinds(MEMBERS)
            return
        for word in words:
            for start in self.tree.hits(word.encode("utf-8"), whole_word=True):
                leaf = self.tree.leaf_at(start)
                above = leaf.parent if leaf is not None and leaf.start == start else None
                if above is not None and above.kind in MEMBERS and above.items[-1] is leaf:
                    yield above

    def unused_imports(self) -> Iterator[UnusedImport]:
        """Yield the imported names that nothing in the file uses."""
        return name_usage.unused_imports(self.names)

    def unused_bindings(self) -> Iterator[Binding]:
        """Yield the variables, functions and classes that are declared and never read."""
        return name_usage.unused_bindings(self.names)

    def used_before_bound(self) -> Iterator[Occurrence]:
        """Yield where a block's own name is read before its declaration is done."""
        return name_usage.used_before_bound(self.names)
