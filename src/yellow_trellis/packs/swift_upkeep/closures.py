"""A rule about closures in Swift."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node


@rule(
    "parameter-for-nothing",
    summary="A closure names the parameters that it uses.",
    language="swift",
    kinds=["lambda_parameter"],
    tags=["names"],
    examples=[
        Example("riders.forEach { rider in ring() }", becomes="riders.forEach { _ in ring() }"),
        Example("riders.reduce(0) { sum, rider in sum + 1 }",
                becomes="riders.reduce(0) { sum, _ in sum + 1 }"),
        Example("riders.forEach { rider in ring(rider) }", stays=True),
        Example("riders.forEach { rider in print(\"\\(rider)\") }", stays=True),
        Example("riders.forEach { rider in if let rider { ring(1) } }", stays=True),
    ],
)
def parameter_for_nothing(node: Node, code: Code) -> Iterator[Draft]:
    """A parameter that is not used is written `_`."""
    name = node.child("name")
    binding = code.refers_to(name) if name is not None else None
    if name is None or binding is None or name.text == "_":
        return
    if all(item.use == "bind" for item in binding.occurrences) and not _is_unwrapped(name):
        offered = fix("leave it unnamed").replace(name, "_")
        yield code.finding(name, f"nothing uses `{name.text}`", [offered])


def _is_unwrapped(name: Node) -> bool:
    """Return whether ``if let rider`` uses a parameter, as it does where it names no value."""
    closure = next((node for node in name.ancestors() if node.kind == "lambda_literal"), name)
    return any(
        node.field == "bound_identifier" and node.text == name.text and _names_no_value(node)
        for node in closure.walk()
    )


def _names_no_value(node: Node) -> bool:
    return node.next is None or node.next.kind != "="
