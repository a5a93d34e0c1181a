"""Overlap of fixes: one sweep over all write operations in source order."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import combinations
from operator import attrgetter
from typing import NamedTuple

from msgspec import Struct, field

from yellow_trellis.edits import New, Piece
from yellow_trellis.plans.conflict import Kind
from yellow_trellis.plans.write_op import Primitive
from yellow_trellis.source import Span


class Meeting(NamedTuple):
    """Two fixes that cannot both be applied, and where."""

    kind: Kind
    one: Primitive
    other: Primitive


Moved = Mapping[int, tuple[Span, ...]]
"""By number of a fix: the kept slices that it moves."""


class Meetings(Struct):
    """The result of the sweep."""

    conflicts: list[Meeting] = field(default_factory=list)
    buried: dict[int, list[Primitive]] = field(default_factory=dict)
    """By id of a primitive: those of other fixes that carry it off in a moved slice."""
    nestings: list[tuple[Primitive, Primitive]] = field(default_factory=list)
    """The same pairs, inner first."""
    shared: dict[int, list[Primitive]] = field(default_factory=dict)
    """By id of an insertion: those of other fixes that are the same, word for word."""

    def bury(self, inner: Primitive, outer: Primitive) -> None:
        """Note that `outer` carries off `inner`."""
        self.buried.setdefault(id(inner), []).append(outer)
        self.nestings.append((inner, outer))


def meetings(operations: list[Primitive], moved: Moved) -> Meetings:
    """Compare all primitives that touch.

    Arguments: `moved` are the kept slices that each fix moves, by its number. The time is
    n log n for the sort, and linear in the number of primitives that touch each other.
    """
    result = Meetings()
    open_: list[Primitive] = []
    reach = -1
    for item in sorted(operations, key=attrgetter("key")):
        if item.start > reach:  # nothing before comes so far
            open_ = [item]
            reach = item.end
            continue
        reach = max(reach, item.end)
        open_ = [second for second in open_ if second.end >= item.start]
        for second in open_:
            if second.fix != item.fix:
                _compare(second, item, moved, result)
            else:
                _compare_own(second, item, moved, result)
        open_.append(item)
    by_neighbour: dict[tuple[Span, bool], list[Primitive]] = {}
    for item in operations:
        if item.neighbour is not None:
            by_neighbour.setdefault((item.neighbour.span, item.neighbour.is_body), []).append(item)
    for group in by_neighbour.values():
        for one, other in combinations(sorted(group, key=attrgetter("fix")), 2):
            if one.fix != other.fix:
                _compare_neighbours(one, other, result)
    return result


def _compare_neighbours(primitive: Primitive, second: Primitive, result: Meetings) -> None:
    """Compare what two fixes put beside, or around, one statement or body.

    What wraps it leaves open whether the other stands inside or outside.
    """
    assert primitive.neighbour is not None
    assert second.neighbour is not None
    if primitive.neighbour.is_wrapped or second.neighbour.is_wrapped:
        result.conflicts.append(Meeting("tie", primitive, second))
    elif _is_before(primitive) is _is_before(second):
        _compare_order(primitive, second, result)


def _is_before(primitive: Primitive) -> bool | None:
    """Return whether new statements come before their neighbour; None if in its place."""
    assert primitive.neighbour is not None
    span = primitive.neighbour.span
    if primitive.inserts:
        return primitive.before
    if primitive.end <= span.start or primitive.start >= span.end:
        return primitive.end <= span.start
    return None


def _compare_own(primitive: Primitive, second: Primitive, moved: Moved, result: Meetings) -> None:
    """Compare two primitives of one fix: what it adds must not be where it takes away."""
    if primitive.inserts or second.inserts:
        point, span = (primitive, second) if primitive.inserts else (second, primitive)
        anchor = point.anchor
        contents = [slice_ for slice_ in moved[primitive.fix] if slice_.holds(anchor)]
        if span.span.holds(anchor) and any(slice_ != anchor for slice_ in contents):
            result.bury(point, span)  # it goes where the code goes that it clings to
        elif span.start < point.start < span.end and not contents:
            result.conflicts.append(Meeting("lost work", span, point))
        return
    # what holds both of them says nothing of how they stand to each other
    slices = [
        slice_
        for slice_ in moved[primitive.fix]
        if slice_ != primitive.span and primitive.span.holds(slice_)
    ]
    if second.start < primitive.end and not any(slice_.holds(second.span) for slice_ in slices):
        result.conflicts.append(Meeting("overlap", primitive, second))


def _compare(primitive: Primitive, second: Primitive, moved: Moved, result: Meetings) -> None:
    if primitive.inserts and second.inserts:
        _compare_insertions(primitive, second, result)
    elif primitive.inserts:
        _compare_insertion(primitive, second, moved, result)
    elif second.inserts:
        _compare_insertion(second, primitive, moved, result)
    elif primitive.span.crosses(second.span):
        _compare_spans(primitive, second, moved, result)


def _compare_insertions(primitive: Primitive, second: Primitive, result: Meetings) -> None:
    if (
        primitive.start, primitive.before, primitive.anchor
    ) != (second.start, second.before, second.anchor):
        return
    if primitive.order == second.order and primitive.pieces == second.pieces and _is_line(
        primitive.pieces
    ):
        result.shared.setdefault(id(second), []).append(primitive)  # the statement is wanted once
        return
    outer = primitive if primitive.level > second.level else second
    if outer.neighbour is not None and outer.level != min(primitive.level, second.level):
        if outer.neighbour.is_template and not outer.neighbour.is_run:
            result.conflicts.append(Meeting("tie", primitive, second))
        return  # beside a statement is outside of what is in it
    if outer.neighbour is not None:
        return  # see `_compare_neighbours`
    if primitive.extent != second.extent and (
        primitive.extent.holds(second.extent) or second.extent.holds(primitive.extent)
    ):
        return
    _compare_order(primitive, second, result)


def _compare_order(primitive: Primitive, second: Primitive, result: Meetings) -> None:
    """Compare the orders of two insertions of which one has to come first."""
    if id(primitive) in map(id, result.shared.get(id(second), ())):
        return
    if primitive.order is None or second.order is None:
        result.conflicts.append(Meeting("tie", primitive, second))
    elif primitive.order == second.order:
        if primitive.pieces == second.pieces:
            result.shared.setdefault(id(second), []).append(primitive)
        else:
            result.conflicts.append(Meeting("tie", primitive, second))


def _is_line(pieces: tuple[Piece, ...]) -> bool:
    """Return whether new text is a statement of its own, or several."""
    text = "".join(piece.text for piece in pieces if isinstance(piece, New))
    whole = all(isinstance(piece, New) for piece in pieces)
    return whole and bool(text.strip()) and ("\n" in text or text.lstrip().startswith(";"))


def _compare_insertion(point: Primitive, span: Primitive, moved: Moved, result: Meetings) -> None:
    """Compare an insertion with a written span that it lies in or borders on."""
    at, anchor = point.start, point.anchor
    holding = [content for content in moved[span.fix] if content.holds(anchor)]
    if point.neighbour is not None and point.neighbour.is_body and span.span == anchor:
        holding = [content for content in holding if content != anchor]  # it stands outside
    if holding and span.span.holds(anchor):
        if all(content == anchor and not content.holds(point.extent) for content in holding):
            if span.span == anchor:
                return  # it stays beside what comes in the place of the slice
            # the point stands beside the slice, not in it: it has no place where the slice goes
            result.conflicts.append(Meeting("lost work", span, point))
        else:
            result.bury(point, span)
    elif span.start < at < span.end or _cuts_off(point, span):
        result.conflicts.append(Meeting("lost work", span, point))


def _cuts_off(point: Primitive, span: Primitive) -> bool:
    """Return whether a span beside an insertion takes away the code that it clings to."""
    anchor = point.anchor
    if anchor == span.span:
        return not span.pieces
    return anchor.crosses(span.span) and not anchor.holds(span.span)


def _compare_spans(primitive: Primitive, second: Primitive, moved: Moved, result: Meetings) -> None:
    inside = any(content.holds(second.span) for content in moved[primitive.fix])
    around = any(content.holds(primitive.span) for content in moved[second.fix])
    if inside != around:
        inner, outer = (second, primitive) if inside else (primitive, second)
        result.bury(inner, outer)
        return
    nested = primitive.span != second.span and (
        primitive.span.holds(second.span) or second.span.holds(primitive.span)
    )
    result.conflicts.append(Meeting("lost work" if nested else "overlap", primitive, second))
