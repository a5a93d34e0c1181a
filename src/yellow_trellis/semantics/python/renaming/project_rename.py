"""Renaming what is defined in one file and used in many.

Each file is done alone: what a name means comes from the code base. A rule that does this in
several files does it in all of them or in none; that is seen to by whoever runs it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from yellow_trellis.schema import near
from yellow_trellis.semantics import (
    Binding,
    Doubt,
    Import,
    ModuleGraph,
    Occurrence,
    RenameResult,
    RenameTarget,
    Renaming,
    Scope,
    Summary,
)
from yellow_trellis.semantics.python.renaming.goal import IT, Goal
from yellow_trellis.semantics.python.renaming.mentions import Mentions
from yellow_trellis.semantics.python.renaming.rename import clash_of, rename_binding, shows_name
from yellow_trellis.semantics.python.renaming.run_time import RunTime
from yellow_trellis.semantics.python.semantic_model import PythonFacts, facts_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree

_CHAIN = re.compile(r"(?:\s*\.\s*\w+)+")


def fault_of_target(graph: ModuleGraph, symbol: RenameTarget, new: str) -> str:
    """Return why there is no such thing to rename in the code base; empty if there is.

    Where there is one with the `new` name, it has been renamed already.
    """
    result = graph.resolve(symbol.name)
    if result is not None and graph.holds(result):
        return f"`{symbol.name}` is a module: rename its file, and what imports it, by hand"
    owner, _, name = symbol.name.rpartition(".")
    if _is_there(graph, owner, name) or (not symbol.argument and _is_there(graph, owner, new)):
        return ""
    parts = symbol.name.split(".")
    names = (".".join(parts[:n]) for n in range(1, len(parts) + 1))
    if copy := next((name for name in names if name in graph.ambiguous), ""):
        return f"there are several `{copy}` in this code base: name the folder of one to run in"
    content = next(
        (n for n in range(len(parts) - 1, 0, -1) if graph.holds(".".join(parts[:n]))), 0
    )
    if not content:
        return f"`{symbol.name}` is not of this code base"
    home, name = ".".join(parts[:content]), ".".join(parts[content:])
    summary = graph.summary(home)
    like = near(name, _names_in(summary)) if summary is not None else ""
    return f"`{home}` has no `{name}`" + (f": did you mean `{like}`?" if like else "")


def _is_there(graph: ModuleGraph, owner: str, name: str) -> bool:
    """Return whether a module or class has a name, be it by another module or class."""
    result = graph.resolve(f"{owner}.{name}")
    if result is not None and graph.entry(result) is not None:
        return True
    home = graph.resolve(owner)
    classes = [home, *graph.bases(home)] if home is not None else []
    entries = (graph.entry(class_) for class_ in classes if class_ is not None)
    return any(entry is not None and name in entry.members for entry in entries)


def _names_in(summary: Summary) -> Iterator[str]:
    """Yield the names of a module, and those of its classes behind a dot."""
    for name, entry in summary.names.items():
        yield name
        yield from (f"{name}.{member}" for member in entry.members)


def rename_in(tree: Tree, symbol: RenameTarget, new: str) -> RenameResult:
    """Return what renames `symbol` to `new` in one file, and the places that may mean it.

    The definition, its references, imports and re-exports, ``__all__``, names in annotations that
    are strings, class patterns, and the calls that say it by keyword.
    """
    facts = facts_of(tree)
    done = Renaming()
    across = _Across(facts, symbol, new, done)
    across.collect()
    doubts = across.doubts()
    done.refuse_broken(tree, symbol.word, new)
    return RenameResult.of(done, doubts)


def _goal_of(facts: PythonFacts, symbol: RenameTarget, done: Renaming) -> Goal:
    """Return what is sought, with all names that it has."""
    graph = facts.place.graph if facts.place.graph.files else facts.graph
    target = graph.resolve(symbol.name) or symbol.name
    entry = graph.entry(target)
    if symbol.argument and entry is not None and entry.kind == "class":
        target = graph.resolve(f"{target}.__init__") or target
    targets, outside = facts.place.family(target)
    if outside and not symbol.argument:
        done.refuse(outside)
    if symbol.argument:
        return Goal(symbol.argument, targets, "argument", graph)
    owner = graph.entry(target.rpartition(".")[0])
    if owner is None or owner.kind != "class":
        return Goal(symbol.word, targets, "name", graph)
    result = any(_is_made_by_fields(graph, name.rpartition(".")[0]) for name in targets)
    return Goal(symbol.word, targets, "field" if result else "member", graph)


def _is_made_by_fields(graph: ModuleGraph, name: str) -> bool:
    entry = graph.entry(name)
    if entry is None:
        return False
    if entry.by_fields:
        return True
    above = (graph.entry(base) for base in graph.bases(name) if base is not None)
    return any(item is not None and item.by_fields for item in above)


class _Across:
    """One file, while it is looked through for what is renamed."""

    def __init__(self, facts: PythonFacts, symbol: RenameTarget, new: str, done: Renaming) -> None:
        self.facts = facts
        self.new = new
        self.done = done
        self.goal = _goal_of(facts, symbol, done)
        self.word = self.goal.word
        self.mentions = Mentions(facts, self.goal, new)
        self.is_it = self.mentions.is_it
        self._doubtful: list[Doubt] = []
        self._kept: list[Binding] = []
        """Bindings that keep the name in this file, by ``as``."""

    def collect(self) -> None:
        """Find all places that mean it for sure."""
        if self.goal.role == "argument":
            self._arguments()
        else:
            self._names()
        for binding in self._kept:
            self.mentions.other.update(occurrence.span for occurrence in binding.occurrences)
        for span, verdict in self.mentions.elsewhere(self._is_done):
            if verdict == IT:
                self._add_edit(span)
            else:
                self._doubtful.append(Doubt(span, verdict))
        for span in self.mentions.handed_through():
            self._doubtful.append(Doubt(span, "keywords come out of a mapping"))
        places = RunTime(self.facts, self.goal, self.new).places()
        self._doubtful += (Doubt(span, reason) for span, reason in places)

    def doubts(self) -> tuple[Doubt, ...]:
        """Return the places that may mean it, in source order."""
        return tuple(sorted({doubt.span: doubt for doubt in reversed(self._doubtful)}.values()))

    def _is_done(self, span: Span) -> bool:
        if span in self.done.edits:
            return True
        return any(done.start <= span.start < done.end for done in self.done.edits)

    def _add_edit(self, span: Span) -> None:
        node = self.facts.tree.leaf_at(*span)
        assert node is not None
        if shows_name(node):
            self.done.refuse(f"the text at {node.place} shows the name itself")
        if self.new in _keywords_beside(node):
            self.done.refuse(f"the call at {node.place} has an argument `{self.new}` already")
        self.done.put(span, self.new)

    def _arguments(self) -> None:
        for scope in self.facts.names.scopes:
            if scope.kind != "function" or not self.is_it(self.facts.paths.of_scope(scope)):
                continue
            binding = self.facts.names.bound(scope, self.word)
            if scope.binds(self.word) and "argument" in binding.hows:
                rename_binding(binding, self.new, self.done)
        if self.goal.takes_any and not self.goal.is_by_place:
            reason = f"the call gives the function a `{self.new}` besides"
            self._doubtful += (
                Doubt(span, reason) for span in self.mentions.calls_with(self.new)
            )

    def _names(self) -> None:
        names = self.facts.names
        self._refuse_taken()
        self._doubtful += self._keys_of_types()
        for binding in names.bindings:
            if binding.name != self.word:
                continue
            if self.is_it(self._own_path(binding)) and _defined(binding):
                starts = {d.span.start for d in binding.definitions if self._imports_it(d)}
                rename_binding(binding, self.new, self.done, frozenset(starts))
            else:
                self._imported(binding)
        for scope, item in names.imports:
            if item.name == self.word and item.alias not in (None, self.word):
                if self.is_it(item.target(self.facts.place.package)):
                    leaf = self.facts.tree.leaf_at(item.item.start)
                    assert leaf is not None
                    self.done.put(leaf.span, self.new)
            elif item.name == "*" and scope is names.module:
                self._through_star(scope, item)
        for span in (*self._quoted_members(), *self._listed()):
            self.done.put(span, self.new)

    def _keys_of_types(self) -> Iterator[Doubt]:
        """Yield where the file makes it a key of a mapping."""
        names, paths = self.facts.names, self.facts.paths
        for scope in names.scopes:
            if scope.kind == "class" and self.goal.role == "field" and scope.binds(self.word):
                node = names.node_of(scope).child("superclasses")
                if node is not None and "TypedDict" in node.text:
                    if self.is_it(f"{paths.of_scope(scope)}.{self.word}"):
                        yield Doubt(node.span, "the keys of a TypedDict are texts")

    def _refuse_taken(self) -> None:
        """Refuse a name that a class of the line has, or that a module has for a part of it."""
        facts, graph = self.facts, self.facts.graph
        if self.new.startswith("__") or self.word.startswith("__"):
            self.done.refuse("names that start with two underscores mean something else in a class")
        for owner in sorted(self.goal.owners):
            if self.goal.role == "name":
                if graph.holds(f"{owner}.{self.new}"):
                    self.done.refuse(f"`{owner}.{self.new}` is a module")
                continue
            line, _ = facts.place.family(f"{owner}.{self.new}")
            for name in sorted(line):
                holder = graph.entry(name.rpartition(".")[0])
                if holder is not None and self.new in holder.members:
                    self.done.refuse(f"`{name}` is there already")

    def _own_path(self, binding: Binding) -> str:
        scope = binding.scope
        if scope.parent is None:
            return f"{self.facts.place.module}:{binding.name}"
        return f"{self.facts.paths.of_scope(scope)}.{binding.name}"

    def _imported(self, binding: Binding) -> None:
        """Rename what is imported; where the name is more than that, keep it with ``as``."""
        package = self.facts.place.package
        table: dict[Occurrence, Import] = {}
        for definition in binding.definitions:
            result = self.facts.names.import_of(definition)
            if result is None or result.name != self.word:
                continue
            if result.alias not in (None, self.word):
                continue
            if self.is_it(result.target(package)):
                table[definition] = result
        if not table:
            return
        alone = all(
            definition in table or _is_none(definition) for definition in binding.definitions
        )
        alone = alone and not self._is_bound_by_star(binding)
        if alone and not (clash_of(binding, self.new) and self._may_keep(binding)):
            starts = frozenset(item.span.start for item in table)
            rename_binding(binding, self.new, self.done, starts)
            for result in table.values():
                if result.alias is not None:  # a name that is exported, `stamp as stamp`
                    for span in [s for s in self.done.edits if result.item.holds(s)]:
                        del self.done.edits[span]
                    self.done.put(result.item, f"{self.new} as {self.new}")
            self._refuse_unhidden(binding)
            return
        self._kept.append(binding)
        for result in table.values():
            self.done.put(result.item, f"{self.new} as {self.word}")

    def _refuse_unhidden(self, binding: Binding) -> None:
        """Refuse to take a name from a package that has a module of the same name."""
        module = f"{self.facts.place.module}.{self.word}"
        if binding.scope.parent is None and self.facts.graph.holds(module):
            self.done.refuse(f"`{module}` is a module as well, which the name hides")

    def _is_bound_by_star(self, binding: Binding) -> bool:
        """Return whether a star import brings the name too, so that it may mean another thing."""
        names = self.facts.names
        if binding.scope is not names.module or all(i.name != "*" for i in names.module.imports):
            return False
        path = f"{self.facts.place.module}:*.{self.word}"
        brought = self.facts.graph.resolve(path)
        return brought not in (None, f"builtins.{self.word}") and not self.is_it(path)

    def _imports_it(self, occurrence: Occurrence) -> bool:
        """Return whether a place imports what is renamed."""
        result = self.facts.names.import_of(occurrence)
        return result is not None and self.is_it(result.target(self.facts.place.package))

    def _may_keep(self, binding: Binding) -> bool:
        """Return whether the name may stay in this file, because nobody takes it from here."""
        place = self.facts.place
        if binding.scope is not self.facts.names.module:
            return True
        return not place.gives(place.module, self.word) and not self.facts.names.exported

    def _through_star(self, module: Scope, item: Import) -> None:
        """Rename what is brought by ``from ... import *`` and bound nowhere here."""
        names, graph = self.facts.names, self.facts.graph
        here = self.facts.place.module
        brought = graph.resolve(f"{here}:*.{self.new}")
        mentions = self.word in module.users or names.binds(module, self.word)
        if mentions and brought is not None and not brought.startswith("builtins."):
            self._doubtful.append(Doubt(item.item, f"it brings another `{self.new}` too"))
        if not self.is_it(f"{here}:*.{self.word}"):
            return
        binding = names.bound(module, self.word)
        reason = clash_of(binding, self.new)
        if reason:
            self._doubtful.append(Doubt(item.item, f"it would bring `{self.new}`: {reason}"))
        if names.binds(module, self.word):
            before = (d for d in binding.definitions if d.span.start < item.item.start)
            if not all(self._imports_it(definition) for definition in before):
                self._doubtful.append(Doubt(item.item, "it binds anew what is bound before"))
            elif _is_read_first(binding):
                self._doubtful.append(Doubt(item.item, "what it brings is used, then bound anew"))
            return
        for occurrence in binding.occurrences:
            self.done.put(occurrence.span, self.new)
        for name, span in names.exported or ():
            if name == self.word:
                self.done.put(span, self.new)

    def _quoted_members(self) -> Iterator[Span]:
        """Yield where annotations in quotes say the name behind a dot."""
        facts, source = self.facts, self.facts.tree.source
        for scope in facts.names.scopes:
            for name, symbol in scope.symbols.items():
                for start in symbol.starts("quoted"):
                    end = start + len(symbol.spelled)
                    path = facts.paths.of_name(scope.owner(name), name)
                    chain = _CHAIN.match(source.text(Span(end, min(end + 200, len(source.data)))))
                    if path is None or chain is None:
                        continue
                    for part in re.finditer(r"\w+", chain[0]):
                        path = f"{path}.{part[0]}"
                        if part[0] == self.word and self.is_it(path):
                            yield Span(end + part.start(), end + part.end())

    def _listed(self) -> Iterator[Span]:
        """Yield where ``__slots__`` or ``__match_args__`` of a class lists the name."""
        names = self.facts.names
        for scope in names.scopes:
            for lister in ("__slots__", "__match_args__"):
                if scope.kind != "class" or not scope.binds(lister):
                    continue
                path = self.facts.paths.of_scope(scope)
                listed = names.texts_of(scope, lister)
                if self.is_it(f"{path}.{self.word}"):
                    yield from (span for name, span in listed or () if name == self.word)
                if listed is None and self.goal.has(path.replace(":", ".")):
                    place = next(scope.occurrences(lister)).span
                    self._doubtful.append(Doubt(place, "a list of names that is worked out"))


def _keywords_beside(node: Node) -> list[str]:
    """Return the keywords of a call of which `node` is one."""
    keyword = node.parent
    if keyword is None or keyword.kind != "keyword_argument" or node.field != "name":
        return []
    beside = keyword.parent.items if keyword.parent is not None else ()
    return [item.items[0].text for item in beside if item.kind == "keyword_argument"]


def _is_none(occurrence: Occurrence) -> bool:
    statement = occurrence.node.parent
    value = statement.child("right") if statement is not None else None
    return value is not None and value.kind == "none"


def _defined(binding: Binding) -> bool:
    """Return whether the file binds the name by more than imports."""
    return bool(binding.hows - {"import"})


_SURE = frozenset({"class_definition", "decorated_definition", "expression_statement"})
_SURE |= {"function_definition", "import_from_statement", "import_statement"}
"""Statements of a module that bind a name whenever they run."""


def _is_read_first(binding: Binding) -> bool:
    """Return whether a name of a module may be read before one of its definitions has run."""
    bound: list[int] = []
    for definition in binding.definitions:
        outer = [definition.node, *definition.node.ancestors()]
        if len(outer) > 1 and outer[-2].kind in _SURE:
            bound.append(outer[-2].end)
    return any(not bound or read.span.start < min(bound) for read in binding.references)
