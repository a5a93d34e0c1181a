"""Imports that follow modules whose files are renamed or moved, file by file.

A name that an import binds keeps its meaning: it is renamed with the module where nobody else takes
it from here, and kept with ``as`` elsewhere. What names a module in another way, such as a text or
an attribute of its package, is told as a doubt.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

from yellow_trellis.edits import Edit, New
from yellow_trellis.edits.removal import removal
from yellow_trellis.semantics import (
    Doubt,
    Import,
    RenameResult,
    Renaming,
    Scope,
    relative_module,
)
from yellow_trellis.semantics.python.import_insertion import names_in
from yellow_trellis.semantics.python.renaming.rename import clash_of, rename_binding
from yellow_trellis.semantics.python.semantic_model import facts_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree


def follow_modules(tree: Tree, moves: Mapping[str, str]) -> RenameResult:
    """Return what keeps the imports of one file right when modules get other names.

    Arguments: `moves` are dotted names, before and after; the file may be one of them.
    """
    following = _Following(tree, moves)
    following.collect()
    return RenameResult.of(following.done, tuple(sorted(set(following.doubts))))


class _Following:
    def __init__(self, tree: Tree, moves: Mapping[str, str]) -> None:
        self.tree = tree
        self.moves = moves
        self.facts = facts_of(tree)
        self.done = Renaming()
        self.doubts: list[Doubt] = []
        place = self.facts.place
        self.package = place.package
        self.new_package = self.package
        if place.module in moves:
            module = moves[place.module]
            is_package = place.module == self.package
            self.new_package = module if is_package else module.rpartition(".")[0]

    def collect(self) -> None:
        """Find all that has to change."""
        statements: dict[Span, list[tuple[Scope, Import]]] = {}
        for scope, item in self.facts.names.imports:
            statements.setdefault(item.statement, []).append((scope, item))
        for items in statements.values():
            if items[0][1].name is None:
                for scope, item in items:
                    self._plain(scope, item)
            else:
                self._taken_from(items)
        self._attributes()
        self._keep_outermost()
        self._listed()
        self._texts()
        for old, new in self.moves.items():
            word = old.rpartition(".")[2]
            if word != new.rpartition(".")[2]:
                self.done.refuse_broken(self.tree, word, new.rpartition(".")[2])

    # ------------------------------------------------------------------ imports

    def _plain(self, scope: Scope, item: Import) -> None:
        """Follow ``import a.b.c``, whose uses say all of it, and ``import a.b.c as d``."""
        new = self.moves.get(item.module)
        if new is None:
            return
        node = self._node(item.item)
        dotted = node if node.kind != "aliased_import" else node.items[0]
        self.done.put(dotted.span, new)
        if item.alias is not None:
            return
        root, new_root = item.bound, new.partition(".")[0]
        binding = self.facts.names.visible(root, scope)
        if binding is None:
            return
        chains = list(self._chains(item.module))
        for chain in chains:
            self.done.put(chain.span, new)
        if root == new_root and item.module.rpartition(".")[0] == new.rpartition(".")[0]:
            return
        within = [chain.span for chain in chains]
        alone = all(definition.span == dotted.span or definition.span.start == dotted.start
                    for definition in binding.definitions)
        references = [
            reference
            for reference in binding.references
            if not any(span.start <= reference.span.start < span.end for span in within)
        ]
        if alone and references:
            self.done.refuse(
                f"`{root}` at {references[0].place} relies on `import {item.module}` for more "
                "than that"
            )
        if root != new_root and (bound := self.facts.names.visible(new_root, scope)) is not None:
            if bound.hows != {"import"}:
                self.done.refuse(f"`{new_root}` is bound at {bound.occurrences[0].place} already")

    def _chains(self, module: str) -> Iterator[Node]:
        """Yield where the code says the dotted name of a module, all of it."""
        last = module.rpartition(".")[2]
        if "." not in module:
            for scope, item in self.facts.names.imports:
                if item.name is None and item.alias is None and item.module == module:
                    binding = self.facts.names.bound(scope, module)
                    for reference in binding.references:
                        yield self._node(reference.span)
            return
        for node in self.facts.members(frozenset({last})):
            text = "".join(node.text.split())
            if text == module and self.facts.graph.resolve(self._path(node)) == module:
                yield node

    def _taken_from(self, items: list[tuple[Scope, Import]]) -> None:
        """Follow one statement ``from a.b import c, d``."""
        _, first = items[0]
        source = first.source(self.package)
        if source is None:
            return
        statement = self._node(first.statement)
        module = statement.child("module_name")
        if module is None:
            return
        home = self.moves.get(source, source)
        others: list[tuple[Scope, Import, str]] = []
        for scope, item in items:
            new = self._module_meant(source, item)
            if new is None:
                continue
            parent, _, name = new.rpartition(".")
            if parent == home:
                self._named_anew(scope, item, name)
            else:
                others.append((scope, item, new))
        if others and len(others) == len(items) == 1:
            ((scope, item, new),) = others
            home, _, name = new.rpartition(".")
            if not home:
                self.done.put(statement.span, self._alone(item, new))
                return
            self._named_anew(scope, item, name)
        elif others:
            self._apart(statement, others)
        text = self._spelling(first, home)
        if text != "".join(module.text.split()) and (
            home != source or (first.level and self.new_package != self.package)
        ):
            self.done.put(module.span, text)

    def _module_meant(self, source: str, item: Import) -> str | None:
        """Return the new name of the module that an item of an import is, if that is moved."""
        name = f"{source}.{item.name}"
        if name not in self.moves:
            return None
        target = self.facts.graph.resolve(item.target(self.package) or "")
        if target is not None and target != name:
            return None
        if target is None:
            self.doubts.append(Doubt(item.item, f"it may import `{name}`"))
            return None
        return self.moves[name]

    def _named_anew(self, scope: Scope, item: Import, name: str) -> None:
        """Give the module that an item imports its new last name, here or behind ``as``."""
        old = item.name or ""
        if name == old:
            return
        node = self._node(item.item)
        if item.alias is not None:
            self.done.put(node.items[0].span, name)
            return
        binding = self.facts.names.visible(item.bound, scope)
        if binding is not None and self._may_follow(scope, item) and not clash_of(binding, name):
            rename_binding(binding, name, self.done, frozenset({item.item.start}))
        else:
            self.done.put(item.item, f"{name} as {old}")

    def _may_follow(self, scope: Scope, item: Import) -> bool:
        """Return whether the bound name can change: it means one thing, and nobody takes it."""
        names, place = self.facts.names, self.facts.place
        binding = names.visible(item.bound, scope)
        if binding is None or len(binding.definitions) != 1 or binding.scope is not scope:
            return False
        if any(item.name == "*" for item in names.module.imports):
            return False
        if scope is not names.module:
            return True
        return not place.gives(place.module, item.bound) and not names.exported

    def _apart(self, statement: Node, others: list[tuple[Scope, Import, str]]) -> None:
        """Import modules that have gone elsewhere in statements of their own, behind this one."""
        source = self.tree.source
        line = Span(source.lines.start(statement.start), source.lines.end(statement.end))
        tail = source.text(Span(statement.end, line.end)).partition("#")[0].strip()
        if tail or source.text(Span(line.start, statement.start)).strip():
            self.done.refuse(f"the import at {statement.place} shares its line with other code")
        indent = source.indent_at(statement.start).decode("utf-8")
        added = [f"\n{indent}{self._alone(item, new)}" for _, item, new in others]
        gone = {item.item.start for _, item, _ in others}
        entries = [entry for entry in names_in(statement) if entry.start in gone]
        if len(entries) == len(names_in(statement)):
            self.done.refuse(f"the import at {statement.place} goes to several packages")
            return
        for entry in entries:
            edit = removal(entry)
            self.done.edits[edit.span] = edit
        self.done.edits[Span(line.end, line.end)] = Edit.after(line, New("".join(added)))

    def _alone(self, item: Import, module: str) -> str:
        """Return the statement that imports one module and binds what `item` binds."""
        parent, _, name = module.rpartition(".")
        alias = f" as {item.bound}" if item.bound != name else ""
        start = f"from {self._spelling(item, parent)} " if parent else ""
        return f"{start}import {name}{alias}"

    def _spelling(self, item: Import, module: str) -> str:
        """Return a module in the manner of an import: with dots, or in full."""
        package = self.new_package
        if not item.level or not package or module.partition(".")[0] != package.partition(".")[0]:
            return module
        return relative_module(module, package)

    def _keep_outermost(self) -> None:
        """Leave out the edit of a package where that of a module behind its dot holds it."""
        end = -1
        for span in sorted(self.done.edits, key=lambda span: (span.start, -span.end)):
            if span.end <= end and span.start < span.end:
                del self.done.edits[span]
            end = max(end, span.end)

    # ------------------------------------------------------------------ other mentions

    def _attributes(self) -> None:
        """Follow ``package.module`` where the package stays; tell of the rest."""
        lasts = frozenset(old.rpartition(".")[2] for old in self.moves if "." in old)
        for node in self.facts.members(lasts):
            path = self._path(node)
            old = self.facts.graph.resolve(path) if path else None
            if old is None or old not in self.moves or self._is_done(node.span):
                continue
            if self._binds(old.rpartition(".")[0], node.items[-1].text):
                continue  # the package has it under that name, and keeps it
            new = self.moves[old]
            parent, _, name = new.rpartition(".")
            package = old.rpartition(".")[0]
            if parent == self.moves.get(package, package):
                if name != node.items[-1].text:
                    self.done.put(node.items[-1].span, name)
            else:
                self.doubts.append(Doubt(node.span, f"it says `{old}` by way of its package"))

    def _listed(self) -> None:
        """Doubt modules that ``__all__`` lists without binding them: who takes all gets them."""
        names, home = self.facts.names, self.facts.place.module
        for name, span in names.exported or ():
            if f"{home}.{name}" in self.moves and not names.module.binds(name):
                self.doubts.append(Doubt(span, f"`__all__` lists `{home}.{name}`"))

    def _binds(self, package: str, name: str) -> bool:
        """Return whether a package binds a name itself, a module below it or not."""
        summary = self.facts.graph.summary(package)
        return summary is not None and name in summary.names

    def _texts(self) -> None:
        """Doubt texts that say the dotted name of a module."""
        for old in self.moves:
            if "." not in old:
                continue
            word = re.compile(rb"(?<![\w.])" + re.escape(old.encode("utf-8")) + rb"(?!\w)")
            for match in word.finditer(self.tree.source.data):
                leaf = self.tree.leaf_at(match.start())
                if leaf is not None and leaf.kind in ("string_content", "string", "comment"):
                    span = Span(*match.span())
                    self.doubts.append(Doubt(span, f"a text says `{old}`"))

    def _path(self, node: Node) -> str:
        return self.facts.paths.of(node) or ""

    def _is_done(self, span: Span) -> bool:
        return any(done.start <= span.start and span.end <= done.end for done in self.done.edits)

    def _node(self, span: Span) -> Node:
        node = self.tree.leaf_at(*span)
        assert node is not None
        return node
