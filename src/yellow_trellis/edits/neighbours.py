"""Neighbours of new code: the statement that it is put beside or around."""

from __future__ import annotations

from collections.abc import Sequence

from yellow_trellis.edits.edit import Neighbour, New, Piece
from yellow_trellis.syntax import Node


def neighbour_of(node: Node, head: Sequence[Piece], tail: Sequence[Piece]) -> Neighbour | None:
    """Return what code put before and behind a statement is beside or around.

    None where `node` is no statement, or the code belongs to an expression.
    """
    if not is_statement(node):
        return None
    before, behind = text_of(node, head), text_of(node, tail)
    if node.kind in (node.tree.language.family("expression") or ()) and not any(
        mark in before + behind for mark in ("\n", ";")
    ):
        return None  # an expression that stands as a statement stays one
    is_wrapped = _wraps(node, before, behind)
    return Neighbour(node.span, is_wrapped=is_wrapped)


def _wraps(node: Node, head: str, tail: str) -> bool:
    """Return whether a statement with code before and behind it stands inside of a new one.

    It does where what is before does not end a statement, or what is behind does not begin one.
    """
    terminator = node.tree.language.terminator or ";"
    indent = node.tree.source.indent_at(node.start).decode("utf-8", "replace")
    before, newline, lead = head.rpartition("\n")
    is_apart = not head.strip() or (
        lead == indent and not before.rstrip().endswith(_OPENING)
        if newline and not lead.strip()
        else head.rstrip().endswith(terminator)
    )
    opening, newline, rest = tail.partition("\n")
    lead = rest[: len(rest) - len(rest.lstrip())]
    is_closed = not tail.strip() or opening.lstrip().startswith(terminator) or (
        bool(newline) and not opening.strip() and lead == indent
    )
    return not (is_apart and is_closed)


def is_statement(node: Node) -> bool:
    """Return whether a node stands as a statement in a body."""
    return node.parent is not None and node.parent.kind in node.tree.language.bodies


def text_of(node: Node, pieces: Sequence[Piece]) -> str:
    """Return the code that pieces stand for."""
    source = node.tree.source
    return "".join(p.text if isinstance(p, New) else source.text(p.span) for p in pieces)


_OPENING = (":", "{", "(", "[", ",", "begin", "do", "then")
"""Ends of a line behind which a statement is inside of what the line begins."""
