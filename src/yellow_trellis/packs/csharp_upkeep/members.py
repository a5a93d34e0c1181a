"""Rules about the constructors and fields of C#."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix, named
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node

_WRITES = frozenset({"assignment_expression", "postfix_unary_expression", "prefix_unary_expression"})


@rule(
    "parameter-without-a-guard",
    summary="A constructor refuses what is null.",
    language="csharp",
    kinds=["constructor_declaration"],
    examples=[
        Example(
            "using System;\n\nclass Depot\n{\n    Depot(Line line, int zone, string name)\n    {\n"
            "        this.line = line;\n    }\n}\n",
            becomes="using System;\n\nclass Depot\n{\n    Depot(Line line, int zone, string name)\n"
            "    {\n        ArgumentNullException.ThrowIfNull(line);\n"
            "        ArgumentException.ThrowIfNullOrEmpty(name);\n\n        this.line = line;\n"
            "    }\n}\n",
        ),
        Example("class Depot { Depot(int zone, Line? line) { this.zone = zone; } }", stays=True),
        Example("class Depot { Depot(Line line) { this.line = line ?? throw new X(); } }", stays=True),
    ],
)
def parameter_without_a_guard(node: Node, code: Code) -> Iterator[Draft]:
    """One guard for each parameter that may be null, in their order; texts have to hold something.

    Asks for review: who passes null now gets an exception.
    """
    body, parameters = node.child("body"), node.child("parameters")
    first = next((item for item in body.items if item.named), None) if body is not None else None
    if body is None or parameters is None or first is None:
        return
    missing = [p for p in parameters.items if p.kind == "parameter" and _lacks_guard(p, body)]
    if not missing:
        return
    pieces: list[object] = []
    for parameter in missing:
        type_, name = parameter.child("type"), parameter.child("name")
        assert type_ is not None and name is not None
        is_text = type_.text in ("string", "String")
        owner = "System.ArgumentException" if is_text else "System.ArgumentNullException"
        call = "ThrowIfNullOrEmpty" if is_text else "ThrowIfNull"
        pieces += [named(owner), f".{call}({name.text});\n"]
    offered = fix("guard them", safety="review").before(first, *pieces)  # type: ignore[arg-type]
    names = ", ".join(f"`{name.text}`" for p in missing if (name := p.child("name")) is not None)
    yield code.finding(parameters, f"nothing refuses null for {names}", [offered])


def _lacks_guard(parameter: Node, body: Node) -> bool:
    type_, name = parameter.child("type"), parameter.child("name")
    if type_ is None or name is None or type_.kind in ("nullable_type", "predefined_type"):
        if type_ is None or name is None or type_.text != "string":
            return False
    text = "".join(body.text.split())
    spellings = (f"{name.text}isnull", f"{name.text}==null", f"{name.text}??", f"null({name.text})",
            f"Null({name.text}", f"NullOrEmpty({name.text}", f"nameof({name.text})")
    return not any(part in text for part in spellings)


@rule(
    "field-set-once",
    summary="A field that only the constructor sets is read-only.",
    language="csharp",
    kinds=["class_declaration"],
    examples=[
        Example("class Depot { private int zone; Depot(int z) { zone = z; } int F() { return zone; } }",
                becomes="class Depot { private readonly int zone; Depot(int z) { zone = z; } "
                "int F() { return zone; } }"),
        Example("class Depot { private int zone; void F(int z) { zone = z; } }", stays=True),
        Example("class Depot { private int zone; void F() { G(ref zone); } }", stays=True),
        Example("class Depot { internal int zone; Depot(int z) { zone = z; } }", stays=True),
        Example("partial class Depot { private int zone; Depot() { zone = 1; } }", stays=True),
    ],
)
def field_set_once(node: Node, code: Code) -> Iterator[Draft]:
    """Only private fields, of classes that are in one place, and of which each use is seen."""
    body = node.child("body")
    if body is None or any(child.text == "partial" for child in node.children):
        return
    for field in body.items:
        words = [child.text for child in field.children]
        if field.kind != "field_declaration" or "private" not in words:
            continue
        declared = field.items[-2] if field.items[-1].text == ";" else field.items[-1]
        declarators = [item for item in declared.items if item.kind == "variable_declarator"]
        if {"readonly", "const", "volatile"} & set(words) or len(declarators) != 1:
            continue
        name = declarators[0].items[0]
        if _is_set_in_constructors(name, body):
            mark = next(child for child in field.children if child.text == "private")
            offered = fix("make it read-only").replace(mark, "private readonly")
            yield code.finding(name, f"only a constructor sets `{name.text}`", [offered])


def _is_set_in_constructors(name: Node, body: Node) -> bool:
    writes = 0
    for item in body.walk():
        if item.kind != "identifier" or item.text != name.text or item is name:
            continue
        above = item.parent
        while above is not None and above.kind == "member_access_expression":
            above = above.parent
        if above is None or above.kind in ("argument",) and above.children[0].text in ("ref", "out"):
            return False
        if above.kind in _WRITES and above.items[0].end >= item.end and (
            above.kind != "assignment_expression" or item.end <= above.items[0].end
        ):
            outer = [a.kind for a in item.ancestors()]
            if "constructor_declaration" not in outer or "lambda_expression" in outer:
                return False
            writes += 1
    return writes > 0
