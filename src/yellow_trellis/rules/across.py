"""Declared rules about one thing in many files: giving it another name, or another home."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

from yellow_trellis.facts import facts_of
from yellow_trellis.fixes import Fix
from yellow_trellis.fixes.rename import is_name
from yellow_trellis.fixes.rename_across import Thing, move_in, rename_in
from yellow_trellis.syntax import Tree


class Across(NamedTuple):
    """What is to happen to one thing wherever it is mentioned, in all files or in none.

    `old` is a dotted name (for a renaming, ``function(argument)`` too); `new` the name, or the
    whole dotted name of where it is now.
    """

    kind: Literal["rename", "move"]
    old: str
    new: str

    def fault(self) -> str:
        """Return what is wrong with the wish; empty if nothing is."""
        if "." not in self.old:
            return f"`{self.kind}` names a thing by its dotted name, `package.module.name`"
        if self.kind == "rename":
            if not is_name(self.new):
                return f"`to` must be a name, and {self.new!r} is none"
            if self.new == self.thing.word:
                return "the thing has that name already"
            return ""
        if self.new.rpartition(".")[2] != self.old.rpartition(".")[2] or "." not in self.new:
            return "what is moved keeps its name: `to` ends in the same name; rename it apart"
        return ""

    @property
    def thing(self) -> Thing:
        """What it is about."""
        return Thing.read(self.old)

    def concerns(self, data: bytes) -> bool:
        """Tell whether UTF-8 `data` can mention the thing under the name that changes."""
        return self.thing.word.encode("utf-8") in data

    @property
    def asked(self) -> frozenset[str]:
        """The dotted names that the code base is asked for."""
        return frozenset({self.thing.name})

    def fixes(self, tree: Tree, title: str) -> Iterator[Fix]:
        """Yield the fixes in one file."""
        if self.kind == "rename":
            made = rename_in(tree, self.thing, self.new, title)
            yield from () if made is None else (made,)
        else:
            yield from move_in(tree, self.old, self.new, title)

    def unsure(self, tree: Tree) -> list[int]:
        """Return where a member of that name is asked of something that is not known."""
        facts = facts_of(tree)
        thing = self.thing
        if self.kind != "rename" or thing.argument:
            return []
        entry = facts.graph.entry(thing.name.rpartition(".")[0])
        if entry is None or entry.kind != "class":
            return []
        members = facts.members(frozenset({thing.word}))
        asked = (node for node in members if node.kind == "attribute")
        return [node.items[-1].start for node in asked if facts.meaning(node) is None]
