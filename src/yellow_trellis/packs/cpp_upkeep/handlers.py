"""A rule about the order of handlers in C++."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node

# Source: the working draft of C++, "Diagnostics library".
_BASES = {
    "logic_error": "exception", "runtime_error": "exception", "bad_alloc": "exception",
    "bad_cast": "exception", "domain_error": "logic_error", "invalid_argument": "logic_error",
    "length_error": "logic_error", "out_of_range": "logic_error", "range_error": "runtime_error",
    "overflow_error": "runtime_error", "underflow_error": "runtime_error",
    "system_error": "runtime_error",
}
_ONE = "void f() {\n    try {\n        g();\n    } catch (const std::exception& e) {\n        a();\n    }"
_BOTH = _ONE + " catch (const std::out_of_range& e) {\n        b();\n    }\n}\n"


@rule(
    "handler-never-reached",
    summary="A handler stands before those of its bases.",
    language="cpp",
    kinds=["try_statement"],
    examples=[
        Example(_BOTH, becomes=_ONE + "\n}\n"),
        Example("void f() { try { g(); } catch (const std::out_of_range& e) { b(); } "
                "catch (const std::exception& e) { a(); } }", stays=True),
    ],
)
def handler_never_reached(node: Node, code: Code) -> Iterator[Draft]:
    """Three ways out: only taking out the handler leaves what the program does as it is."""
    clauses = [item for item in node.items if item.kind == "catch_clause"]
    for at, second in enumerate(clauses):
        first = next((c for c in clauses[:at] if _is_base(_caught(c), _caught(second))), None)
        if first is None:
            continue
        types = [_type_of(clause) for clause in (first, second)]
        fixes = [fix("take out the handler that is never reached").remove(second)]
        fixes.append(fix("let it come first", safety="review").swap(first, second))
        if types[0] is not None and types[1] is not None:
            narrow = fix("let the first catch this only", safety="review")
            fixes.append(narrow.replace(types[0], types[1].text).remove(second))
        message = f"`{_caught(first)}` catches every `{_caught(second)}` before"
        yield code.finding(second, message, fixes)


def _type_of(clause: Node) -> Node | None:
    for item in clause.walk():
        if item.kind == "parameter_declaration":
            return item.child("type")
    return None


def _caught(clause: Node) -> str:
    """Return the exception of the standard library that a handler catches; empty for another."""
    type_ = _type_of(clause)
    text = "".join(type_.text.split()) if type_ is not None else ""
    return text.removeprefix("std::") if text.startswith("std::") else ""


def _is_base(base: str, name: str) -> bool:
    above = _BASES.get(name, "")
    while above:
        if above == base:
            return True
        above = _BASES.get(above, "")
    return False
