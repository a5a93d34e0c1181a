"""A rule about where Java programs write to."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix, named
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node

_LOGGER = "java.util.logging.Logger"


@rule(
    "printed-to-the-console",
    summary="What a program has to say goes to a logger.",
    language="java",
    kinds=["class_declaration"],
    tags=["logging"],
    examples=[
        Example(
            'package a;\n\nclass Till {\n    void f() {\n        System.out.println("open");\n    }\n}\n',
            becomes="package a;\n\nimport java.util.logging.Logger;\n\nclass Till {\n"
            "    private static final Logger LOG = Logger.getLogger(Till.class.getName());\n\n"
            '    void f() {\n        LOG.info("open");\n    }\n}\n',
        ),
        Example("class Till {\n    void f(int n) {\n        System.out.println(n);\n    }\n}\n"),
        Example("class Till { void f() { out.println(1); } }", stays=True),
        Example("class Till { int LOG; void f() { System.out.println(1); } }"),
    ],
)
def printed_to_the_console(node: Node, code: Code) -> Iterator[Draft]:
    """All of a class at once: one logger, and its import where it is missing.

    Asks for review: a logger writes elsewhere, and not everything.
    """
    body, name = node.child("body"), node.child("name")
    if body is None or name is None or any(a.kind == "class_declaration" for a in node.ancestors()):
        return
    matches = list(code.seek(body, "@<java.lang.System>.out.println(@{text})"))
    members = [item for item in body.items if item.named]
    if not matches or not members:
        return
    offered = fix("log it", safety="review")
    for match in matches:
        text = match["text"]
        assert isinstance(text, Node)
        is_text = text.kind == "string_literal" or (
            text.kind == "binary_expression" and '"' in text.text
        )
        offered.put(match, "LOG.info(@{text})" if is_text else "LOG.info(String.valueOf(@{text}))")
    fields = [d.text for d in body.walk() if d.kind == "variable_declarator"]
    if any(text.startswith("LOG") for text in fields):
        yield code.finding(matches[0].node, "this goes to the console; the class has a `LOG`")
        return
    offered.before(
        members[0],
        "private static final ", named(_LOGGER), " LOG = ", named(_LOGGER),
        f".getLogger({name.text}.class.getName());\n",
    )
    yield code.finding(matches[0].node, f"{len(matches)} lines of `{name.text}` go to the console", [offered])
