"""Declared rules about one thing in many files: giving it another name, or another home."""

from __future__ import annotations

from typing import Literal, NamedTuple

from yellow_trellis.fixes import Fix
from yellow_trellis.languages import DEFAULT, language
from yellow_trellis.semantics import (
    Doubt,
    EditGroup,
    ModuleGraph,
    RenameTarget,
    require_semantics,
    semantics_of,
)
from yellow_trellis.syntax import Tree


class Across(NamedTuple):
    """A change to one symbol wherever it is mentioned, in all files or in none.

    `old` is a dotted name (for a renaming, ``function(argument)`` too); `new` the name, or the
    whole dotted name of where it is now.
    """

    kind: Literal["rename", "move"]
    old: str
    new: str
    language: str = DEFAULT

    def fault(self) -> str:
        """Return what is wrong with the wish; empty if nothing is."""
        if "." not in self.old:
            return f"`{self.kind}` names a thing by its dotted name, `package.module.name`"
        try:
            semantics = require_semantics(language(self.language))
        except ValueError as error:
            return str(error)
        if self.kind == "rename":
            if not semantics.is_name(self.new):
                return f"`to` must be a name, and {self.new!r} is none"
            if self.new == self.thing.word:
                return "the thing has that name already"
            return ""
        if self.new.rpartition(".")[2] != self.old.rpartition(".")[2] or "." not in self.new:
            return "what is moved keeps its name: `to` ends in the same name; rename it apart"
        return ""

    @property
    def thing(self) -> RenameTarget:
        """The symbol to change."""
        return RenameTarget.read(self.old)

    def concerns(self, data: bytes) -> bool:
        """Return whether UTF-8 `data` can mention the thing, or see its name as it runs."""
        if self.mentions(data):
            return True
        return self.kind == "rename" and self._may_see_name(data)

    def mentions(self, data: bytes) -> bool:
        """Return whether UTF-8 `data` can mention the thing under the name that changes."""
        if self.thing.word.encode("utf-8") in data:
            return True
        if self.kind == "move":
            return False
        # a star import may bring the new name to a file that has it otherwise, and keywords may
        # come out of a mapping
        return b"*" in data and any(name.encode("utf-8") in data for name in self._beside)

    @property
    def _beside(self) -> list[str]:
        owner = self.thing.name if self.thing.argument else self.thing.name.rpartition(".")[0]
        return [self.new, owner.rpartition(".")[2]]

    def may_be_among(self, words: bytes) -> bool:
        """Return whether a file that has just `words`, one a line, can mention the thing."""
        names = [self.thing.word, *([] if self.kind == "move" else self._beside)]
        if any(name.encode("utf-8") in words for name in names):
            return True
        return self.kind == "rename" and self._may_see_name(words)

    def _may_see_name(self, data: bytes) -> bool:
        semantics = require_semantics(language(self.language))
        return semantics.may_see_name(self.thing, self.new, data)

    @property
    def required_symbols(self) -> frozenset[str]:
        """The dotted names that the code base is asked for."""
        return frozenset({self.thing.name})

    def fault_in(self, graph: ModuleGraph) -> str:
        """Return why a code base has nothing to do this to; empty if it has."""
        if self.kind == "move":
            return ""
        semantics = require_semantics(language(self.language))
        return semantics.fault_of_target(graph, self.thing, self.new)

    def look(self, tree: Tree, title: str) -> tuple[list[Fix], tuple[Doubt, ...]]:
        """Return the fixes in one file, and the places that may mean the thing."""
        semantics = semantics_of(tree.language)
        if semantics is None:
            return [], ()
        if self.kind == "move":
            groups = semantics.move_in(tree, self.old, self.new)
            return [_fix(title, group) for group in groups], ()
        done = semantics.rename_in(tree, self.thing, self.new)
        return ([_fix(title, done.group)] if done.group is not None else []), done.doubts


def _fix(title: str, group: EditGroup) -> Fix:
    return Fix(title, group.edits, group.extent, imports=group.imports, clash=group.clash)
