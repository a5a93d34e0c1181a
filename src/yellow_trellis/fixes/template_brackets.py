"""Brackets around what the holes of a template take."""

from __future__ import annotations

from yellow_trellis.edits.whitespace import bare_line_break, is_expression
from yellow_trellis.fixes.template import Slot
from yellow_trellis.fixes.template_place import in_wrappers, outer_demand
from yellow_trellis.fixes.token_alignment import LinedUp
from yellow_trellis.languages.precedence import Demand
from yellow_trellis.patterns import Match
from yellow_trellis.syntax import Node


class Brackets:
    """The brackets of one match that is filled.

    Arguments: `enclosed` tells whether brackets around the match make line breaks free.
    """

    def __init__(
        self, match: Match, lined: LinedUp, slots: tuple[Slot, ...], enclosed: bool
    ) -> None:
        self._match = match
        self._lined = lined
        self._slots = slots
        self._enclosed = enclosed
        self._language = match.tree.language

    def need(self, slot: Slot, nodes: tuple[Node, ...]) -> bool:
        """Return whether the slot needs them for `nodes`, which come to stand there."""
        if len(nodes) != 1 or not is_expression(nodes[0]):
            return False
        node = nodes[0]
        whole = len(self._slots) == 1
        if slot.plain:
            return False
        demand = outer_demand(self._match) if whole else slot.demand
        if not whole and node.parent is not None and self._demand_at(node) == demand:
            return False  # it stands without them in such a place
        if not self._language.precedence.stands_bare(in_wrappers(node), demand):
            return True
        if not self._language.line_breaks_count or slot.enclosed or self._enclosed:
            return False
        return bare_line_break(node) and not self._in_brackets(slot)

    def _demand_at(self, node: Node) -> Demand | None:
        """Return what the place of a node in the code asks of an expression; None in brackets."""
        parent = node.parent
        if parent is None or parent.kind in self._language.brackets:
            return None
        return self._language.precedence.demand(parent, node.field)

    def _in_brackets(self, slot: Slot) -> bool:
        """Return whether redundant brackets of the old code still stand around the slot."""
        at = next((i for i, j in self._lined.pairs if self._slots[j] is slot), None)
        if at is None:
            return False
        node = self._lined.units[at].nodes[0]
        for above in node.ancestors():
            if above.kind in self._language.brackets:
                span = above.span
                return all(
                    not span.start <= unit.span.start < span.start + 1
                    for unit in self._lined.units
                )
            if above.start < self._match.span.start:
                break
        return False
