"""Code that a template puts beside the statement that it matches, or beside a run of a hole.

There others may put code as well: the plan has to know whose comes first, and what is inside.
"""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from yellow_trellis.edits import Edit, New, Piece
from yellow_trellis.edits.edit import Neighbour
from yellow_trellis.edits.neighbours import neighbour_of
from yellow_trellis.fixes.template import Slot, Template
from yellow_trellis.fixes.tokens import Unit
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node


def template_neighbour(
    template: Template, node: Node, head: list[Piece], tail: list[Piece]
) -> Neighbour | None:
    """Return the statement that pieces at an end of the match are beside or around.

    None where an expression comes in its place, or the statement stays one of its kind.
    """
    shapes = template.shape.nodes
    texts = [piece.text for piece in (*head, *tail) if isinstance(piece, New)]
    if len(shapes) == 1 and not any("\n" in text or ";" in text for text in texts):
        kind = shapes[0].kind
        if kind in node.tree.language.expressions or kind in (node.kind, node.outermost.kind):
            return None
    neighbour = neighbour_of(node.outermost, head, tail)
    return None if neighbour is None else neighbour._replace(is_template=True)


def beside_run(edit: Edit, unit: Unit | None, slot: Slot | None, *, is_behind: bool) -> Edit:
    """Note in an edit that it adds to a run that a hole took, if it does.

    Arguments: `unit` and `slot` are what stands beside the edit, in the code and in the template;
    `is_behind` tells that the edit stands behind it.
    """
    if unit is None or slot is None or slot.hole is None or not slot.hole.many:
        return edit
    if edit.neighbour is not None:
        return edit
    node = unit.nodes[-1 if is_behind else 0]
    beside = neighbour_of(node, *(([], edit.pieces) if is_behind else (edit.pieces, [])))
    is_wrapped = beside is not None and beside.is_wrapped
    span = Span(unit.nodes[0].start, unit.nodes[-1].end)
    neighbour = Neighbour(span, is_body=True, is_wrapped=is_wrapped, is_template=True)
    return replace(edit, neighbour=neighbour)


def as_neighbours(edits: Iterable[Edit]) -> list[Edit]:
    """Return the edits of a template; if they only put statements beside one, as just that."""
    results = list(edits)
    neighbours = [edit.neighbour for edit in results]
    if not all(n is not None and not n.is_wrapped and not n.is_body for n in neighbours):
        return results
    return [
        replace(edit, neighbour=edit.neighbour and edit.neighbour._replace(is_template=False))
        for edit in results
    ]
