"""Jumps in code that fixes keep: they leave the function or the loop that they left before.

``return`` that comes to stand in a new function returns from that, and ``continue`` in a new loop
goes on with that: the text parses, and the program does another thing. As for names, what a jump
means is looked up before and after.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from yellow_trellis.plans.proof.claims import Region
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.jumps import WORDS, leaves, left_by


def captured_jumps(
    before: Tree, after: Tree, regions: Iterable[Region]
) -> Iterator[tuple[int, str]]:
    """Yield the bytes of the new text where a jump leaves another thing, and what it says.

    Arguments: `regions` are where the fixes have written.
    """
    data = before.source.data
    for region in regions:
        for old, new in region.kept:
            if not any(word in data[old.start : old.end] for word in WORDS):
                continue
            earlier, later = _jumps(before, old), _jumps(after, new)
            if [node.kind for node in earlier] != [node.kind for node in later]:
                continue  # other fixes have been at them
            for jump, moved in zip(earlier, later, strict=True):
                if _target(jump, old, region.old) != _target(moved, new, region.new):
                    yield moved.start, moved.text.split()[0]


def _jumps(tree: Tree, span: Span) -> list[Node]:
    """Return the jumps in a slice that leave more than the slice, in order."""
    top = tree.leaf_at(*span) if span.start < span.end else None
    while top is not None and top.parent is not None and span.holds(top.parent.span):
        top = top.parent
    nodes = top.walk() if top is not None else ()
    return [node for node in nodes if span.holds(node.span) and leaves(node)]


def _target(jump: Node, kept: Span, region: Span) -> str:
    """Return what a jump leaves: code in the slice itself, code of the fix, or code around both.

    Of that around both, what it is: a slice may have been moved to another function.
    """
    end = left_by(jump)
    if end is None:
        return "nothing"
    if kept.holds(end.span):
        return "the slice"
    return "the fix" if region.holds(end.span) else f"{end.kind} {_head(end)}"


def _head(node: Node) -> str:
    name = node.child("name")
    return name.text if name is not None else ""
