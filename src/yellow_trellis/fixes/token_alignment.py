"""A match laid beside its template: which tokens stay, and which redundant ones are left alone."""

from __future__ import annotations

from itertools import pairwise

from msgspec import Struct

from yellow_trellis.edits.whitespace import bare_line_break
from yellow_trellis.fixes.sequence_alignment import align
from yellow_trellis.fixes.template import Slot
from yellow_trellis.fixes.tokens import LAST_SEPARATOR, Unit, bracket_pairs
from yellow_trellis.syntax import Tree


class LinedUp(Struct, frozen=True, eq=False):
    """An alignment of the tokens of the code with the slots of the template."""

    every: list[Unit]
    """All units of the code."""
    units: list[Unit]
    """Those that the template is laid beside: without redundant tokens that stay as they are."""
    pairs: list[tuple[int, int]]
    """Positions in `units` and in the slots of what stays, ascending."""
    staying: list[tuple[int, int]]
    """Positions in `every` of redundant brackets that stay, opening and closing."""


def line_up(
    units: list[Unit],
    slots: tuple[Slot, ...],
    tree: Tree,
    enclosed: bool,
    kinds: frozenset[str],
) -> LinedUp:
    """Align units and slots; then leave out the redundant tokens that stay as they are.

    Arguments: `enclosed` tells whether brackets around the match make line breaks free; `kinds`
    are those of the nodes of the template: the brackets of a list stay if it has such a list.
    """
    separators = tree.language.separators - {tree.language.terminator}
    last = [unit.free and unit.sign in separators for unit in units]
    old = tuple(
        LAST_SEPARATOR if is_last else unit.sign for unit, is_last in zip(units, last, strict=True)
    )
    pairs = dict(align(old, tuple(slot.sign for slot in slots)))
    stay: set[int] = set()
    staying: list[tuple[int, int]] = []
    for opening, closing in bracket_pairs(units):
        if opening in pairs or closing in pairs:
            continue
        owner = units[opening].nodes[0].parent
        if owner is not None and tree.language.same_kind(owner.kind) in _lists_of(tree) - kinds:
            continue
        if _unchanged(range(opening + 1, closing), pairs) or (
            not enclosed and _breaks(units[opening : closing + 1], tree)
        ):
            stay |= {opening, closing}
            staying.append((opening, closing))
    stay |= {
        at
        for at, is_last in enumerate(last)
        if is_last
        and at not in pairs
        and (at + 1 in stay or _list_stays(at, pairs, slots))
        and _has_before(at, units, slots, pairs, separators)
    }
    remainder = [at for at in range(len(units)) if at not in stay]
    index = {at: i for i, at in enumerate(remainder)}
    remaining = [(index[i], j) for i, j in sorted(pairs.items())]
    return LinedUp(units, [units[at] for at in remainder], remaining, staying)


def _lists_of(tree: Tree) -> frozenset[str]:
    """Return the kinds of lists that may stand in brackets, or not."""
    language = tree.language
    return frozenset(map(language.same_kind, language.optional_tokens)) & {
        language.many_in_brackets
    }


def _list_stays(at: int, pairs: dict[int, int], slots: tuple[Slot, ...]) -> bool:
    """Return whether the bracket behind the last separator, unit `at`, stays, or another comes.

    Round brackets that come for others might make a tuple of it.
    """
    if at + 1 in pairs:
        return slots[pairs[at + 1]].closes
    before = max((i for i in pairs if i < at), default=-1)
    template = pairs.get(before, -1) + 1
    return template < len(slots) and slots[template].text in ("]", "}")


def _has_before(
    at: int,
    units: list[Unit],
    slots: tuple[Slot, ...],
    pairs: dict[int, int],
    separators: frozenset[str],
) -> bool:
    """Return whether something will still stand before the last separator, unit `at`."""
    before = max((i for i in pairs if i < at), default=-1)
    after = min((i for i in pairs if i > at), default=len(units))
    template = pairs.get(after, len(slots)) - pairs.get(before, -1) - 1
    removed = [unit for unit in units[before + 1 : at] if not unit.free]
    return template > 0 or not removed or removed[0].sign in separators


def _unchanged(inner: range, pairs: dict[int, int]) -> bool:
    places = [pairs.get(at) for at in inner]
    if not places or places[0] is None:
        return False
    return places == list(range(places[0], places[0] + len(places)))


def _breaks(run: list[Unit], tree: Tree) -> bool:
    """Return whether code between two redundant brackets needs them for its line breaks."""
    if not tree.language.line_breaks_count:
        return False
    data = tree.source.data
    gaps = (data[item.span.end : second.span.start] for item, second in pairwise(run))
    return any(b"\n" in gap for gap in gaps) or any(
        bare_line_break(node) for unit in run for node in unit.nodes if unit.hole
    )
