"""Rules about names and types in PHP."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

import re
from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node

_TYPE = re.compile(r"@var\s+(\??[A-Za-z_]\w*)\s*\*/")
_PLAIN = frozenset({"array", "bool", "float", "int", "iterable", "object", "string"})


@rule(
    "use-for-nothing",
    summary="What is imported is used.",
    language="php",
    kinds=["program"],
    tags=["imports"],
    examples=[
        Example("<?php\n\nuse Alder\\Line;\nuse Alder\\Stop;\n\nnew Line();\n",
                becomes="<?php\n\nuse Alder\\Line;\n\nnew Line();\n"),
        Example("<?php\n\nuse Alder\\Line;\n\n/** @var Line $a */\n", stays=True),
    ],
)
def use_for_nothing(node: Node, code: Code) -> Iterator[Draft]:
    """A name that only a comment says counts as used: tools read types there."""
    for unused in code.unused_imports():
        offered = fix("take it out").unimport(unused.item)
        yield code.finding(unused.item, f"`{unused.imported.bound}` is not used", [offered])


@rule(
    "type-in-a-comment",
    summary="A property says its type.",
    language="php",
    kinds=["property_declaration"],
    examples=[
        Example("<?php\nclass Till {\n    /** @var int */\n    private $zone = 1;\n}\n",
                becomes="<?php\nclass Till {\n    /** @var int */\n    private int $zone = 1;\n}\n"),
        Example("<?php\nclass Till {\n    /** @var Line[] */\n    private $lines;\n}\n", stays=True),
        Example("<?php\nclass Till {\n    /** @var int */\n    private int $zone = 1;\n}\n", stays=True),
    ],
)
def type_in_a_comment(node: Node, code: Code) -> Iterator[Draft]:
    """Asks for review: a value of another type is refused then, and no value is an error."""
    elements = [item for item in node.items if item.kind == "property_element"]
    if node.child("type") is not None or len(elements) != 1:
        return
    comments = [comment.text for comment in code.comments(node)]
    match = next((m for text in comments if (m := _TYPE.search(text)) is not None), None)
    if match is None or match[1].lstrip("?").lower() not in _PLAIN:
        return
    name = elements[0].child("name")
    assert name is not None
    before, _, behind = node.text.partition(name.text)
    typed = f"{before}{match[1]} {name.text}{behind}"
    offered = fix("say it", safety="review").replace(node, typed)
    yield code.finding(name, f"only a comment says that it is `{match[1]}`", [offered])
