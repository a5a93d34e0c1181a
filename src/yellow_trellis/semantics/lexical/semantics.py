"""`Semantics` of a language by its rules: names, imports of single names, and local renaming."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import cast

from yellow_trellis import semantics
from yellow_trellis.edits import Edit, New
from yellow_trellis.edits.removal import removals
from yellow_trellis.semantics.edit_group import EditGroup
from yellow_trellis.semantics.graph import ModuleGraph
from yellow_trellis.semantics.lexical.facts import LexicalFacts, full_name, is_local
from yellow_trellis.semantics.lexical.modules import LexicalModules
from yellow_trellis.semantics.lexical.name_rules import ImportStyle, NameRules
from yellow_trellis.semantics.lexical.rename import clash_of
from yellow_trellis.semantics.lexical.spelling import spell_at
from yellow_trellis.semantics.modules import ProjectFiles
from yellow_trellis.semantics.renaming import Renaming, RenameResult, RenameTarget
from yellow_trellis.semantics.required_import import RequiredImport
from yellow_trellis.semantics.scope import Binding
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.comment_ownership import attached


class LexicalSemantics:
    """The names and imports of one language, by its rules."""

    def __init__(self, rules: NameRules) -> None:
        self.rules = rules

    def model_of(self, tree: Tree, /) -> LexicalFacts:
        """Return the semantic model of a tree."""
        return LexicalFacts(tree, self.rules)

    def modules_of(self, files: ProjectFiles, /) -> LexicalModules:
        """Return the modules of a code base: what each namespace declares."""
        return LexicalModules(files, self.rules)

    def is_name(self, text: str, /) -> bool:
        """Return whether `text` can name something."""
        word = text.lower() if self.rules.scopes.folds else text
        return self.rules.name.fullmatch(text) is not None and word not in self.rules.reserved

    def spell(
        self, place: Node, name: str, old: Node | None = None, is_called: bool = False
    ) -> tuple[str, RequiredImport | None]:
        """Return how `place` says the dotted name `name`, and the import that it needs for that."""
        return spell_at(_facts_of(place.tree), place, name, is_called)

    def add_imports(
        self, tree: Tree, required_imports: Iterable[tuple[RequiredImport, int]], /
    ) -> list[Edit]:
        """Return the edits that add imports, in the order of names among those that are there."""
        style = self.rules.imports
        missing = dict.fromkeys(item for item, _ in required_imports)
        there = {full_name(item) for _, item in _facts_of(tree).names.imports}
        if style is None:
            return []
        by_host: dict[int, tuple[Node, bool, list[str]]] = {}
        for item in missing:
            if item.meaning in there:
                continue
            text = style.write(item.meaning, item.alias, tree)
            host, behind = _host(tree, text, style)
            by_host.setdefault(host.start, (host, behind, []))[2].append(text)
        edits = []
        for host, behind, texts in by_host.values():
            edits.append(_lines_at(host, behind, sorted(texts, key=_order), style))
        return edits

    def lost_words(self, before: Tree, after: Tree, written: Iterable[Span], /) -> frozenset[bytes]:
        """Return imported names that the code before may have used and the code after may not."""
        if self.rules.imports is None:
            return frozenset()
        data = [before.source.data[start:end] for start, end in written]
        return frozenset(
            word
            for _, item in _facts_of(after).names.imports
            if (word := item.bound.encode("utf-8")) and any(word in part for part in data)
        )

    def drop_imports(
        self, before: Tree, after: Tree, gives: Callable[[str, str], bool], /
    ) -> list[Edit]:
        """Return the edits that take out imports which were used before and are not after."""
        style = self.rules.imports
        old = {full_name(unused.imported) for unused in _facts_of(before).unused_imports()}
        had = {full_name(item) for _, item in _facts_of(before).names.imports}
        edits: list[Edit] = []
        for unused in _facts_of(after).unused_imports() if style is not None else ():
            name = full_name(unused.imported)
            node = after.leaf_at(*unused.imported.statement)
            if style is None or name in old or name not in had or node is None:
                continue
            statement = _statement_of(node, style)
            if statement is not None and style.removable(statement):
                edits += [] if any(attached(statement)) else removals([statement])
        return edits

    def removal_of_import(self, node: Node, /) -> list[Edit]:
        """Return the edits that take out an import statement. Errors: `ValueError`."""
        style = self.rules.imports
        statement = _statement_of(node, style) if style is not None else None
        if style is None or statement is None or not style.removable(statement):
            raise ValueError("this is no import of one name")
        return removals([statement])

    def rename_binding(self, binding: Binding, new: str, done: Renaming, /) -> None:
        """Add to `done` what gives a local name another one, or why that cannot be."""
        reason = ""
        if not self.is_name(new):
            reason = f"`{new}` cannot be a name"
        elif not is_local(binding, self.rules):
            reason = f"`{binding.name}` is not local: others may say it"
        reason = reason or self.rules.fault(binding, new) or clash_of(binding, new)
        if reason:
            done.refuse_binding(binding, new, reason)
            return
        for occurrence in binding.occurrences:
            self.rules.write(occurrence, new, done)

    def rename_in(self, tree: Tree, symbol: RenameTarget, new: str, /) -> RenameResult:
        """Return no edits: `fault_of_target` refuses the renaming."""
        return RenameResult(None, ())

    def may_see_name(self, symbol: RenameTarget, new: str, data: bytes, /) -> bool:
        """Return False: nothing is renamed in all files."""
        return False

    def follow_modules(self, tree: Tree, moves: Mapping[str, str], /) -> RenameResult:
        """Return no edits: a file is no module of its own here."""
        return RenameResult(None, ())

    def move_in(self, tree: Tree, old: str, new: str, /) -> list[EditGroup]:
        """Return the edits of one file that say what is now called `new`, by its import."""
        groups = []
        by_import = self._moved_imports(tree, old, new)
        if by_import:
            return by_import
        for node in _facts_of(tree).places(old):
            text, required = spell_at(_facts_of(tree), node, new)
            imports = () if required is None else (required,)
            clash = "" if required is None else required.fault
            groups.append(EditGroup((Edit(node.span, (New(text),)),), node.span, imports, clash))
        return groups

    def _moved_imports(self, tree: Tree, old: str, new: str) -> list[EditGroup]:
        """Return the edits of the imports that bring `old` by its name, which stays."""
        groups = []
        style = self.rules.imports
        for _, item in _facts_of(tree).names.imports:
            node = tree.leaf_at(*item.statement)
            if style is None or full_name(item) != old or node is None or item.name is None:
                continue
            statement = _statement_of(node, style)
            if statement is not None and style.removable(statement):
                text = style.write(new, item.alias, tree)
                groups.append(EditGroup((Edit(statement.span, (New(text),)),), statement.span))
        return groups

    def fault_of_target(self, graph: ModuleGraph, symbol: RenameTarget, new: str, /) -> str:
        """Return why nothing is renamed in all files: members are not known without a compiler."""
        return f"who says a name of {self.rules.language} in other files is not known for certain"


def _facts_of(tree: Tree) -> LexicalFacts:
    return cast(LexicalFacts, semantics.facts_of(tree))


def _statement_of(node: Node, style: ImportStyle) -> Node | None:
    """Return the import that a node is of: an item of a list, or a whole statement."""
    for above in (node, *node.ancestors()):
        holder = above.parent
        if above.kind in style.items and holder is not None and holder.kind not in style.kinds:
            return above
        if above.kind in style.kinds:
            return above
    return None


def _host(tree: Tree, text: str, style: ImportStyle) -> tuple[Node, bool]:
    """Return the import or statement beside which a new import goes, and whether behind it."""
    items = [
        node
        for node in tree.of_kinds(style.items)
        if node.parent is not None and node.parent.kind not in style.kinds
    ]
    imports = items or tree.of_kinds(style.kinds)
    if imports:
        body = imports[0].parent
        imports = [node for node in imports if node.parent is body]
        earlier = [node for node in imports if _order(node.text) < _order(text)]
        return (earlier[-1], True) if earlier else (imports[0], False)
    heads = [item for item in tree.root.items if item.kind in style.behind]
    return (heads[-1], True) if heads else (tree.root.items[0], False)


def _order(text: str) -> str:
    """Return by what imports are sorted: a namespace stands before those in it."""
    return text.rstrip(";")


def _lines_at(host: Node, behind: bool, texts: list[str], style: ImportStyle) -> Edit:
    """Return the edit that puts lines beside an import, or a blank line from other code."""
    source = host.tree.source
    beside = host.kind in style.kinds | style.items
    indent = source.indent_at(host.start).decode("utf-8", "replace") if beside else ""
    gap = "\n" + indent if beside else "\n\n"
    text = ("\n" + indent).join(texts)
    if behind:
        line = Span(host.start, source.lines.end(host.end))
        return Edit.after(line, New(gap + text))
    before = () if beside else attached(host).before
    start = before[0].start if before else host.start
    return Edit.before(Span(start, host.end), New(text + gap))
