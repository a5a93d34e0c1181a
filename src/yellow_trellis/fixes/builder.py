"""Fixes written by hand in a code rule: a few verbs over nodes; what they do not say stays."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Union

from yellow_trellis.facts import Binding, Import
from yellow_trellis.fixes.drop_imports import import_removal
from yellow_trellis.fixes.edit import Edit, Fix, Kept, New, Order, Piece, Safety
from yellow_trellis.fixes.fill import fill
from yellow_trellis.fixes.layout import moved_indent
from yellow_trellis.fixes.removal import removal
from yellow_trellis.fixes.rename import Renaming, rename_binding
from yellow_trellis.fixes.spelling import Wanted, Where, spell
from yellow_trellis.fixes.template import compile_template
from yellow_trellis.patterns import Match
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.trivia import reach


@dataclass(frozen=True, slots=True)
class Named:
    """What is defined under the dotted name `name`, written as the file says it."""

    name: str


Code = Union[str, Node, Named]
"""New text, a node whose code is kept, or a name by meaning."""


class FixBuilder:
    """A fix in the making. Every verb returns the builder, so that verbs can be chained.

    Code to put is given as strings, nodes and `named` names in order; a node is kept as a slice, so
    that fixes inside it still apply; a name brings the import that it needs.
    """

    def __init__(
        self, title: str, *, safety: Safety = "safe", drops_comments: bool = False
    ) -> None:
        self.title = title
        self.safety: Safety = safety
        self.drops_comments = drops_comments
        self._edits: list[Edit] = []
        self._shaped: Fix | None = None
        self._imports: list[Wanted] = []
        self._clash = ""

    def replace(self, node: Node, *code: Code) -> FixBuilder:
        """Put `code` where `node` is."""
        self._edits.append(Edit(node.span, self._pieces(node, code)))
        return self

    def remove(self, node: Node) -> FixBuilder:
        """Take out a statement, or an item of a list with its separator."""
        self._edits.append(removal(node))
        return self

    def unimport(self, node: Node) -> FixBuilder:
        """Take out an import statement, or one item of it; the statement goes with its last."""
        self._edits.extend(import_removal(node))
        return self

    def bring(self, imported: Import, where: Where = "module") -> FixBuilder:
        """Import what `imported` does at the top of the file, or for type checkers only."""
        module = "." * imported.level + imported.module
        wanted = Wanted(module, module, imported.name, imported.alias, where)
        self._imports.append(wanted)
        return self

    def before(self, node: Node, *code: Code, order: Order | None = None) -> FixBuilder:
        """Insert `code` before `node`: a statement on its own line, else directly in front."""
        pieces = self._pieces(node, code)
        if not _is_statement(node):
            self._edits.append(Edit.before(node.span, *pieces, order=order))
            return self
        anchor = Span(reach(node).start, node.end)
        self._edits.append(Edit.before(anchor, *pieces, New(_between(node)), order=order))
        return self

    def after(self, node: Node, *code: Code, order: Order | None = None) -> FixBuilder:
        """Insert `code` after `node`: a statement on its own line, else directly behind."""
        pieces = self._pieces(node, code)
        if not _is_statement(node):
            self._edits.append(Edit.after(node.span, *pieces, order=order))
            return self
        anchor = Span(node.start, reach(node).end)
        self._edits.append(Edit.after(anchor, New(_between(node)), *pieces, order=order))
        return self

    def wrap(self, node: Node, head: str, tail: str) -> FixBuilder:
        """Put `head` before and `tail` after `node`, which stays where it is."""
        self._edits.append(Edit(node.span, (New(head), Kept(node.span), New(tail))))
        return self

    def swap(self, one: Node, other: Node) -> FixBuilder:
        """Let two nodes change places."""
        self._edits.append(Edit(one.span, (self._kept(one, other),)))
        self._edits.append(Edit(other.span, (self._kept(other, one),)))
        return self

    def rename(self, binding: Binding, name: str) -> FixBuilder:
        """Give `binding` another name wherever its file says it; see `Code.refers_to`.

        Where the name is taken, or code would come to mean something else by it, the fix is
        refused as a name clash.
        """
        done = Renaming()
        rename_binding(binding, name, done)
        self._edits.extend(done.in_order())
        self._clash = self._clash or done.clash
        return self

    def put(self, match: Match, template: str) -> FixBuilder:
        """Put a template, with the holes of the match's pattern, where `match` is."""
        made = fill(compile_template(template, match.pattern), match, title=self.title)
        self._shaped = made
        self._edits.extend(made.edits)
        self._imports.extend(made.imports)
        self._clash = self._clash or made.clash
        return self

    def made(self, extent: Span) -> Fix:
        """Return the fix; `extent` is the code it is about, stretched over all its edits."""
        if not self._edits and self._clash:
            return Fix(self.title, (), extent, self.safety, clash=self._clash)
        if not self._edits:
            raise ValueError(f"the fix {self.title!r} edits nothing")
        start = min(extent.start, *(edit.span.start for edit in self._edits), extent.start)
        end = max(extent.end, *(edit.span.end for edit in self._edits), extent.end)
        shape = None
        if self._shaped is not None and self._shaped.extent == Span(start, end):
            shape = self._shaped.shape
        edits = tuple(sorted(self._edits, key=lambda e: e.span))
        return Fix(
            self.title,
            edits,
            Span(start, end),
            self.safety,
            self.drops_comments,
            shape=shape,
            imports=tuple(dict.fromkeys(self._imports)),
            clash=self._clash,
        )

    def _pieces(self, place: Node, code: tuple[Code, ...]) -> tuple[Piece, ...]:
        indent = place.tree.source.indent_at(place.start).decode("utf-8", "replace")
        pieces: list[Piece] = []
        for part in code:
            if isinstance(part, Node):
                pieces.append(self._kept(place, part))
            elif isinstance(part, Named):
                text, wanted = spell(place, part.name)
                self._imports += [wanted] if wanted is not None else []
                pieces.append(New(text))
            else:
                pieces.append(New(part.replace("\n", "\n" + indent)))
        return tuple(pieces)

    @staticmethod
    def _kept(place: Node, node: Node) -> Kept:
        source = node.tree.source
        indent = source.indent_at(place.start).decode("utf-8", "replace")
        return Kept(node.span, moved_indent(source, node.span, indent))


def fix(title: str, *, safety: Safety = "safe", drops_comments: bool = False) -> FixBuilder:
    """Start a fix called `title`, an imperative that says what it does to the code."""
    return FixBuilder(title, safety=safety, drops_comments=drops_comments)


def named(name: str) -> Named:
    """Return a piece of code that refers to what is defined under the dotted name `name`.

    It is written as the file says it; the import is added where it is missing.
    """
    return Named(name)


def _is_statement(node: Node) -> bool:
    return node.parent is not None and node.parent.kind in node.tree.language.bodies


def _between(node: Node) -> str:
    """Return what stands between `node` and a new statement beside it."""
    source = node.tree.source
    line = source.lines.start(node.start)
    if source.data[line : node.start].strip():
        return "; "
    return "\n" + source.indent_at(node.start).decode("utf-8", "replace")
