"""The check that a pattern without a part that may be missing is the same code with less in it.

Without `await`, a call is no awaited one with less, it is another node: the pattern would pass over
it in silence.
"""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from yellow_trellis.patterns.notation import Notation, PatternError, without_part
from yellow_trellis.patterns.pattern import Pattern, PatternNode


def refuse_other_code(
    pattern: Pattern, notation: Notation, compiled: Callable[[str], Pattern]
) -> None:
    """Refuse code that may be missing where what is left without it is read as something else.

    Arguments: `compiled` compiles another text as `pattern` was.
    Errors: `PatternError`.
    """
    for part in notation.parts:
        if part.hole.form != "optional":
            continue
        try:
            rest = compiled(without_part(pattern.text, part)).roots
        except PatternError:
            rest = ()
        roots = [_without(root, part.hole.name) for root in pattern.roots]
        if len(roots) != len(rest) or not all(map(_is_same, roots, rest)):
            raise PatternError(
                "without this part the code is read as something else, not as the same with less",
                pattern.text,
                part.hole.at,
                "write two rules, or a pattern of what both have in common",
            )


def _without(shape: PatternNode, name: str) -> PatternNode:
    """Return a node of a pattern without a part that may be missing."""
    items = tuple(_without(item, name) for item in shape.items if item.key != name)
    items = tuple(i for i in items if i.items or i.text is not None or i.hole or i.meaning)
    shape = replace(shape, items=items)
    if shape.is_optional and not shape.key:  # a node that is not there without its parts
        inner = items[0].items
        if len(inner) == 1:
            return replace(inner[0], items=(replace(items[0], items=inner[0].items),))
    return shape


def _is_same(shape: PatternNode, second: PatternNode) -> bool:
    """Return whether two nodes of patterns fit the same code."""
    holes = [h if h is None else (h.least, h.most, h.form) for h in (shape.hole, second.hole)]
    return (
        (shape.kind, shape.field, shape.text) == (second.kind, second.field, second.text)
        and holes[0] == holes[1]
        and len(shape.items) == len(second.items)
        and all(map(_is_same, shape.items, second.items))
    )
