"""Code that Rust reads otherwise than our parser: a statement ends with a block at its start.

Source: the Rust reference, on expression statements: an operator, a call or an index behind such a
block begins another statement; a dot or a question mark goes on.
"""

from __future__ import annotations

from collections.abc import Iterator

import tree_sitter

_BLOCKS = frozenset(
    {
        *("block", "const_block", "for_expression", "if_expression", "loop_expression"),
        *("match_expression", "unsafe_block", "while_expression"),
    }
)
_GOES_ON = frozenset({"field_expression", "try_expression"})
AMBIGUOUS = frozenset({"block", "expression_statement"})
"""The kinds in which there is such code."""


def unbracketed_in(node: tree_sitter.Node) -> Iterator[tuple[int, int]]:
    """Yield the block at the start of a statement that goes on behind it."""
    inner = [child for child in node.children if child.is_named]
    above = inner[-1] if inner else None  # of a block the expression that it ends in
    if above is None or above.type in _BLOCKS or above.type.endswith("_item"):
        return
    while above.children:
        first = above.children[0]
        if first.type in _BLOCKS:
            if above.type not in _GOES_ON and above.type not in AMBIGUOUS:
                yield first.start_byte, first.end_byte
            return
        above = first
