"""Importing what a module of JavaScript gave from where it is now, file by file."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.edits import Edit, New
from yellow_trellis.edits.removal import removals
from yellow_trellis.semantics.edit_group import EditGroup
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.javascript.import_removal import removal_of_import
from yellow_trellis.semantics.javascript.module_names import module_and_member
from yellow_trellis.semantics.javascript.name_qualification import spell
from yellow_trellis.semantics.javascript.semantic_model import JavaScriptFacts, facts_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree


def move_in(tree: Tree, old: str, new: str) -> list[EditGroup]:
    """Return the edits of one file that take a symbol from where it is now.

    Imports by name, exports that hand it on, and members of its whole module are changed; the file
    that had it and the one that has it are left alone.
    """
    facts = facts_of(tree)
    ends = [module_and_member(facts.graph, name)[0] for name in (old, new)]
    if facts.place.module in ends:
        return []
    return list(_Moves(facts, old, new).groups())


class _Moves:
    def __init__(self, facts: JavaScriptFacts, old: str, new: str) -> None:
        self.facts = facts
        self.tree = facts.tree
        self.old = old
        self.new = new
        self.word = old.rpartition(".")[2]

    def groups(self) -> Iterator[EditGroup]:
        """Yield the changes."""
        for _, item in self.facts.names.imports:
            if item.name == self.word and self._brings(item.module):
                yield from self._import(item)
        for node in self.facts.members(frozenset({self.word})):
            if self.facts.graph.same(self.facts.paths.of(node), self.old):
                text, required = spell(node, self.new, node)
                imports = () if required is None else (required,)
                clash = "" if required is None else required.fault
                edit = Edit(node.span, (New(text),))
                yield EditGroup((edit,), node.span, imports, clash)
        for specifier in self.tree.of_kinds(frozenset({"export_specifier"})):
            name = specifier.child("name")
            if name is not None and name.text == self.word:
                yield from self._export(specifier)

    def _brings(self, module: str) -> bool:
        source = self.facts.paths.resolved(module)
        return source is not None and self.facts.graph.same(f"{source}:{self.word}", self.old)

    def _import(self, item: Import) -> Iterator[EditGroup]:
        node = self.tree.leaf_at(*item.item)
        _, spelled = spell(self.tree.root, self.new)
        if node is None or spelled is None:
            return
        edits = tuple(removal_of_import(node))
        extent = Span(min(e.span.start for e in edits), max(e.span.end for e in edits))
        required = spelled._replace(alias=item.alias)
        yield EditGroup(edits, extent, (required,), required.fault)

    def _export(self, specifier: Node) -> Iterator[EditGroup]:
        clause = specifier.parent
        statement = clause.parent if clause is not None else None
        source = statement.child("source") if statement is not None else None
        if clause is None or statement is None or source is None:
            return
        _, spelled = spell(self.tree.root, self.new)
        if spelled is None or not self._brings(source.text[1:-1]):
            return
        text = source.text[0] + spelled.module + source.text[-1]
        others = [item for item in clause.items if item.named]
        if len(others) == 1:
            edits: tuple[Edit, ...] = (Edit(source.span, (New(text),)),)
        else:
            end = ";" if statement.text.rstrip().endswith(";") else ""
            line = Span(statement.start, self.tree.source.lines.end(statement.end))
            added = f"\nexport {{ {specifier.text} }} from {text}{end}"
            edits = (*removals([specifier.outermost]), Edit.after(line, New(added)))
        yield EditGroup(edits, statement.span, clash=spelled.fault)
