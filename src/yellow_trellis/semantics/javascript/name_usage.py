"""Usage of the bindings of a JavaScript file: names without a use, and names used too early."""

from __future__ import annotations

import re
from collections.abc import Iterator

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.lexical.names import LexicalNames
from yellow_trellis.semantics.lexical.scope_reader import LexicalScope
from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
from yellow_trellis.semantics.semantic_model import UnusedImport
from yellow_trellis.syntax import Node

_ELEMENTS = kinds("jsx_element jsx_fragment jsx_self_closing_element")
_FUNCTIONS = frozenset({"body", "function"})
_OWN = frozenset({"class", "const", "function", "let", "var"})


def unused_imports(names: LexicalNames) -> Iterator[UnusedImport]:
    """Yield the imports without a use, in source order; calls of ``require`` count as imports.

    What may have a use that no reference shows is left out: a name in a comment for tools
    (``@type {Tram}``), the library that elements of JSX are made with, and all names of a file
    that runs texts.
    """
    if _is_open(names):
        return
    for scope, item in names.imports:
        binding = names.bound(scope, item.bound)
        if not item.bound or binding.references or _is_in_comment(names, item.bound):
            continue
        if item.bound in _makers(names):
            continue
        if any(use.use != "bind" for use in binding.occurrences):
            continue
        yield UnusedImport(item, binding, names.item_of(item))


def unused_bindings(names: LexicalNames) -> Iterator[Binding]:
    """Yield the variables, functions and classes that nothing refers to.

    Those of a file that is no module may be read by other scripts: they are left out, and so are
    arguments, names that start with ``_``, and what is named beside the rest of an object.
    """
    if _is_open(names):
        return
    for binding in names.bindings:
        if binding.name.startswith("_") or not binding.hows or not binding.hows <= _OWN:
            continue
        if binding.scope is names.module and is_script(names):
            continue
        if binding.references or any(map(_is_exported, binding.definitions)):
            continue
        if any(map(_is_kept, binding.definitions)) or _is_in_comment(names, binding.name):
            continue
        if any(names.import_of(definition) is not None for definition in binding.definitions):
            continue
        yield binding


def is_script(names: LexicalNames) -> bool:
    """Return whether a file is neither a module of ECMAScript nor one of CommonJS only.

    The names at its top are those of all scripts. Who asks for ``typeof module`` is loaded by a
    page as well.
    """
    statements = names.tree.root.items
    if any(item.kind in ("export_statement", "import_statement") for item in statements):
        return False
    if _ASKS.search(names.tree.source.data) is not None:
        return True
    module = names.module
    return not any(word in module.users and not module.binds(word) for word in _COMMON)


_COMMON = ("exports", "module", "require")
_ASKS = re.compile(rb"\btypeof\s+(?:define|exports|module|require)\b")


def used_before_bound(names: LexicalNames) -> Iterator[Occurrence]:
    """Yield the reads of a `let`, `const` or class that come before its declaration is done.

    Only what is certain: in the same function, and not in a part of it that may run later.
    """
    for binding in names.bindings:
        if not binding.hows or not binding.hows <= {"class", "const", "let"}:
            continue
        first = binding.definitions[0].span.start
        for item in binding.occurrences:
            if item.use == "read" and item.span.start < first:
                if _function(item.scope) is _function(binding.scope):
                    yield item


def _function(scope: Scope) -> Scope:
    while scope.kind not in _FUNCTIONS and scope.parent is not None and scope.kind != "class":
        scope = scope.parent
    return scope


def _is_exported(definition: Occurrence) -> bool:
    return any(above.kind == "export_statement" for above in _declaration(definition.node))


def _declaration(node: Node) -> Iterator[Node]:
    """Yield what a name is declared by, outwards, up to the statement and an export of it."""
    for above in node.ancestors():
        yield above
        if above.parent is None or above.kind in ("export_statement", "statement_block"):
            return


def _is_kept(definition: Occurrence) -> bool:
    """Return whether a name stands beside the rest of an object, which is to lack it."""
    for above in definition.node.ancestors():
        if above.kind == "object_pattern":
            return any(item.kind == "rest_pattern" for item in above.items)
        if above.kind in above.tree.language.statements:
            return False
    return False


def _is_open(names: LexicalNames) -> bool:
    """Return whether code of the file may reach its names by text."""
    return any(isinstance(scope, LexicalScope) and scope.dynamic for scope in names.scopes)


_TAG = re.compile(rb"[@{]")
_PRAGMA = re.compile(rb"@jsx(?:Frag)?\s+([\w$]+)")


def _is_in_comment(names: LexicalNames, name: str) -> bool:
    """Return whether a comment for tools says the name: ``@type {Tram}``, ``{@link Tram}``."""
    tree = names.tree
    for at in tree.hits(name.encode("utf-8"), whole_word=True):
        leaf = tree.leaf_at(at)
        if leaf is not None and leaf.is_comment and _TAG.search(leaf.data):
            return True
    return False


def _makers(names: LexicalNames) -> frozenset[str]:
    """Return the names that elements of JSX are made with, said or not."""
    if names.tree.of_kinds(_ELEMENTS):
        pragmas = _PRAGMA.findall(names.tree.source.data)
        return frozenset({"React", *(word.decode("utf-8") for word in pragmas)})
    return frozenset()
