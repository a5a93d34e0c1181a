"""Renaming what one module of JavaScript exports wherever modules say it, file by file.

What is certain is renamed: the definition, its exports, imports by name, members of whole modules,
and what takes it out of one by its name. A place that may mean it is a doubt.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property

from yellow_trellis.edits import Edit, New
from yellow_trellis.schema import near
from yellow_trellis.semantics.graph import ModuleGraph
from yellow_trellis.semantics.javascript.module_names import module_and_member
from yellow_trellis.semantics.javascript.paths import MEMBERS
from yellow_trellis.semantics.javascript.rename import fault_of, is_exported, write_in, write_pair
from yellow_trellis.semantics.javascript.semantic_model import JavaScriptFacts, facts_of
from yellow_trellis.semantics.renaming import Doubt, RenameResult, RenameTarget, Renaming
from yellow_trellis.semantics.scope import Binding, Occurrence
from yellow_trellis.syntax import Node, Tree


def may_see_name(symbol: RenameTarget, new: str, data: bytes) -> bool:
    """Return False: what asks for a member by a text says the text, or is a doubt where it is."""
    return False


def fault_of_target(graph: ModuleGraph, symbol: RenameTarget, new: str) -> str:
    """Return why there is no such thing to rename in the code base; empty if there is.

    Where there is one with the `new` name, it has been renamed already.
    """
    if symbol.argument:
        return "arguments have no names in calls of this language: rename them where they are"
    module, name = module_and_member(graph, symbol.name)
    if not graph.holds(module):
        return f"`{symbol.name}` is not of this code base"
    summary = graph.summary(module)
    exported = summary.exported if summary is not None and summary.exported else ()
    if "." in name:
        return f"`{name}` is a member, and what else has one of that name is not known"
    if name == "default":
        return f"what `{module}` gives as its default has another name in each file"
    if name not in exported:
        if new in exported:
            return ""
        like = near(name, exported)
        return f"`{module}` exports no `{name}`" + (f": did you mean `{like}`?" if like else "")
    target = graph.resolve(symbol.name)
    if target is None:
        return f"what `{module}` exports as `{name}` is not known for certain"
    if target.rpartition(".")[2] != name or not target.startswith(module):
        return f"`{symbol.name}` is another name of `{target}`: rename that"
    if new in exported:
        return f"`{module}` exports a `{new}` already"
    for other in sorted(graph.files):
        found = graph.summary(other)
        if found is None or other == module or not found.stars:
            continue
        if graph.resolve(f"{other}:{name}") == target and _has(graph, other, new):
            return f"`{other}` exports all of `{module}` and has a `{new}` already"
    return ""


def _has(graph: ModuleGraph, module: str, name: str) -> bool:
    summary = graph.summary(module)
    if summary is None:
        return False
    return name in (summary.exported or ()) or graph.brings(module, name)


def _handed_on(node: Node) -> str:
    above = node.parent
    if above is not None and above.kind == "subscript_expression":
        return "a member of the module is asked for by its text"
    return "the whole module is handed on here"


def rename_in(tree: Tree, symbol: RenameTarget, new: str) -> RenameResult:
    """Return what renames `symbol` to `new` in one file, and the places that may mean it."""
    facts = facts_of(tree)
    across = _Across(facts, symbol, new)
    across.collect()
    across.done.refuse_broken(tree, symbol.word, new)
    return RenameResult.of(across.done, tuple(sorted(set(across.doubts))))


class _Across:
    """One file, while it is looked through for what is renamed."""

    def __init__(self, facts: JavaScriptFacts, symbol: RenameTarget, new: str) -> None:
        self.facts = facts
        self.new = new
        self.word = symbol.word
        graph = facts.place.graph if facts.place.graph.files else facts.graph
        self.target = graph.resolve(symbol.name) or symbol.name
        self.done = Renaming()
        self.doubts: list[Doubt] = []

    def is_it(self, path: str | None) -> bool:
        """Return whether a path is what is renamed, by its name from before the run."""
        return path is not None and self.facts.graph.resolve(path) == self.target

    def collect(self) -> None:
        """Find all places."""
        for binding in self.facts.names.bindings:
            self._binding(binding)
        for node in self.facts.members(frozenset({self.word})):
            self._member(node)
        self._reexports()
        self._properties()
        self._doubts()

    # ------------------------------------------------------------------ names

    def _binding(self, binding: Binding) -> None:
        path = self.facts.paths.of_binding(binding)
        if binding.name == self.word and self.is_it(path) and self._gives(binding, path):
            self._rename(binding, lambda _: True)
            return
        for definition in binding.definitions:
            if self._takes_it(definition):
                if binding.name == self.word and not fault_of(binding, self.new):
                    self._rename(binding, lambda _: True)
                else:
                    self._keep(definition)

    def _gives(self, binding: Binding, path: str | None) -> bool:
        """Return whether other files have the thing by the name of a binding."""
        if path == f"{self.facts.place.module}:{binding.name}":
            return True
        return any(map(is_exported, binding.definitions))

    @cached_property
    def _is_given(self) -> bool:
        """True if the module gives the thing to others under the name that changes."""
        return self.is_it(f"{self.facts.place.module}:{self.word}")

    def _takes_it(self, definition: Occurrence) -> bool:
        """Return whether a definition takes what is renamed out of a module, by its name."""
        imported = self.facts.names.import_of(definition)
        if imported is not None:
            module = self.facts.paths.resolved(imported.module)
            return imported.name == self.word and self.is_it(f"{module}:{self.word}")
        key = self._key_of(definition)
        if key is None or key.text != self.word:
            return False
        return self.is_it(self.facts.paths.of_key(definition.node))

    @staticmethod
    def _key_of(definition: Occurrence) -> Node | None:
        """Return the name that a pattern takes a variable out of an object by."""
        node, above = definition.node, definition.node.parent
        if node.kind == "shorthand_property_identifier_pattern":
            return node
        if above is not None and above.kind == "assignment_pattern":
            above = above.parent
        return above.items[0] if above is not None and above.kind == "pair_pattern" else None

    def _rename(self, binding: Binding, is_source: Callable[[Occurrence], bool]) -> None:
        if reason := fault_of(binding, self.new):
            self.done.refuse_binding(binding, self.new, reason)
            return
        for item in binding.occurrences:
            write_in(item, self.new, self.done, lambda item: self._changes(item, is_source))

    def _changes(self, item: Occurrence, is_source: Callable[[Occurrence], bool]) -> bool:
        """Return whether the name at a place is that which other files say."""
        node, above = item.node, item.node.parent
        if node.kind == "shorthand_property_identifier":
            return self._is_exporting(node)
        if node.kind == "shorthand_property_identifier_pattern":
            return item.use == "bind" and self._takes_it(item)
        if above is not None and above.kind in ("export_specifier", "import_specifier"):
            return above.child("alias") is None and is_source(item)
        return False

    def _keep(self, definition: Occurrence) -> None:
        """Give the new name to what is taken, which keeps its own name in this file."""
        node, span = definition.node, definition.span
        specifier = node.parent
        if specifier is not None and specifier.kind == "import_specifier":
            name, alias = specifier.child("name"), specifier.child("alias")
            if alias is None:
                self.done.edits[span] = Edit.before(span, New(f"{self.new} as "))
            elif alias.text == self.new:
                self.done.put(specifier.span, self.new)
            elif name is not None:
                self.done.put(name.span, self.new)
        elif node.kind == "shorthand_property_identifier_pattern":
            write_pair(node, self.new, node.text, self.done)
        elif (key := self._key_of(definition)) is not None:
            self.done.put(key.span, self.new)

    # ------------------------------------------------------------------ members and exports

    def _member(self, node: Node) -> None:
        path = self.facts.paths.of(node)
        last = node.items[-1]
        if self.is_it(path) or self._is_export_of_own(node):
            self.done.put(last.span, self.new)

    def _is_export_of_own(self, node: Node) -> bool:
        """Return whether code says ``exports.name`` in the module that has it."""
        holder = "".join(node.items[0].text.split())
        first = holder.partition(".")[0]
        return (
            self._is_given
            and holder in ("exports", "module.exports")
            and self.facts.names.visible(first, self.facts.names.module) is None
        )

    def _reexports(self) -> None:
        """Rename in ``export {name} from "module"``, and where an export is called so by ``as``."""
        for specifier in self.facts.tree.of_kinds(frozenset({"export_specifier"})):
            name, alias = specifier.child("name"), specifier.child("alias")
            statement = specifier.parent.parent if specifier.parent is not None else None
            source = statement.child("source") if statement is not None else None
            if name is None:
                continue
            if alias is not None and alias.text == self.word and self._is_given:
                self.done.put(alias.span, self.new)
            if source is None or name.text != self.word:
                continue
            module = self.facts.paths.resolved(source.text[1:-1])
            if self.is_it(f"{module}:{self.word}"):
                if alias is not None and alias.text == self.new:
                    self.done.put(specifier.span, self.new)
                else:
                    self.done.put(name.span, self.new)

    def _properties(self) -> None:
        """Rename the keys of ``module.exports = {name: value}`` in the module that has it."""
        if not self._is_given:
            return
        for at in self.facts.tree.hits(self.word.encode("utf-8"), whole_word=True):
            leaf = self.facts.tree.leaf_at(at)
            if leaf is None or not self._is_exporting(leaf) or leaf.span in self.done.edits:
                continue
            if leaf.kind == "shorthand_property_identifier":
                self.done.edits[leaf.span] = Edit.before(leaf.span, New(f"{self.new}: "))
            elif leaf.kind == "property_identifier":
                self.done.put(leaf.span, self.new)

    def _is_exporting(self, leaf: Node) -> bool:
        """Return whether a name is a key of the object that ``module.exports`` is set to."""
        if not self._is_given:
            return False
        above = leaf.parent
        if above is not None and above.kind in ("method_definition", "pair"):
            if above.items[0] is not leaf:
                return False
            above = above.parent
        target = above.parent if above is not None and above.kind == "object" else None
        return (
            target is not None
            and target.kind == "assignment_expression"
            and "".join(target.items[0].text.split()) == "module.exports"
        )

    # ------------------------------------------------------------------ doubts

    def _doubts(self) -> None:
        """Note where a whole module that has it is handed on, or asked for it by a text."""
        for binding in self.facts.names.bindings:
            path = self.facts.paths.of_binding(binding)
            whole = self.facts.graph.resolve(path) if path is not None else None
            if whole is None or not self.facts.graph.holds(whole) or not self._has_it(whole):
                continue
            for item in binding.references:
                if not self._is_followed(item.node):
                    self.doubts.append(Doubt(item.span, _handed_on(item.node)))
        for call in self._calls():
            self.doubts.append(Doubt(call.span, "what is done with the module is not known"))

    def _is_followed(self, node: Node) -> bool:
        """Return whether what is taken out of a module is known where a name stands for that."""
        above = node.parent
        if above is None:
            return False
        if above.kind in MEMBERS:
            return above.items[-1] is not node
        if above.kind in ("export_specifier", "import_alias"):
            return True  # other files are looked at by themselves
        name = above.child("name") if above.kind == "variable_declarator" else None
        if name is None:
            return False
        if name.kind == "object_pattern":
            return not any(item.kind == "rest_pattern" for item in name.items)
        return self.facts.paths.of(name) == self.facts.paths.of(node)

    def _has_it(self, module: str | None) -> bool:
        return module is not None and self.is_it(f"{module}:{self.word}")

    def _calls(self) -> Iterator[Node]:
        """Yield calls that load a module which has it, and are used in a way not followed."""
        for call in self.facts.tree.of_kinds(frozenset({"call_expression"})):
            if call.items[0].text not in ("import", "require"):
                continue
            strings = [item for item in call.items[-1].items if item.kind == "string"]
            if len(strings) != 1:
                continue
            if not self._has_it(self.facts.paths.resolved(strings[0].text[1:-1])):
                continue
            outer = call
            above = outer.parent
            while above is not None and above.kind in (
                "await_expression", "parenthesized_expression",
            ):
                outer, above = above, above.parent
            if above is None or above.kind == "expression_statement":
                continue
            loaded = outer is not call or call.items[0].text == "require"
            if not loaded or not self._is_followed(outer):
                yield call
