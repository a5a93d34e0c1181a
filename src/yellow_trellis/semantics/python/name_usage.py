"""Usage of the bindings of a file: names without a use, bound twice, used too early."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.semantics.python.name_resolution import PythonNames
from yellow_trellis.semantics.python.unseen import unseen_use
from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
from yellow_trellis.semantics.semantic_model import UnusedImport
from yellow_trellis.syntax import Node

_SEEING = frozenset({"locals", "vars", "eval", "exec", "dir"})
_LOOPS = frozenset({"for_statement", "while_statement"})
_DEFINITIONS = frozenset({"function", "class", "import"})


def unused_imports(names: PythonNames) -> Iterator[UnusedImport]:
    """Yield the imports without a use, in source order.

    A name that ``__all__`` lists has one; so has ``import a as a``, which says that it is for
    others, and what comes from ``__future__``. What may have one that no reference shows, by its
    text or as a fixture, is left out. A file whose ``__all__`` is worked out as it runs
    has none to tell of.
    """
    if names.module.binds("__all__") and names.exported is None:
        return
    listed = {name for name, _ in names.exported or ()}
    for scope, item in names.imports:
        if item.name == "*" or item.module == "__future__" or item.alias == (
            item.name or item.module
        ):
            continue
        binding = names.visible(item.bound, scope)
        if binding is None or binding.references:
            continue
        if scope is names.module and item.bound in listed:
            continue
        if unseen_use(names, scope, item.bound):
            continue
        yield UnusedImport(item, binding, names.item_of(item))


def unused_bindings(names: PythonNames) -> Iterator[Binding]:
    """Yield the variables of functions that are bound and never referred to.

    Arguments, names that start with ``_``, and functions that look at their names as text are
    left out.
    """
    for binding in names.bindings:
        scope = binding.scope
        if scope.kind != "function" or binding.name.startswith("_"):
            continue
        if "argument" in binding.hows or binding.references or _sees_names(scope):
            continue
        if any(occurrence.use in ("declare", "delete") for occurrence in binding.occurrences):
            continue
        yield binding


def _sees_names(scope: Scope) -> bool:
    return any((s := scope.symbols.get(name)) is not None and s.reads for name in _SEEING)


def redefinitions(names: PythonNames) -> Iterator[tuple[Occurrence, Occurrence]]:
    """Yield pairs of definitions of which the first is lost before it is used.

    Both are functions, classes or imports, statements of the same body; nothing in between
    refers to the name, and nothing that is run later could.
    """
    for binding in names.bindings:
        if len(binding.definitions) < 2 or not binding.hows <= _DEFINITIONS:
            continue
        for first, second in zip(binding.definitions, binding.definitions[1:], strict=False):
            if _same_body(first, second) and not _used_between(binding, first, second):
                yield first, second


def _same_body(first: Occurrence, second: Occurrence) -> bool:
    if first.scope is not second.scope:
        return False
    item, peer = _statement(first.node), _statement(second.node)
    if item is None or peer is None or item is peer or item.parent is not peer.parent:
        return False
    return not any(child.kind == "decorator" for s in (item, peer) for child in s.children)


def _statement(node: Node) -> Node | None:
    bodies = node.tree.language.bodies
    while node.parent is not None and node.parent.kind not in bodies:
        node = node.parent
    return node if node.parent is not None else None


def _used_between(binding: Binding, first: Occurrence, second: Occurrence) -> bool:
    statement = _statement(second.node)
    end = statement.end if statement is not None else second.span.start
    return any(
        use.use != "bind" and first.span.start < use.span.start < end
        for use in binding.occurrences
    )


def used_before_bound(names: PythonNames) -> Iterator[Occurrence]:
    """Yield the reads of a function's variable that come before anything can have bound it.

    Only what is certain: the read stands before all that binds the name, in no loop, and in the
    function itself.
    """
    for binding in names.bindings:
        scope = binding.scope
        if scope.kind != "function" or "argument" in binding.hows or not binding.definitions:
            continue
        first = binding.definitions[0].span.start
        for occurrence in binding.occurrences:
            if occurrence.span.start >= first:
                break
            if occurrence.use == "read" and occurrence.scope is scope and not _in_loop(
                occurrence.node, scope
            ):
                yield occurrence


def _in_loop(node: Node, scope: Scope) -> bool:
    for above in node.ancestors():
        if above.start <= scope.start:
            return False
        if above.kind in _LOOPS:
            return True
    return False
