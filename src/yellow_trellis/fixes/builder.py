"""Fixes written by hand in a code rule: a few verbs over nodes; what they do not say stays."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from itertools import pairwise
from typing import Any, Union

from msgspec import Struct

from yellow_trellis.edits import Edit, New, Order, Piece, Slice
from yellow_trellis.edits.edit import Neighbour, put_after, put_before
from yellow_trellis.edits.lists import append_to, broken, item_beside, items_of, joined, reorder
from yellow_trellis.edits.neighbours import is_statement, neighbour_of
from yellow_trellis.edits.removal import blank_lines_before, definition_of, removals
from yellow_trellis.edits.statement_insertion import (
    beside,
    between,
    body_of,
    first_in,
    in_block,
    is_alone,
    last_in,
    line_before,
)
from yellow_trellis.edits.whitespace import in_string, indented, moved_indent
from yellow_trellis.fixes import Fix, Safety, TemplateUse
from yellow_trellis.fixes.seen_elsewhere import seen_elsewhere
from yellow_trellis.fixes.template import compile_template
from yellow_trellis.fixes.template_rewrite import fill
from yellow_trellis.patterns import Match
from yellow_trellis.semantics import (
    Binding,
    Import,
    Renaming,
    RequiredImport,
    fault_of,
    require_semantics,
)
from yellow_trellis.semantics.required_import import ImportPlacement
from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.comment_ownership import attached, reach, run_reach


class Reference(Struct, frozen=True):
    """A reference to the definition under the dotted name `name`, spelled as the file spells it."""

    name: str


Code = Union[str, Node, Reference]
"""New text, a node whose code is kept, or a name by meaning."""


class FixBuilder:
    """A fix in the making. Every verb returns the builder, so that verbs can be chained.

    Code to put is given as strings, nodes and `named` names in order; a node is kept as a slice, so
    that fixes inside it still apply; a name brings the import that it needs.
    """

    def __init__(
        self,
        title: str,
        *,
        safety: Safety = "safe",
        drops_comments: bool = False,
        width: int | None = None,
    ) -> None:
        self.title = title
        self.safety: Safety = safety
        self.drops_comments = drops_comments
        self.width = width
        self._edits: list[Edit] = []
        self._going: list[Node] = []
        self._moved: list[Node] = []
        self._fault = ""
        self._puts: list[TemplateUse] = []
        self._imports: list[RequiredImport] = []
        self._clash = ""

    def replace(self, node: Node, *code: Code) -> FixBuilder:
        """Put `code` where `node` is."""
        return self._with(lambda: [_in_place_of(node, self._pieces(node, code))])

    def remove(self, node: Node) -> FixBuilder:
        """Take out a statement, or an item of a list with its separator."""
        self._going.append(node)
        return self

    def unimport(self, node: Node) -> FixBuilder:
        """Take out an import statement, or one item of it; the statement goes with its last."""
        return self._with(lambda: require_semantics(node.tree.language).removal_of_import(node))

    def bring(self, imported: Import, where: ImportPlacement = "module") -> FixBuilder:
        """Import what `imported` does at the top of the file, or for type checkers only."""
        module = "." * imported.level + imported.module
        required_import = RequiredImport(module, module, imported.name, imported.alias, where)
        self._imports.append(required_import)
        return self

    def before(self, node: Node, *code: Code, order: Order | None = None) -> FixBuilder:
        """Insert `code` before `node`: a statement on its own line, else directly in front."""
        pieces = self._pieces(node, code)
        if is_alone(node):
            return self._with(lambda: in_block(node, pieces, is_first=True))
        if not is_statement(node):
            neighbour = item_beside(node, pieces)
            return self._with(
                lambda: [put_before(neighbour, node.span, *pieces, order=order)]
            )
        return self._with(lambda: [line_before(node, pieces, order)])

    def after(self, node: Node, *code: Code, order: Order | None = None) -> FixBuilder:
        """Insert `code` after `node`: a statement on its own line, else directly behind."""
        pieces = self._pieces(node, code)
        if is_alone(node):
            return self._with(lambda: in_block(node, pieces, is_first=False))
        if not is_statement(node):
            neighbour = item_beside(node, pieces)
            return self._with(
                lambda: [put_after(neighbour, node.span, *pieces, order=order)]
            )
        return self._with(lambda: beside(node, pieces, order, 0))

    def first_in(
        self, body: Node, *code: Code, order: Order | None = None, blank_after: int = 0
    ) -> FixBuilder:
        """Put `code` as the first statement of a body or definition, behind its docstring.

        Arguments: `order` sorts what several fixes put there; `blank_after` wishes for blank lines
        behind all of that: such wishes of several fixes are met once.
        """
        return self._with(
            lambda: first_in(
                body, self._pieces(body_of(body).items[0], code), order, blank_after
            )
        )

    def last_in(
        self, body: Node, *code: Code, order: Order | None = None, blank_before: int = 0
    ) -> FixBuilder:
        """Put `code` as the last statement of a body or definition; see `first_in`."""
        return self._with(
            lambda: last_in(
                body, self._pieces(body_of(body).items[-1], code), order, blank_before
            )
        )

    def append_to(self, items: Node, code: str, order: Order | None = None) -> FixBuilder:
        """Add `code` at the end of a list in brackets: arguments, parameters, a list, a set."""
        return self._with(lambda: append_to(items, code, order))

    def sort(self, items: Sequence[Node], key: Callable[[Node], Any]) -> FixBuilder:
        """Sort neighbours, items of a list or statements; each keeps its comments."""
        targets = sorted(items, key=key)
        if targets != list(items):
            self._edits.append(reorder(items, targets))
        return self

    def move(
        self, node: Node, *, before: Node | None = None, after: Node | None = None
    ) -> FixBuilder:
        """Put a statement or definition elsewhere, with its comments and decorators.

        Errors: `ValueError` unless exactly one of `before` and `after`, a statement, is given.
        """
        if (before is None) == (after is None):
            raise ValueError("a move goes `before` or `after` one statement")
        node = definition_of(node)
        target = definition_of(before or after or node)
        row = [item for item in target.parent.items if item.named] if target.parent else []
        pair = (node, target) if before is not None else (target, node)
        if any(first is pair[0] and second is pair[1] for first, second in pairwise(row)):
            return self  # it stands there
        self._moved.append(node)
        source = node.tree.source
        indent = source.indent_at(target.start).decode("utf-8", "replace")
        span = reach(node)
        remainder = Slice(span, moved_indent(source, span, indent, may_grow=True))
        gap, neighbour = "\n" * (1 + blank_lines_before(node)), Neighbour(target.span)
        if before is not None:
            anchor = Span(source.lines.start(reach(target).start), target.end)
            lead = (New(indent),) if indent else ()
            self._edits.append(put_before(neighbour, anchor, *lead, remainder, New(gap)))
        else:
            anchor = Span(target.start, reach(target).end)
            self._edits.append(put_after(neighbour, anchor, New(gap + indent), remainder))
        return self

    def unwrap(self, node: Node, *inner: Node | tuple[Node, ...]) -> FixBuilder:
        """Put what is inside in the place of `node`: an expression, or statements of its body.

        Arguments: `inner` is what stays; of a statement or a clause all statements of its body if
        left out. A fix that would drop some of a body's statements is refused: remove those.
        """
        if not (is_statement(node) or node.kind in node.tree.language.clauses):
            remainder = inner[0] if isinstance(inner[0], Node) else inner[0][0]
            return self._with(lambda: [_in_place_of(node, (self._slice(node, remainder),))])
        return self._with(lambda: [_unwrapped(node, list(_statements(inner)))])

    def split(self, node: Node, *statements: Code | tuple[Code, ...]) -> FixBuilder:
        """Put several statements in the place of one, each a line."""
        pieces: list[Piece] = []
        for number, statement in enumerate(statements):
            if number:
                pieces.append(New(between(node)))
            pieces += self._pieces(
                node, statement if isinstance(statement, tuple) else (statement,)
            )
        return self._with(lambda: [Edit(node.span, tuple(pieces))])

    def join(self, statements: Sequence[Node], *code: Code) -> FixBuilder:
        """Put one statement in the place of several in a row."""
        span = Span(statements[0].start, statements[-1].end)
        return self._with(lambda: [Edit(span, self._pieces(statements[0], code))])

    def over_lines(self, items: Node) -> FixBuilder:
        """Put each item of a list in brackets on a line of its own."""
        return self._with(lambda: [edit for edit in broken(items) if edit not in self._edits])

    def on_one_line(self, items: Node) -> FixBuilder:
        """Put a list in brackets on one line; one with comments in it stays as it is."""
        return self._with(lambda: joined(items))

    def wrap(self, node: Node, head: str, tail: str) -> FixBuilder:
        """Put `head` before and `tail` after `node`.

        Both are written from the depth of `node`, which is put as deep as the last line of `head`
        says: `wrap(statement, "if ready:\\n    ", "")`.
        """
        source, language, indent = node.tree.source, node.tree.language, _indent_at(node)
        lines, newline, lead = head.rpartition("\n")
        inner = Slice(node.span)
        if newline and not lead.strip():
            head = indented(lines, indent, language) + newline + indent + lead
            moved = moved_indent(source, node.span, indent + lead, may_grow=is_statement(node))
            inner = Slice(node.span, moved)
        else:
            head = indented(head, indent, language)
        pieces = (New(head), inner, New(indented(tail, indent, language)))
        return self._with(lambda: [_in_place_of(node, pieces)])

    def swap(self, node: Node, second: Node) -> FixBuilder:
        """Let two nodes change places; items of one list take their comments along."""
        items = siblings(node, second)
        if items and any(any(attached(item)) for item in (node, second)):
            targets = [second if i is node else node if i is second else i for i in items]
            self._edits.append(reorder(items, targets))
            return self
        self._edits.append(_in_place_of(node, (self._slice(node, second),)))
        self._edits.append(_in_place_of(second, (self._slice(second, node),)))
        return self

    def rename(self, binding: Binding, name: str) -> FixBuilder:
        """Give `binding` another name wherever its file says it; see `Code.refers_to`.

        Where the name is taken, or code would come to mean something else by it, the fix is
        refused as a name clash; so it is where other files may say the name. A rule with `rename`
        gives such a thing another name over the code base, all or none.
        """
        if reason := seen_elsewhere(binding):
            self._clash = self._clash or reason
            return self
        done = Renaming()
        require_semantics(binding.scope.tree.language).rename_binding(binding, name, done)
        self._edits.extend(done.in_order())
        self._clash = self._clash or done.clash
        return self

    def put(self, match: Match, template: str) -> FixBuilder:
        """Put a template, with the holes of the match's pattern, where `match` is."""
        result = fill(compile_template(template, match.pattern), match, title=self.title)
        self._puts.extend(result.puts)
        self._edits.extend(result.edits)
        self._imports.extend(result.imports)
        self._clash = self._clash or result.clash
        return self

    def made(self, extent: Span) -> Fix | None:
        """Return the fix; None where there was nothing to do.

        Arguments: `extent` is the code it is about; it is stretched over all edits.
        """
        if nodes := [*self._going, *self._moved]:
            self._with(lambda: removals(self._going, self._moved))
            self._edits = _drawn_in(self._edits, nodes[0].tree.source)
            self._going, self._moved = [], []
        if self._fault or (not self._edits and self._clash):
            clash, fault = self._clash, self._fault
            return Fix(self.title, (), extent, self.safety, clash=clash, fault=fault)
        if not self._edits:
            return None
        start = min(extent.start, *(edit.span.start for edit in self._edits), extent.start)
        end = max(extent.end, *(edit.span.end for edit in self._edits), extent.end)
        once = dict.fromkeys(edit for edit in self._edits if not edit.inserts)
        inserted = (edit for edit in self._edits if edit.inserts)
        edits = tuple(sorted([*once, *inserted], key=lambda e: e.span))
        clash = self._clash or fault_of(self._imports)
        return Fix(
            self.title,
            edits,
            Span(start, end),
            self.safety,
            self.drops_comments,
            puts=tuple(self._puts),
            imports=tuple(dict.fromkeys(self._imports)),
            width=self.width,
            clash=clash,
        )

    def _with(self, make: Callable[[], Iterable[Edit]]) -> FixBuilder:
        """Add edits, or note why they cannot be made: the fix is then refused for that reason."""
        try:
            self._edits += make()
        except ValueError as wrong:
            self._fault = self._fault or str(wrong)
        return self

    def _pieces(self, place: Node, code: tuple[Code, ...]) -> tuple[Piece, ...]:
        indent = _indent_at(place)
        pieces: list[Piece] = []
        for part in code:
            if isinstance(part, Node):
                pieces.append(self._slice(place, part))
            elif isinstance(part, Reference):
                text, target = require_semantics(place.tree.language).spell(place, part.name)
                self._imports += [target] if target is not None else []
                pieces.append(New(text))
            else:
                pieces.append(New(indented(part, indent, place.tree.language)))
        if pieces and isinstance(last := pieces[-1], New) and last.text.endswith("\n" + indent):
            pieces[-1] = New(last.text.removesuffix(indent))  # of a blank line, which has none
        return tuple(pieces)

    @staticmethod
    def _slice(place: Node, node: Node) -> Slice:
        source = node.tree.source
        indent = source.indent_at(place.start).decode("utf-8", "replace")
        return Slice(node.span, moved_indent(source, node.span, indent))


def fix(
    title: str,
    *,
    safety: Safety = "safe",
    drops_comments: bool = False,
    width: int | None = None,
) -> FixBuilder:
    """Start a fix called `title`, an imperative that says what it does to the code.

    Arguments: `safety` is ``review`` where behaviour may change; `drops_comments` allows that
    comments in replaced code go; `width` is how long a line may get, in characters, before a list
    that the fix wrote is put over several lines.
    """
    return FixBuilder(title, safety=safety, drops_comments=drops_comments, width=width)


def named(name: str) -> Reference:
    """Return a piece of code that refers to what is defined under the dotted name `name`.

    It is written as the file says it; the import is added where it is missing.
    """
    return Reference(name)


def _indent_at(place: Node) -> str:
    """Return the indentation of what is written at a place; what stands in a string has none."""
    if in_string(place.tree, place.start):
        return ""
    return place.tree.source.indent_at(place.start).decode("utf-8", "replace")


def _statements(inner: Iterable[Node | tuple[Node, ...]]) -> Iterator[Node]:
    for part in inner:
        if not isinstance(part, Node):
            yield from part
        elif part.kind in part.tree.language.bodies:
            yield from part.items
        else:
            yield part.outermost


def _unwrapped(node: Node, inner: list[Node]) -> Edit:
    """Return the edit that leaves of a statement or clause the statements `inner` of its body."""
    inner = inner or list(body_of(node).items)
    body = inner[0].parent
    for item in body.items if body is not None else ():
        if not any(item is first for first in inner):
            raise ValueError(f"unwrapping would drop `{item.text}` at {item.place}")
    source = node.tree.source
    span = run_reach(tuple(inner))
    around = node.parent
    if node.kind not in node.tree.language.clauses or around is None:
        indent = source.indent_at(node.start).decode("utf-8", "replace")
        moved = moved_indent(source, span, indent, may_grow=True)
        return Edit(node.span, (Slice(span, moved),))
    if around.children[-1] is not node:
        raise ValueError(f"other clauses follow that at {node.place}")
    indent = source.indent_at(around.start).decode("utf-8", "replace")
    tail = Slice(Span(around.start, len(source.data[: reach(node).start].rstrip())))
    remainder = Slice(span, moved_indent(source, span, indent, may_grow=True))
    return Edit(around.span, (tail, New("\n" + indent), remainder))


def _in_place_of(node: Node, pieces: tuple[Piece, ...]) -> Edit:
    """Put `pieces` where `node` is; the brackets that an item shares with its list stay."""
    shares = node.kind in node.tree.language.sole_items and node.field == "arguments"
    pieces = (New("("), *pieces, New(")")) if shares else pieces
    at = next((n for n, p in enumerate(pieces) if isinstance(p, Slice) and p.span == node.span), -1)
    neighbour = neighbour_of(node, pieces[:at], pieces[at + 1 :]) if at >= 0 else None
    return Edit(node.span, pieces, neighbour=neighbour)


def _drawn_in(edits: list[Edit], source: Source) -> list[Edit]:
    """Return the edits; what is put behind code whose end goes comes in the place of that end."""
    results = list(edits)
    for edit in edits:
        anchor = edit.anchor
        if not edit.inserts or edit.side != "after" or anchor is None:
            continue
        gone = [
            result
            for result in results
            if not result.pieces
            and anchor.start < result.span.start < anchor.end <= result.span.end
        ]
        if gone:
            end = len(source.data[: gone[0].span.start].rstrip())
            stays = Slice(Span(anchor.start, end))
            results = [result for result in results if result is not edit and result is not gone[0]]
            results.append(Edit(anchor, (stays, *edit.pieces)))
    return results


def siblings(node: Node, second: Node) -> list[Node]:
    """Return the items from one to the other of a list that holds both; none if none does."""
    parent = node.parent
    if parent is None or parent is not second.parent:
        return []
    if parent.kind not in parent.tree.language.lists:
        return []
    items = items_of(parent)
    at = sorted(i for i, item in enumerate(items) if item is node or item is second)
    return items[at[0] : at[1] + 1] if len(at) == 2 else []
