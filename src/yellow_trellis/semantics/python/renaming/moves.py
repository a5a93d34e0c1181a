"""Importing a thing from where it is now, after it has moved to another module."""

from __future__ import annotations

from yellow_trellis.edits import Edit, New
from yellow_trellis.edits.removal import removal
from yellow_trellis.semantics import (
    EditGroup,
    Import,
    RequiredImport,
    Scope,
    fault_of,
    relative_module,
    types_only,
)
from yellow_trellis.semantics.python.import_insertion import names_in
from yellow_trellis.semantics.python.name_qualification import closes_circle, missing, spell
from yellow_trellis.semantics.python.semantic_model import facts_of
from yellow_trellis.semantics.required_import import ImportForm, ImportPlacement
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


def move_in(tree: Tree, old: str, new: str) -> list[EditGroup]:
    """Return the fixes that import what was ``old`` from where it is now, ``new``, in one file.

    Only what names the old module changes: what comes through a re-export stays as it is.
    """
    facts = facts_of(tree)
    home, _, name = old.rpartition(".")
    target = new.rpartition(".")[0]
    if facts.place.module == target:
        return []
    fixes: list[EditGroup] = []
    for scope, item in facts.names.imports:
        if item.name == name and item.source(facts.place.package) == home:
            fixes.append(_moved_import(tree, scope, item, target, new))
    for node in facts.members(frozenset({name})):
        receiver = facts.paths.of(node.items[0])
        if receiver is not None and facts.graph.resolve(receiver) == home:
            text, targets = spell(node, new, node)
            edit = Edit(node.span, (New(text),))
            imports = (targets,) if targets is not None else ()
            clash = fault_of(imports)
            fixes.append(EditGroup((edit,), node.span, imports, clash))
    return fixes


def _moved_import(
    tree: Tree, scope: Scope, first: Import, target: str, new: str
) -> EditGroup:
    statement = tree.leaf_at(*first.statement)
    assert statement is not None
    facts = facts_of(tree)
    text = _as_written(tree, first, target)
    module = statement.child("module_name")
    others = [
        entry
        for _, entry in facts.names.imports
        if entry.name is not None and entry.source(facts.place.package) == target
    ]
    where: ImportPlacement = "local" if scope.kind == "function" else "module"
    if types_only(statement):
        where = "types"
    fault = missing(facts, target, new.rpartition(".")[2])
    if not fault and where == "module":
        fault = closes_circle(facts, target)
    items = names_in(statement)
    tried = any(above.kind == "try_statement" for above in statement.ancestors())
    if tried and not fault:
        fault = closes_circle(facts, first.source(facts.place.package) or "")
    if not fault and facts.must_load(first):
        fault = f"the import from `{first.source(facts.place.package)}` loads what others rely on"
    binding = facts.names.visible(first.bound, scope)
    starred = scope.parent is None and any(entry.name == "*" for entry in scope.imports)
    doubled = starred or (binding is not None and len(binding.definitions) > 1)
    if doubled and len(items) > 1 and not fault:
        fault = f"`{first.bound}` is bound more than once here: import it in a line of its own"
    if len(items) == 1 and (doubled or not others) and module is not None:
        edits = (Edit(module.span, (New(text),)),)
        return EditGroup(edits, statement.span, clash=fault)
    item = next(i for i in items if i.start == first.item.start)
    edit = removal(item if len(items) > 1 else statement)
    beside = ImportForm.of(first) if len(items) > 1 and where != "types" else None
    required_import = RequiredImport(new, text, first.name, first.alias, where, beside)
    extent = Span(min(edit.span.start, first.item.start), max(edit.span.end, first.item.end))
    return EditGroup((edit,), extent, (required_import,), fault)


def _as_written(tree: Tree, item: Import, target: str) -> str:
    """Return the new module in the manner of the old import: with dots, or in full."""
    package = facts_of(tree).place.package
    if not item.level or not package or target.partition(".")[0] != package.partition(".")[0]:
        return target
    return relative_module(target, package)
