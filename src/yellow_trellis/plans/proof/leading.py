"""Statements that speak for the next one, such as an attribute of Rust: they go on doing so.

Such a statement is a neighbour of what it is about, so the tree outside of a replaced statement is
as it was also where it speaks for other code than before.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from yellow_trellis.plans.proof.claims import Region
from yellow_trellis.syntax import Node, Tree


def led_astray(before: Tree, after: Tree, regions: Iterable[Region]) -> Iterator[int]:
    """Yield the bytes of the new text where such a statement speaks for other code than before.

    Arguments: `regions` are where the fixes have written.
    """
    for region in regions if before.language.leading else ():
        old, new = region.old, region.new
        code = before.source.data[old.start : old.end]
        start = old.start + len(code) - len(code.lstrip())
        leaf = before.leaf_at(start)
        node = leaf.statement if leaf is not None else before.root
        lead = _lead(node) if node.start == start else None
        if lead is None or old.holds(lead.span):
            continue
        if not region.replaces:
            yield new.start
        elif old.end >= node.end:
            text = after.source.data[new.start : new.end].strip()
            filled = after.leaf_at(new.start, new.end) if text else None
            if filled is None or filled.kind in after.language.bodies:
                yield new.start  # nothing is left of the statement, or several have come


def _lead(node: Node) -> Node | None:
    """Return the statement before `node` that speaks for it."""
    siblings = node.parent.children if node.parent is not None else ()
    for sibling in reversed(siblings[: node.index]):
        if not sibling.is_comment:
            return sibling if sibling.kind in node.tree.language.leading else None
    return None
