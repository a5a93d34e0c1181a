"""The semantic model of a file in a language with namespaces and imports of single names.

A name is followed to its import, or to the namespace of its file. One that comes from a namespace
which is imported whole is known by elimination only: whoever asks for ``java.util.List`` says that
there is one, and code with two of a name would not compile.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.lexical.name_rules import NameRules
from yellow_trellis.semantics.lexical.names import LexicalNames
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader
from yellow_trellis.semantics.scope import Binding, Scope, settle
from yellow_trellis.semantics.semantic_model import Facts, UnusedImport
from yellow_trellis.syntax import Node, Tree


class LexicalFacts(Facts):
    """The scopes of one file, its bindings, and what its names stand for."""

    def __init__(self, tree: Tree, rules: NameRules) -> None:
        super().__init__(tree)
        self.rules = rules
        self.built_in_names = frozenset(rules.known)

    @cached_property
    def names(self) -> LexicalNames:
        """The scopes and bindings of the file."""
        return LexicalNames(self.tree, self._read)

    def _read(self, tree: Tree) -> list[Scope]:
        return settle(ScopeReader(tree, self.rules.scopes).read())

    @cached_property
    def namespace(self) -> str:
        """The dotted name of the namespace that the file is in."""
        return self.rules.namespace(self.tree)

    def meaning(self, node: Node) -> str | None:
        """Return the dotted name of what `node` names; None where that is not certain."""
        chain = self.chain_of(node)
        if chain is None:
            return None
        is_rooted, parts = chain
        return ".".join(parts) if is_rooted else self._meaning(node, parts)

    def _meaning(self, node: Node, parts: list[str]) -> str | None:
        first, rest = parts[0], parts[1:]
        binding = self._binding_of(node)
        if binding is not None:
            path = self._path_of(binding)
            return None if path is None else ".".join([path, *rest])
        if first in self.rules.known:
            return ".".join([self.rules.known[first], *rest]) if self.is_known(first) else None
        if rest and self.rules.is_whole:
            return ".".join(parts)
        if self.rules.own_first and self.namespace and not self._wildcards:
            return ".".join([self.namespace, *parts])
        return None

    def means(self, node: Node, name: str) -> bool:
        """Return whether `node` refers to what is known as `name`, a dotted name."""
        chain = self.chain_of(node)
        if chain is None:
            return False
        is_rooted, parts = chain
        text = ".".join(parts)
        if is_rooted:
            return text == name
        binding = self._binding_of(node)
        if binding is not None or parts[0] in self.rules.known:
            return self._meaning(node, parts) == name
        if len(parts) > 1 and self.rules.is_whole and text == name:
            return True
        space = name.removesuffix("." + text)
        if space == name:
            return False
        if space == self.namespace:
            return True
        if space not in self._wildcards and space not in self.rules.always:
            return False
        return not self.place.declares(self.namespace, parts[0])

    def is_known(self, name: str) -> bool:
        """Return whether a name that nothing here binds is that which needs no import."""
        if self._wildcards and self.rules.is_hidden_by_all:
            return False
        return name in self.rules.known and not self.place.declares(self.namespace, name)

    @cached_property
    def _wildcards(self) -> frozenset[str]:
        """The namespaces that the file imports whole."""
        return frozenset(item.module for _, item in self.names.imports if item.name == "*")

    def _binding_of(self, node: Node) -> Binding | None:
        """Return what the first part of a name is bound by in the file."""
        leaf = first_leaf(node)
        binding = self.names.binding(leaf)
        if binding is not None or leaf.start in self.names.sites:
            return binding
        return self.names.visible(self._key(leaf.text), self.names.scope_at(leaf))

    def _key(self, name: str) -> str:
        return name.lower() if self.rules.scopes.folds else name

    def _path_of(self, binding: Binding) -> str | None:
        if len(binding.definitions) != 1:
            return None
        imported = self.names.import_of(binding.definitions[0])
        if imported is not None:
            return full_name(imported)
        if binding.scope is self.names.module and self.namespace:
            return f"{self.namespace}.{binding.name}"
        return None

    def chain_of(self, node: Node) -> tuple[bool, list[str]] | None:
        """Return the parts of a name, and whether it is marked as whole.

        None for what is no name, or has more in it, such as a call.
        """
        rules = self.rules
        node = node.bare
        if node.kind not in rules.leaves and node.kind not in rules.chains:
            return None
        text = "".join(node.text.split())
        is_rooted = bool(rules.rooted) and text.startswith(rules.rooted)
        parts = text.removeprefix(rules.rooted).split(rules.joint) if is_rooted else text.split(
            rules.joint
        )
        if not all(rules.name.fullmatch(part) for part in parts):
            return None
        return is_rooted, parts

    def places(self, name: str) -> list[Node]:
        """Return the nodes that refer to what is known as `name`, in source order."""
        words = {name.rpartition(".")[2]} | {
            item.alias
            for _, item in self.names.imports
            if item.alias is not None and full_name(item) == name
        }
        results = {
            node.start: node
            for word in words
            for at in self.tree.hits(word.encode("utf-8"), whole_word=True)
            if (node := self._named_at(at)) is not None and self.means(node, name)
        }
        return [results[start] for start in sorted(results)]

    def is_code(self, at: int) -> bool:
        """Return whether byte `at` lies in code, rather than in a comment or a text."""
        leaf = self.tree.leaf_at(at)
        if leaf is None or leaf.is_comment:
            return False
        language = self.tree.language
        return not any(language.is_literal(node.kind) for node in (leaf, *leaf.ancestors()))

    def _named_at(self, at: int) -> Node | None:
        """Return the name of which the last part starts at byte `at`."""
        node = self.tree.leaf_at(at)
        if node is None or node.start != at or node.kind not in self.rules.leaves:
            return None
        if any(above.kind in self.tree.language.imports for above in node.ancestors()):
            return None
        if self.names.use_at(node) == "bind":
            return None
        while (above := node.parent) is not None and above.kind in self.rules.chains:
            if above.end != node.end:
                return node if above.start == node.start else None
            node = above
        return node if node.children or node.start in self.names.sites else None

    def unused_imports(self) -> Iterator[UnusedImport]:
        """Yield the imported names that nothing in the file says, not even a comment."""
        for _, item in self.names.imports:
            if item.name == "*" or not item.bound:
                continue
            binding = self.names.bound(self.names.module, self._key(item.bound))
            hits = self.tree.hits(item.bound.encode("utf-8"), whole_word=True)
            if all(item.statement.start <= at < item.statement.end for at in hits):
                yield UnusedImport(item, binding, self.names.item_of(item))

    def unused_bindings(self) -> Iterator[Binding]:
        """Yield the local variables that nothing reads."""
        for binding in self.names.bindings:
            if not binding.hows <= _LOCAL or binding.name.startswith("_"):
                continue
            if is_local(binding, self.rules) and not binding.references:
                if not any(item.use == "write" for item in binding.occurrences):
                    yield binding


_LOCAL = frozenset({"const", "let", "var"})
_INNER = frozenset({"block", "body", "function", "lambda"})


def is_local(binding: Binding, rules: NameRules) -> bool:
    """Return whether a binding is a variable that only its function, or file, can see."""
    inner = _INNER | {"module"} if rules.is_file_local else _INNER
    return binding.scope.kind in inner and not binding.hows & {"class", "field", "type"}


def first_leaf(node: Node) -> Node:
    """Return the first name in a name of several parts."""
    while node.children:
        children = [child for child in node.children if child.named]
        if not children:
            break
        node = children[0]
    return node


def full_name(item: Import) -> str:
    """Return the dotted name of what an import brings."""
    return item.module if item.name is None else ".".join(filter(None, (item.module, item.name)))
