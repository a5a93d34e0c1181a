"""Code that Ruby reads otherwise than our parser: a brace behind a command is a block.

Source: the grammar of Ruby, in which `tell {q: 1}` gives `tell` a block, and `not {q: 1}` is none.
"""

from __future__ import annotations

from collections.abc import Iterator

import tree_sitter

AMBIGUOUS = frozenset({"argument_list", "unary"})
"""The kinds in which there is such code."""


def unbracketed_in(node: tree_sitter.Node) -> Iterator[tuple[int, int]]:
    """Yield the hash at the start of arguments without brackets, or behind `not`."""
    first = node.children[0] if node.children else None
    if node.type == "unary":
        is_word = first is not None and first.type == "not"
        first = node.child_by_field_name("operand") if is_word else None
    while first is not None and first.type != "(":
        if first.type == "hash":
            yield first.start_byte, first.end_byte
            return
        first = first.children[0] if first.children else None
