"""Lists: items added at the end, put in another order, broken over lines and back."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise

from yellow_trellis.edits.edit import (
    Edit,
    Neighbour,
    New,
    Order,
    Piece,
    Slice,
    put_after,
    put_before,
)
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.comment_ownership import attached

_OPENING, _CLOSING = frozenset("([{"), frozenset(")]}")
_NAMED = re.compile(r"\w+\s*=(?!=)|\*")


def items_of(node: Node) -> list[Node]:
    """Return the items of a list, its brackets and separators aside."""
    separators = node.tree.language.separators
    brackets = _OPENING | _CLOSING
    return [i for i in node.items if i.kind not in brackets and i.kind not in separators]


def append_to(node: Node, code: str, order: Order | None) -> list[Edit]:
    """Return the edits that add `code` at the end of the list `node`, in the layout it has.

    What must stand last, such as ``**more`` among parameters, stays last.
    Errors: `ValueError` for a node that is no list in brackets.
    """
    opening = next((c for c in node.children if c.kind in _OPENING), None)
    if opening is None:
        raise ValueError(f"a {node.kind} is no list in brackets")
    items = items_of(node)
    if not items:
        return [Edit.after(opening.span, New(code))]
    last = items[-1]
    neighbour = Neighbour(Span(items[0].start, last.end), is_body=True)
    if (stands_last := _behind(items, code)) is not None:
        source = node.tree.source
        lead = source.data[source.lines.start(stands_last.start) : stands_last.start]
        gap = ", " if lead.strip() else ",\n" + lead.decode("utf-8", "replace")
        return [
            put_before(neighbour, stands_last.span, New(code + gap), order=order)
        ]
    follow = last.next
    comma = follow if follow is not None and follow.kind in node.tree.language.separators else None
    source = node.tree.source
    lead = source.data[source.lines.start(last.start) : last.start]
    comments = attached(last).after
    if comments and not comma and not lead.strip():  # a comment stays beside its item
        behind = Span(last.end, comments[-1].end)
        text = "\n" + lead.decode("utf-8", "replace") + code
        return [Edit(behind, (New(","), Slice(behind), New(text)))]
    if lead.strip() or not comma:
        gap = ", " if lead.strip() else ",\n" + lead.decode("utf-8", "replace")
        end = Span(items[0].start, last.end if comma is None else comma.end)
        text = f" {code}," if comma else gap + code
        return [put_after(neighbour, end, New(text), order=order)]
    end = Span(items[0].start, comments[-1].end if comments else comma.end)
    text = "\n" + lead.decode("utf-8", "replace") + code + ","
    return [put_after(neighbour, end, New(text), order=order)]


def item_beside(node: Node, pieces: Sequence[Piece]) -> Neighbour | None:
    """Return the item of a list that `pieces` are put beside, if they are an item as well."""
    parent = node.parent
    if parent is None or parent.kind not in parent.tree.language.lists or not pieces:
        return None
    ends = [piece.text.strip() for piece in (pieces[0], pieces[-1]) if isinstance(piece, New)]
    separators = tuple(node.tree.language.separators)
    is_item = any(text.startswith(separators) or text.endswith(separators) for text in ends)
    return Neighbour(node.span) if is_item else None


def _behind(items: list[Node], code: str) -> Node | None:
    """Return the first item that has to stand behind new `code`; None where none has to."""
    if code.startswith("**"):
        return None
    for item in items:
        if item.kind in item.tree.language.last_items:
            return item
        if item.kind in item.tree.language.named_items and not _NAMED.match(code):
            return item
    return None


def reorder(items: Sequence[Node], nodes: Sequence[Node]) -> Edit:
    """Return the edit that puts neighbours in the order `nodes`, each with its comments.

    Separators and the space between stay where they are.
    Arguments: `items` are neighbours in a list or body, `nodes` the same in another order.
    """
    source = items[0].tree.source
    units = {item: _unit(item) for item in items}
    start = min(_start(unit) for unit in units.values())
    end = max(_end(unit) for unit in units.values())
    pieces: list[Piece] = []
    ends = [_end(units[item]) for item in items]
    for place, (here, new) in enumerate(zip(items, nodes, strict=True)):
        if place:
            gap = source.text(Span(ends[place - 1], _start(units[here])))
            pieces.append(New(gap.replace("\r\n", "\n")))
        comment = units[new]
        before, item, after = comment
        if before:
            pieces += [Slice(Span(before[0].start, before[-1].end)), New(_lead(new, before))]
        pieces.append(Slice(item.span))
        separator = _separator(here)
        if separator is not None:
            pieces.append(New(separator.text))
        if after:
            pieces += [New("  "), Slice(Span(after[0].start, after[-1].end))]
    return Edit(Span(start, end), tuple(pieces))


_Unit = tuple[tuple[Node, ...], Node, tuple[Node, ...]]
"""An item with the comments before and behind it."""


def _unit(item: Node) -> _Unit:
    own = attached(item)
    return own.before, item, own.after


def _start(unit: _Unit) -> int:
    before, item, _ = unit
    return before[0].start if before else item.start


def _end(unit: _Unit) -> int:
    _, item, after = unit
    if after:
        return after[-1].end
    separator = _separator(item)
    return separator.end if separator is not None else item.end


def _separator(item: Node) -> Node | None:
    follow = item.next
    while follow is not None and follow.is_comment:
        follow = follow.next
    separators = item.tree.language.separators
    return follow if follow is not None and follow.kind in separators else None


def _lead(item: Node, before: tuple[Node, ...]) -> str:
    """Return what stands between an item and the comments before it."""
    return item.tree.source.text(Span(before[-1].end, item.start)).replace("\r\n", "\n")


def broken(node: Node) -> list[Edit]:
    """Return the edits that put each item of a list on a line of its own.

    Nothing for a list that has a line break already, or no items.
    Errors: `ValueError` for a list in a string, where not every version may break lines.
    """
    if any(node.tree.language.is_literal(above.kind) for above in node.ancestors()):
        raise ValueError("a list in a string cannot be put over lines")
    items = items_of(node)
    source = node.tree.source
    if not items or b"\n" in node.data or node.children[0].kind not in _OPENING:
        return []
    if len(items) == 1 and _separator(items[0]) is None and is_tuple(node):
        return []  # the brackets only group: with a comma it would be a tuple
    base = source.indent_at(node.start).decode("utf-8", "replace")
    inner = "\n" + base + source.indent_unit.decode()
    opening, closing = node.children[0], node.children[-1]
    edits = [_gap(opening, items[0], inner)]
    edits += [_gap(_separator(item) or item, second, inner) for item, second in pairwise(items)]
    last = _separator(items[-1])
    comma = "" if last is not None or not _may_end_in_comma(node, items) else ","
    gap = Span((last or items[-1]).end, closing.start)
    return [*edits, Edit.at(gap, closing.span, New(f"{comma}\n{base}"))]


def is_tuple(node: Node) -> bool:
    """Return whether a list is one that needs a separator where it has one item."""
    language = node.tree.language
    return any(
        language.many_in_brackets in kinds and node.kind in kinds for kinds in language.alike_kinds
    )


def joined(node: Node) -> list[Edit]:
    """Return the edits that put a list on one line.

    Nothing for a list that is on one line, or has comments in it.
    """
    items = items_of(node)
    if not items or b"\n" not in node.data or any(c.is_comment for c in node.walk()):
        return []
    opening, closing = node.children[0], node.children[-1]
    edits = [_gap(opening, items[0], "")]
    edits += [_gap(_separator(item) or item, second, " ") for item, second in pairwise(items)]
    last = _separator(items[-1])
    alone = node.kind == node.tree.language.many_in_brackets and len(items) == 1
    return [*edits, _gap(last if alone and last is not None else items[-1], closing, "")]


def _gap(node: Node, second: Node, text: str) -> Edit:
    """Put `text` where the space between two neighbours is."""
    pieces = (New(text),) if text else ()
    span = Span(node.end, second.start)
    return Edit(span, pieces) if span.start < span.end else Edit.after(node.span, *pieces)


def _may_end_in_comma(node: Node, items: list[Node]) -> bool:
    language = node.tree.language
    alone = len(items) == 1 and items[0].kind in language.sole_items
    last = items[-1]
    closes = any(part.kind in language.closes_list for part in (last, *last.children))
    return not alone and not closes and node.kind in language.open_ended
