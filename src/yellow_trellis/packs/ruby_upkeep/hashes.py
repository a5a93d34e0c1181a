"""A rule about hashes in Ruby."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node


@rule(
    "symbol-with-an-arrow",
    summary="A symbol as a key stands before a colon.",
    language="ruby",
    kinds=["hash"],
    examples=[
        Example("fare = { :zone => 1, :child => true }", becomes="fare = { zone: 1, child: true }"),
        Example("fare = { 'zone' => 1, :child => true }", stays=True),
        Example("fare = { :done? => 1 }", stays=True),
        Example("fare = { zone: 1 }", stays=True),
    ],
)
def symbol_with_an_arrow(node: Node, code: Code) -> Iterator[Draft]:
    """Only where all keys of a hash can be written so."""
    pairs = [item for item in node.items if item.kind == "pair"]
    keys = [pair.items[0] for pair in pairs]
    if not pairs or not all(k.kind == "simple_symbol" and k.text[1:].isidentifier() for k in keys):
        return
    offered = fix("write them before colons")
    for pair in pairs:
        offered.replace(pair, f"{pair.items[0].text[1:]}: ", pair.items[-1])
    yield code.finding(node, fixes=[offered])
