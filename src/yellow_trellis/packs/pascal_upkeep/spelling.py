"""Rules about how names are spelled in Object Pascal."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

from collections.abc import Iterator
from difflib import get_close_matches

from yellow_trellis.fixes import fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.option import Option
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


@rule(
    "nearly-a-name",
    summary="A name that nothing declares is not one letter beside another.",
    language="pascal",
    kinds=["root"],
    tags=["names"],
    options=[Option("alike", 85, help="How alike two names are, in hundredths.", least=50, most=99)],
    examples=[
        Example(_CODE.format("Zoen"), becomes=_CODE.format("Zone"), options={"alike": 70}),
        Example(_CODE.format("Result"), stays=True),
    ],
)
def nearly_a_name(node: Node, code: Code) -> Iterator[Draft]:
    """Asks for review: the name may be one of a unit that this file uses."""
    names = code.facts.names
    spellings = {b.definitions[0].node.text for b in names.bindings if b.definitions}
    for start, (scope, name) in sorted(names.sites.items()):
        if names.visible(name, scope) is not None or len(name) < 4:
            continue
        place = names.tree.leaf_at(start)
        text = place.text if place is not None else ""
        near = get_close_matches(text, spellings, 1, code.options["alike"] / 100)
        if place is not None and near and near[0].lower() != text.lower():
            offered = fix(f"write `{near[0]}`", safety="review").replace(place, near[0])
            yield code.finding(place, f"nothing here is called so: is it `{near[0]}`?", [offered])
