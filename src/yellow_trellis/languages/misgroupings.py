"""Tables of expressions that a grammar groups otherwise than the compiler of the language.

A line names the outer node, with its field if the inner one is in one, and the inner nodes that the
compiler has around it: ``equality.rhs: conjunction disjunction``. A list behind a kind asks for a
child of one of these kinds, ``binary[* /]``; ``identifier=await`` for a name that is that word.
Queries of the parser library were refused: those of one language take seconds to compile.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    import tree_sitter

_KIND = re.compile(r"(?P<kind>\w+)(?:\[(?P<children>[^\]]*)\])?(?:=(?P<text>\w+))?")


class Misgrouping(NamedTuple):
    """One kind of node in another where it holds together wrongly."""

    field: str | None
    """The field of the outer node that the inner one is in; None for any, or none."""
    text: str = ""
    """The code of the inner node; empty for any."""
    outer_children: frozenset[str] = frozenset()
    """The kinds of which the outer node has a child; any if empty."""
    inner_children: frozenset[str] = frozenset()

    def fits(self, inner: tree_sitter.Node, outer: tree_sitter.Node) -> bool:
        """Return whether a node of the inner kind is so in its parent, one of the outer kind."""
        if self.field is not None:
            child = outer.child_by_field_name(self.field)
            if child is None or child.id != inner.id:
                return False
        return _has_child(outer, self.outer_children) and _has_child(inner, self.inner_children)


def _has_child(raw: tree_sitter.Node, kinds: frozenset[str]) -> bool:
    return not kinds or any(child.type in kinds for child in raw.children)


Misgroupings = dict[tuple[str, str], tuple[Misgrouping, ...]]
"""By the kinds of the inner and the outer node."""


def misgroupings(*lines: str) -> Misgroupings:
    """Read the lines of a table."""
    results: Misgroupings = {}
    for line in lines:
        place, _, inside = line.partition(": ")
        outer = _KIND.match(place)
        assert outer is not None, line
        field = place[outer.end() :].removeprefix(".") or None
        for inner in _KIND.finditer(inside):
            entry = Misgrouping(
                field,
                inner["text"] or "",
                frozenset((outer["children"] or "").split()),
                frozenset((inner["children"] or "").split()),
            )
            key = inner["kind"], outer["kind"]
            results[key] = (*results.get(key, ()), entry)
    return results
