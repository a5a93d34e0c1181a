"""Which fixes meet: one sweep over all primitives in source order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from operator import attrgetter
from typing import NamedTuple

from yellow_trellis.fixes import New, Piece
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


@dataclass
class Meetings:
    """What the sweep found."""

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


def meetings(found: list[Primitive], moved: Moved) -> Meetings:
    """Compare all primitives that touch.

    Arguments: `moved` are the kept slices that each fix moves, by its number. The time is
    n log n for the sort, and linear in the number of primitives that touch each other.
    """
    result = Meetings()
    open_: list[Primitive] = []
    reach = -1
    for item in sorted(found, key=attrgetter("key")):
        if item.start > reach:  # nothing before comes so far
            open_ = [item]
            reach = item.end
            continue
        reach = max(reach, item.end)
        open_ = [other for other in open_ if other.end >= item.start]
        for other in open_:
            if other.fix != item.fix:
                _compare(other, item, moved, result)
            else:
                _compare_own(other, item, moved, result)
        open_.append(item)
    return result


def _compare_own(one: Primitive, other: Primitive, moved: Moved, result: Meetings) -> None:
    """Compare two primitives of one fix: what it adds must not be where it takes away."""
    if one.inserts or other.inserts:
        point, span = (one, other) if one.inserts else (other, one)
        anchor = point.anchor
        held = [slice_ for slice_ in moved[one.fix] if slice_.holds(anchor)]
        if span.span.holds(anchor) and any(slice_ != anchor for slice_ in held):
            result.bury(point, span)  # it goes where the code goes that it clings to
        elif span.start < point.start < span.end and not held:
            result.conflicts.append(Meeting("lost work", span, point))
        return
    # what holds both of them says nothing of how they stand to each other
    slices = [slice_ for slice_ in moved[one.fix] if slice_ != one.span and one.span.holds(slice_)]
    if other.start < one.end and not any(slice_.holds(other.span) for slice_ in slices):
        result.conflicts.append(Meeting("overlap", one, other))


def _compare(one: Primitive, other: Primitive, moved: Moved, result: Meetings) -> None:
    if one.inserts and other.inserts:
        _compare_insertions(one, other, result)
    elif one.inserts:
        _compare_insertion(one, other, moved, result)
    elif other.inserts:
        _compare_insertion(other, one, moved, result)
    elif one.span.crosses(other.span):
        _compare_spans(one, other, moved, result)


def _compare_insertions(one: Primitive, other: Primitive, result: Meetings) -> None:
    if (one.start, one.before, one.anchor) != (other.start, other.before, other.anchor):
        return
    if one.order == other.order and one.pieces == other.pieces and _is_line(one.pieces):
        result.shared.setdefault(id(other), []).append(one)  # the statement is wanted once
        return
    if one.extent != other.extent and (
        one.extent.holds(other.extent) or other.extent.holds(one.extent)
    ):
        return
    if one.order is None or other.order is None:
        result.conflicts.append(Meeting("tie", one, other))
    elif one.order == other.order:
        if one.pieces == other.pieces:
            result.shared.setdefault(id(other), []).append(one)
        else:
            result.conflicts.append(Meeting("tie", one, other))


def _is_line(pieces: tuple[Piece, ...]) -> bool:
    """Return whether new text is a statement of its own, or several."""
    text = "".join(piece.text for piece in pieces if isinstance(piece, New))
    whole = all(isinstance(piece, New) for piece in pieces)
    return whole and bool(text.strip()) and ("\n" in text or text.lstrip().startswith(";"))


def _compare_insertion(point: Primitive, span: Primitive, moved: Moved, result: Meetings) -> None:
    """Compare an insertion with a written span that it lies in or borders on."""
    at, anchor = point.start, point.anchor
    holding = [held for held in moved[span.fix] if held.holds(anchor)]
    if holding and span.span.holds(anchor):
        if all(held == anchor and not held.holds(point.extent) for held in holding):
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


def _compare_spans(one: Primitive, other: Primitive, moved: Moved, result: Meetings) -> None:
    inside = any(held.holds(other.span) for held in moved[one.fix])
    around = any(held.holds(one.span) for held in moved[other.fix])
    if inside != around:
        inner, outer = (other, one) if inside else (one, other)
        result.bury(inner, outer)
        return
    nested = one.span != other.span and (one.span.holds(other.span) or other.span.holds(one.span))
    result.conflicts.append(Meeting("lost work" if nested else "overlap", one, other))
