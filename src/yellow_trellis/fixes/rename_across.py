"""Renaming what is defined in one file and used in many, and moving where it is imported from.

Each file is done alone: what a name means comes from the code base. A rule that does this in
several files does it in all of them or in none; that is seen to by whoever runs it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from yellow_trellis.facts import (
    Binding,
    Facts,
    Import,
    Occurrence,
    Scope,
    facts_of,
    relative_module,
    types_only,
)
from yellow_trellis.fixes.edit import Edit, Fix, New
from yellow_trellis.fixes.imports_in import names_in
from yellow_trellis.fixes.removal import removal
from yellow_trellis.fixes.rename import Renaming, clash_of, keywords_of, rename_binding
from yellow_trellis.fixes.spelling import (
    Brought,
    Wanted,
    Where,
    closes_circle,
    fault_of,
    missing,
    spell,
)
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

_ARGUMENT = re.compile(r"(?P<function>[\w.]+)\((?P<name>\w+)\)")
_CHAIN = re.compile(r"(?:\s*\.\s*\w+)+")


class Thing(NamedTuple):
    """What is renamed: a dotted name, or an argument of the function that has it."""

    name: str
    argument: str = ""

    @classmethod
    def read(cls, text: str) -> Thing:
        """Read ``package.module.name``, or ``package.module.function(argument)``."""
        found = _ARGUMENT.fullmatch(text)
        return cls(text) if found is None else cls(found["function"], found["name"])

    @property
    def word(self) -> str:
        """The name that changes."""
        return self.argument or self.name.rpartition(".")[2]


def rename_in(tree: Tree, thing: Thing, new: str, title: str) -> Fix | None:
    """Return the fix that renames `thing` to `new` in one file; None where it is not mentioned.

    The definition, its references, imports and re-exports, ``__all__``, names in annotations that
    are strings, and for an argument the calls that name it. A fix with a `clash` must not be done.
    """
    facts = facts_of(tree)
    done = Renaming()
    if thing.argument:
        _rename_argument(facts, thing, new, done)
    else:
        _Across(facts, thing, new, done).collect()
    for span in tree.broken:
        for at in tree.hits(thing.word.encode("utf-8"), span, whole_word=True):
            place = tree.source.place(at)
            done.refuse(f"the code at {place} does not parse and may mean it")
            done.put(Span(at, at + len(thing.word)), new)
    edits = done.in_order()
    if not edits:
        return None
    extent = Span(edits[0].span.start, max(edit.span.end for edit in edits))
    return Fix(title, edits, extent, clash=done.clash)


def _rename_argument(facts: Facts, thing: Thing, new: str, done: Renaming) -> None:
    function = facts.graph.resolve(thing.name) or thing.name
    for scope in facts.names.scopes:
        if scope.kind != "function" or not scope.binds(thing.argument):
            continue
        if facts.graph.resolve(facts.paths.of_scope(scope)) == function:
            binding = facts.names.bound(scope, thing.argument)
            if "argument" in binding.hows:
                rename_binding(binding, new, done)
    for node in keywords_of(facts, function, thing.argument):
        call = node.parent.parent if node.parent is not None else None
        others = (
            [i.items[0].text for i in call.items if i.kind == "keyword_argument"] if call else []
        )
        if new in others:
            done.refuse(f"the call at {node.place} has an argument `{new}` already")
        done.put(node.span, new)


class _Across:
    """One file, while it is looked through for what is renamed."""

    def __init__(self, facts: Facts, thing: Thing, new: str, done: Renaming) -> None:
        self.facts = facts
        self.word = thing.word
        self.new = new
        self.done = done
        target = facts.graph.resolve(thing.name) or thing.name
        self.targets, outside = facts.place.family(target)
        if outside:
            done.refuse(outside)

    def is_it(self, path: str | None) -> bool:
        """Tell whether a path is what is renamed, under its own name."""
        return path is not None and any(self.facts.graph.same(path, one) for one in self.targets)

    def collect(self) -> None:
        names, paths = self.facts.names, self.facts.paths
        for binding in names.bindings:
            if binding.name != self.word:
                continue
            if _defined(binding):
                if self.is_it(self._own_path(binding)):
                    rename_binding(binding, self.new, self.done)
            else:
                self._imported(binding)
        for scope, one in names.imports:
            if one.name == self.word and one.alias is not None:
                if self.is_it(one.target(self.facts.place.package)):
                    self.done.put(Span(one.item.start, one.item.start + len(self.word)), self.new)
            elif one.name == "*" and scope is names.module:
                self._through_star(scope)
        for node in self.facts.members(frozenset({self.word})):
            if self.is_it(paths.of(node)):
                self.done.put(node.items[-1].span, self.new)
        for span in self._quoted_members():
            self.done.put(span, self.new)
        for span in self._slots():
            self.done.put(span, self.new)

    def _own_path(self, binding: Binding) -> str:
        scope = binding.scope
        if scope.parent is None:
            return f"{self.facts.place.module}:{binding.name}"
        return f"{self.facts.paths.of_scope(scope)}.{binding.name}"

    def _imported(self, binding: Binding) -> None:
        """Rename what is imported; where the name is more than that, keep it with ``as``."""
        package = self.facts.place.package
        meant: dict[Occurrence, Import] = {}
        for one in binding.definitions:
            found = self.facts.names.import_of(one)
            if found is None or found.name != self.word or found.alias is not None:
                continue
            if self.is_it(found.target(package)):
                meant[one] = found
        if not meant:
            return
        if all(one in meant or _is_none(one) for one in binding.definitions):
            starts = frozenset(one.span.start for one in meant)
            rename_binding(binding, self.new, self.done, starts)
            return
        for found in meant.values():
            self.done.put(found.item, f"{self.new} as {self.word}")

    def _through_star(self, module: Scope) -> None:
        """Rename what is brought by ``from ... import *`` and bound nowhere here."""
        if self.facts.names.binds(module, self.word):
            return
        if not self.is_it(self.facts.paths.of_name(module, self.word)):
            return
        binding = self.facts.names.bound(module, self.word)
        reason = clash_of(binding, self.new)
        if reason:
            self.done.refuse(reason)
        for one in binding.occurrences:
            self.done.put(one.span, self.new)
        for name, span in self.facts.names.exported or ():
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

    def _slots(self) -> Iterator[Span]:
        """Yield where ``__slots__`` of a class lists the name."""
        for scope in self.facts.names.scopes:
            if scope.kind != "class" or not scope.binds("__slots__"):
                continue
            if self.is_it(f"{self.facts.paths.of_scope(scope)}.{self.word}"):
                listed = self.facts.names.texts_of(scope, "__slots__") or ()
                yield from (span for name, span in listed if name == self.word)


def _is_none(one: Occurrence) -> bool:
    statement = one.node.parent
    value = statement.child("right") if statement is not None else None
    return value is not None and value.kind == "none"


def _defined(binding: Binding) -> bool:
    """Tell whether the file defines the name, rather than import it, with ``= None`` at worst."""
    hows = binding.hows
    return "import" not in hows or bool(hows - {"import", "assignment"})


# ---------------------------------------------------------------------- moving


def move_in(tree: Tree, old: str, new: str, title: str) -> list[Fix]:
    """Return the fixes that import what was ``old`` from where it is now, ``new``, in one file.

    Only what names the old module changes: what comes through a re-export stays as it is.
    """
    facts = facts_of(tree)
    home, _, name = old.rpartition(".")
    target = new.rpartition(".")[0]
    if facts.place.module == target:
        return []
    fixes: list[Fix] = []
    for scope, one in facts.names.imports:
        if one.name == name and one.source(facts.place.package) == home:
            fixes.append(_moved_import(tree, scope, one, target, new, title))
    for node in facts.members(frozenset({name})):
        receiver = facts.paths.of(node.items[0])
        if receiver is not None and facts.graph.resolve(receiver) == home:
            text, wanted = spell(node, new, node)
            edit = Edit(node.span, (New(text),))
            imports = (wanted,) if wanted is not None else ()
            clash = fault_of(imports)
            fixes.append(Fix(title, (edit,), node.span, imports=imports, clash=clash))
    return fixes


def _moved_import(tree: Tree, scope: Scope, one: Import, target: str, new: str, title: str) -> Fix:
    statement = tree.leaf_at(*one.statement)
    assert statement is not None
    facts = facts_of(tree)
    written = _as_written(tree, one, target)
    module = statement.child("module_name")
    others = [
        known
        for _, known in facts.names.imports
        if known.name is not None and known.source(facts.place.package) == target
    ]
    where: Where = "local" if scope.kind == "function" else "module"
    if types_only(statement):
        where = "types"
    fault = missing(facts, target, new.rpartition(".")[2])
    if not fault and where == "module":
        fault = closes_circle(facts, target)
    items = names_in(statement)
    tried = any(above.kind == "try_statement" for above in statement.ancestors())
    if tried and not fault:
        fault = closes_circle(facts, one.source(facts.place.package) or "")
    if not fault and facts.must_load(one):
        fault = f"the import from `{one.source(facts.place.package)}` loads what others rely on"
    binding = facts.names.visible(one.bound, scope)
    doubled = binding is not None and len(binding.definitions) > 1
    if doubled and len(items) > 1 and not fault:
        fault = f"`{one.bound}` is bound more than once here: say which counts, in a line of its own"
    if len(items) == 1 and (doubled or not others) and module is not None:
        edits = (Edit(module.span, (New(written),)),)
        return Fix(title, edits, statement.span, clash=fault)
    item = next(i for i in items if i.start == one.item.start)
    edit = removal(item if len(items) > 1 else statement)
    beside = Brought.by(one) if len(items) > 1 and where != "types" else None
    wanted = Wanted(new, written, one.name, one.alias, where, beside)
    extent = Span(min(edit.span.start, one.item.start), max(edit.span.end, one.item.end))
    return Fix(title, (edit,), extent, imports=(wanted,), clash=fault)


def _as_written(tree: Tree, one: Import, target: str) -> str:
    """Return the new module in the manner of the old import: with dots, or in full."""
    package = facts_of(tree).place.package
    if not one.level or not package or target.partition(".")[0] != package.partition(".")[0]:
        return target
    return relative_module(target, package)
