"""Rules about the bindings of a file of JavaScript or TypeScript."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.option import Option
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.semantics import Binding, Occurrence
from yellow_trellis.semantics.javascript import facts_of
from yellow_trellis.syntax import Node

_ALL = ("typescript", "tsx")
_LOOPS = frozenset({"do_statement", "for_in_statement", "for_statement", "while_statement"})
_FUNCTIONS = frozenset({"body", "function", "module"})


@rule(
    "declared-for-a-function",
    summary="A variable is declared for the block that uses it.",
    language="javascript",
    also_in=_ALL,
    kinds=["variable_declaration"],
    tags=["names"],
    examples=[
        Example("function f() { var zone = 1; return zone; }",
                becomes="function f() { const zone = 1; return zone; }"),
        Example("function f() { var zone = 1; zone += 1; return zone; }",
                becomes="function f() { let zone = 1; zone += 1; return zone; }"),
        Example("function f() { if (late) { var zone = 1; } return zone; }", stays=True),
        Example("function f() { ring(zone); var zone = 1; }", stays=True),
        Example("function f() { for (;;) { var zone = 1; later(() => zone); } }", stays=True),
        Example("function f() { var zone = 1; var zone = 2; return zone; }", stays=True),
    ],
)
def declared_for_a_function(node: Node, code: Code) -> Iterator[Draft]:
    """Only where nothing changes: it is declared once, with a value, before and around every use.

    In a loop, a variable that a function keeps would be another one each time: it is left alone.
    """
    names = [item.child("name") for item in node.items if item.kind == "variable_declarator"]
    body = node.parent
    if body is None or body.kind not in ("program", "statement_block"):
        return
    if any(name is None or name.kind != "identifier" for name in names):
        return
    bindings = [code.refers_to(name) for name in names if name is not None]
    if not all(b is not None and _may_be_narrow(b, node, body, code) for b in bindings):
        return
    if not all(item.child("value") for item in node.items if item.kind == "variable_declarator"):
        return
    word = "let" if any(b is not None and b.reassigned for b in bindings) else "const"
    declarators = node.text.removeprefix("var")
    offered = fix(f"declare it by `{word}`").replace(node, word + declarators)
    yield code.finding(node, f"`var` declares for the whole function: `{word}` will do", [offered])


def _may_be_narrow(binding: Binding, node: Node, body: Node, code: Code) -> bool:
    if len(binding.definitions) != 1:
        return False
    facts = facts_of(code.tree)
    if binding.scope is facts.names.module and facts.is_script:
        return False
    used = [item for item in binding.occurrences if item is not binding.definitions[0]]
    if any(not node.end <= item.span.start < body.end for item in used):
        return False
    in_loop = any(above.kind in _LOOPS for above in _within_function(node))
    return not in_loop or not any(_is_kept(item, binding) for item in used)


def _within_function(node: Node) -> Iterator[Node]:
    for above in node.ancestors():
        if above.kind.startswith(("function", "arrow", "generator", "method")):
            return
        yield above


def _is_kept(item: Occurrence, binding: Binding) -> bool:
    """Return whether a function inside of the binding's own says it."""
    scope = item.scope
    while scope is not binding.scope and scope.parent is not None:
        if scope.kind in _FUNCTIONS:
            return True
        scope = scope.parent
    return False


@rule(
    "imported-for-nothing",
    summary="What is imported is used.",
    language="javascript",
    also_in=_ALL,
    kinds=["program"],
    tags=["names", "imports"],
    options=[Option("kept", (), help="Names that stay although nothing refers to them.")],
    examples=[
        Example("import { price, zone } from '@alder/fares';\nring(zone);",
                becomes="import { zone } from '@alder/fares';\nring(zone);"),
        Example("import fares from '@alder/fares';\nring();", becomes="ring();"),
        Example("import '@alder/fares';", stays=True),
        Example("import { price } from '@alder/fares';\nexport { price };", stays=True),
        Example("import React from 'react';\nring(<b/>);", stays=True),
    ],
)
def imported_for_nothing(node: Node, code: Code) -> Iterator[Draft]:
    """Asks for review: loading a module may do something, which then is not done any more."""
    for unused in code.unused_imports():
        if unused.binding.name in code.options["kept"]:
            continue
        offered = fix("take it out", safety="review").unimport(unused.item)
        yield code.finding(unused.item, f"`{unused.binding.name}` is not used", [offered])


@rule(
    "declared-for-nothing",
    summary="What is declared is used.",
    language="javascript",
    also_in=_ALL,
    kinds=["program"],
    tags=["names"],
    examples=[
        Example("export function f() { const zone = 1; }"),
        Example("export function f() { const { zone, ...rest } = ticket; return rest; }", stays=True),
        Example("export function f(zone) {}", stays=True),
    ],
)
def declared_for_nothing(node: Node, code: Code) -> Iterator[Draft]:
    """Arguments are left alone, and so is what is named beside the rest of an object."""
    for binding in code.unused_bindings():
        place = binding.definitions[0].node
        yield code.finding(place, f"nothing reads `{binding.name}`")


@rule(
    "module-by-require",
    summary="Modules are imported by `import`.",
    language="javascript",
    also_in=_ALL,
    kinds=["lexical_declaration"],
    tags=["imports"],
    examples=[
        Example('const { price, zone: place } = require("@alder/fares");',
                becomes='import { price, zone as place } from "@alder/fares";'),
        Example('const fares = require("@alder/fares");',
                becomes='import * as fares from "@alder/fares";'),
        Example('function f() { const fares = require("@alder/fares"); }', stays=True),
        Example('const { price = 1 } = require("@alder/fares");', stays=True),
        Example('const a = require("a"), b = 1;', stays=True),
    ],
)
def module_by_require(node: Node, code: Code) -> Iterator[Draft]:
    """Asks for review: the file becomes a module of ECMAScript, and strict."""
    items = [item for item in node.items if item.kind == "variable_declarator"]
    if node.parent is not code.root or len(items) != 1:
        return
    here = [i for _, i in code.facts.names.imports if i.statement == node.span]
    name, value = items[0].child("name"), items[0].child("value")
    if not here or name is None or value is None:
        return
    listed = [item for item in name.items if item.named] if name.kind == "object_pattern" else [name]
    if len(listed) != len(here):
        return
    source = value.items[-1].items[1].text
    if here[0].name is None:
        clause = f"* as {here[0].bound}"
    else:
        parts = (i.name if i.alias in (None, i.name) else f"{i.name} as {i.alias}" for i in here)
        clause = "{ " + ", ".join(str(part) for part in parts) + " }"
    end = ";" if node.text.endswith(";") else ""
    offered = fix("import it", safety="review").replace(node, f"import {clause} from {source}{end}")
    yield code.finding(node, fixes=[offered])
