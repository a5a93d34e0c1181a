"""A rule about how names are spelled in Object Pascal."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node

_CODE = "program Till;\nvar\n  Zone: Integer;\nbegin\n  {} := 1;\nend.\n"


@rule(
    "case-of-the-declaration",
    summary="A name is written as it is declared.",
    language="pascal",
    kinds=["root"],
    tags=["names"],
    examples=[
        Example(_CODE.format("ZONE"), becomes=_CODE.format("Zone")),
        Example(_CODE.format("Zone"), stays=True),
        Example(_CODE.format("A.zone"), stays=True),
    ],
)
def case_of_the_declaration(node: Node, code: Code) -> Iterator[Draft]:
    """The language does not tell letters by their case; who reads does."""
    for binding in code.facts.names.bindings:
        first = binding.definitions[0].node.text
        for item in binding.occurrences:
            place = item.node
            if place.text != first:
                offered = fix("write it so").replace(place, first)
                yield code.finding(place, f"it is declared as `{first}`", [offered])
