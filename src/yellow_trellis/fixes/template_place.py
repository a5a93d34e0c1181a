"""The place of a template: what the code around asks of its ends, and where it needs brackets."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from yellow_trellis.edits.whitespace import is_expression
from yellow_trellis.fixes.template import Slot, Template
from yellow_trellis.languages import Language
from yellow_trellis.languages.precedence import ANYTHING, Demand
from yellow_trellis.patterns import Match
from yellow_trellis.syntax import Node


def as_statement(match: Match, template: Template) -> Match:
    """Return a match of the whole statement where a template puts statements for its expression.

    The token that ends the statement is then a part of what is replaced.
    """
    language, node = match.tree.language, match.node
    outer = node.outermost
    is_whole = outer.kind in language.statements and node.kind not in language.statements
    puts_statements = len(template.shape.nodes) > 1 or template.root.kind in language.statements
    if not language.terminator or len(match.nodes) > 1 or not (is_whole and puts_statements):
        return match
    return replace(match, nodes=(outer,))


def captured(match: Match, slot: Slot) -> tuple[Node, ...]:
    """Return what the hole of a slot took."""
    assert slot.hole is not None
    return match.taken(slot.hole.name)


def fitted(template: Template, match: Match, slots: tuple[Slot, ...]) -> tuple[Slot, ...]:
    """Return the slots as the place wants them: no doubled brackets, an end like the code's."""
    return _with_end(template, match, _without_doubled_brackets(match, slots))


def _with_end(template: Template, match: Match, slots: tuple[Slot, ...]) -> tuple[Slot, ...]:
    """Let the last statement end as the code does: with the token for that, or without."""
    language, last = match.tree.language, match.nodes[-1]
    if not language.terminator or last.kind not in language.statements or not slots:
        return slots
    if _ends_by_itself(template.shape.nodes[-1]):
        return slots
    mark = language.terminator.encode()
    if slots[-1].hole is not None:
        took = captured(match, slots[-1])
        if slots[-1].body or (took and took[-1].data.endswith(mark)):
            return slots  # what it took ends as it does
    ends = last.data.endswith(mark)
    has_end = slots[-1].text == language.terminator and slots[-1].hole is None
    if not ends and _ends_by_itself(last):
        is_ended = has_end or (slots[-1].hole is not None and slots[-1].body)
        is_usual = mark in match.tree.source.data
        needs_end = template.shape.ended or (is_usual and not language.line_breaks_count)
        return slots if is_ended or not needs_end else (*slots, _end_of(language))
    if ends and not has_end:
        return (*slots, _end_of(language))
    return slots[:-1] if has_end and not ends else slots


def _end_of(language: Language) -> Slot:
    return Slot(language.terminator, language.terminator, "", separator=True)


def _ends_by_itself(node: Node) -> bool:
    """Return whether a statement ends with a block of its own."""
    language = node.tree.language
    end = node.children[-1] if node.children else node
    if node.kind in language.self_ended:
        return True
    if language.block is not None and language.block[1].isalpha():
        return False  # a word that ends a block ends no statement
    return node.kind in language.statements and end.kind in language.bodies | language.enclosures


def _without_doubled_brackets(match: Match, slots: tuple[Slot, ...]) -> tuple[Slot, ...]:
    """Leave out the brackets around a hole that took an item with the brackets of its list."""
    for at, slot in enumerate(slots[1:-1], 1):
        around = slots[at - 1].sign, slots[at + 1].sign
        if slot.hole is not None and around == ("(", ")") and slots[at - 1].calls:
            nodes = captured(match, slot)
            if len(nodes) == 1 and nodes[0].kind in match.tree.language.sole_items:
                return (*slots[: at - 1], slot._replace(gap=""), *slots[at + 2 :])
    return slots


def expression_parents(match: Match) -> Iterator[Node]:
    """Yield the nodes around the matched code within its statement, the inner ones first."""
    language = match.tree.language
    ends = language.statements | language.bodies
    if match.node.kind in ends:
        return
    for above in match.node.ancestors():
        if above.kind in ends:
            return
        yield above


def melts_into_brace(match: Match, slots: tuple[Slot, ...]) -> bool:
    """Return whether the new code starts with a brace right behind one of a string."""
    start, parent = match.span.start, match.node.parent
    if parent is None or match.tree.source.data[start - 1 : start] != b"{":
        return False
    language = match.tree.language
    in_string = language.is_literal(parent.kind) or parent.kind in language.interpolations
    return in_string and bool(slots) and slots[0].text[:1] == "{"


def outer_demand(match: Match) -> Demand:
    """Return what the place of the matched code asks of an expression."""
    node = match.node
    parent = node.parent
    return match.tree.language.precedence.demand(parent, node.field) if parent else ANYTHING


def in_wrappers(node: Node) -> Node:
    """Return the expression that is all of nodes around it which are nothing but that."""
    wrappers = node.tree.language.wrappers
    while node.kind in wrappers and len(node.items) == 1:
        node = node.items[0]
    return node


def needs_outer_brackets(template: Template, match: Match, slots: tuple[Slot, ...]) -> bool:
    """Return whether the code around holds together more strongly than all that is put."""
    language, root, node = match.tree.language, template.root, match.node
    if language.sole_items.get(node.kind) and node.field == "arguments":
        return root.kind not in language.sole_items  # its brackets are those of the call
    if len(match.nodes) != 1 or len(slots) == 1 or not is_expression(root):
        return False
    precedence = language.precedence
    if root.kind == node.kind and precedence.strength(root) >= precedence.strength(node):
        return False  # as it stands there without them
    return not precedence.stands_bare(root, outer_demand(match))
