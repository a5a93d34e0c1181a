"""Renaming as all languages have it: what is renamed, the edits of one file, and the doubts."""

from __future__ import annotations

import re
from typing import NamedTuple

from msgspec import Struct, field

from yellow_trellis.edits import Edit, New
from yellow_trellis.semantics.edit_group import EditGroup
from yellow_trellis.semantics.scope import Binding
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

_ARGUMENT = re.compile(r"(?P<function>[\w.]+)\((?P<name>\w+)\)")


class Renaming(Struct):
    """The edits that rename, by the place they change, and why the renaming must not be done."""

    edits: dict[Span, Edit] = field(default_factory=dict)
    clash: str = ""

    def put(self, span: Span, text: str) -> None:
        """Write `text` over the name at `span`."""
        self.edits[span] = Edit(span, (New(text),))

    def refuse(self, reason: str) -> None:
        """Note a reason; the first one is reported."""
        self.clash = self.clash or reason

    def refuse_binding(self, binding: Binding, new: str, reason: str) -> None:
        """Note why `binding` cannot be called `new`, with the edit that was wanted, to be shown."""
        self.refuse(reason)
        self.put(binding.occurrences[0].span, new)

    def refuse_broken(self, tree: Tree, word: str, new: str) -> None:
        """Note where code that does not parse says `word`, which becomes `new`."""
        for span in tree.broken:
            for at in tree.hits(word.encode("utf-8"), span, whole_word=True):
                self.refuse(f"the code at {tree.source.place(at)} does not parse and may mean it")
                self.put(Span(at, at + len(word.encode("utf-8"))), new)

    def in_order(self) -> tuple[Edit, ...]:
        """Return the edits by place."""
        return tuple(self.edits[span] for span in sorted(self.edits))


class Doubt(NamedTuple):
    """A place that may mean the thing, and why it is not known."""

    span: Span
    reason: str


class RenameTarget(NamedTuple):
    """The target of a renaming: a dotted name, or an argument of the function under it."""

    name: str
    argument: str = ""

    @classmethod
    def read(cls, text: str) -> RenameTarget:
        """Read ``package.module.name``, or ``package.module.function(argument)``."""
        match = _ARGUMENT.fullmatch(text)
        return cls(text) if match is None else cls(match["function"], match["name"])

    @property
    def word(self) -> str:
        """The name that changes."""
        return self.argument or self.name.rpartition(".")[2]


class RenameResult(NamedTuple):
    """The edits and doubts of a renaming in one file."""

    group: EditGroup | None
    """What renames it; None where it is not mentioned. One with a `clash` must not be done."""
    doubts: tuple[Doubt, ...]
    """Places that may mean it, in source order: they are left to a person."""

    @classmethod
    def of(cls, done: Renaming, doubts: tuple[Doubt, ...]) -> RenameResult:
        """Return what was collected in `done` as one group, with the doubts."""
        edits = done.in_order()
        if not edits:
            return cls(None, doubts)
        extent = Span(edits[0].span.start, max(edit.span.end for edit in edits))
        return cls(EditGroup(edits, extent, clash=done.clash), doubts)
