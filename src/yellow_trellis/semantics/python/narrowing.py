"""Type narrowing: checks after which the declared type of a name is not all that is known.

`if isinstance(x, Night):` makes `x.stop` the method of `Night` in its body, whatever the annotation
of `x` is. Only what is plain is read; where a check may have narrowed a name in another way, its
class is not known.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, Union

from yellow_trellis.syntax import Node

Narrowed = Union[Node, Literal["declared", "unknown"]]
"""The class that a name is an instance of, or whether what is declared for it holds."""

_CONDITIONAL = frozenset(
    {"conditional_expression", "elif_clause", "if_statement", "while_statement"}
)
_FUNCTIONS = frozenset({"function_definition", "module", "class_definition"})


def narrowed(node: Node, is_known: bool = True) -> Narrowed:
    """Return what the checks around and before the name `node` make of it.

    Arguments: `is_known` says that its class is known otherwise: then checks before it count too.
    """
    inner = node
    for above in node.ancestors():
        if above.kind in _FUNCTIONS:
            return "unknown" if is_known and _leaves_narrowed(above, node) else "declared"
        if above.kind in _CONDITIONAL:
            condition, body = _parts(above)
            if condition is not None and inner is body:
                result = _checked(condition, node.text)
                if result != "declared":
                    return result
        if above.kind == "boolean_operator" and inner is above.items[-1]:
            result = _checked(above.items[0], node.text)
            if result != "declared":
                return result
        if above.kind == "case_clause" and _matches(above, node.text):
            return "unknown"
        inner = above
    return "declared"


def _parts(node: Node) -> tuple[Node | None, Node | None]:
    if node.kind == "conditional_expression":
        return node.items[2] if len(node.items) > 2 else None, node.items[0]
    return node.child("condition"), node.child("consequence") or node.child("body")


def _checked(condition: Node, name: str) -> Narrowed:
    """Return what a condition that holds makes of a name."""
    condition = condition.bare
    if condition.kind == "boolean_operator":
        sides = [_checked(side, name) for side in condition.items if side.named]
        messages = [side for side in sides if side != "declared"]
        if messages and condition.items[1].kind != "and":
            return "unknown"
        return messages[-1] if messages else "declared"
    for check in _checks(condition, name):
        if check is condition:
            arguments = [item for item in check.items[-1].items if item.named]
            if len(arguments) == 2 and arguments[1].kind in ("identifier", "attribute"):
                return arguments[1]
        return "unknown"
    return "declared"


def _checks(node: Node, name: str) -> Iterator[Node]:
    """Yield the calls in `node` that tell of what class the value of a name is."""
    if name not in node.text:
        return
    for inner in node.walk():
        if inner.kind != "call" or inner.items[0].text not in ("isinstance", "issubclass", "type"):
            continue
        arguments = [item for item in inner.items[-1].items if item.named]
        if arguments and arguments[0].bare.text == name:
            yield inner


def _matches(clause: Node, name: str) -> bool:
    """Return whether a `case` is about the value of a name."""
    statement = clause.parent
    while statement is not None and statement.kind != "match_statement":
        statement = statement.parent
    subject = statement.child("subject") if statement is not None else None
    return subject is not None and subject.bare.text == name


def _leaves_narrowed(function: Node, node: Node) -> bool:
    """Return whether a check before the name narrows it: `if not isinstance(...): return`."""
    if b"isinstance" not in function.data and b"type(" not in function.data:
        return False
    for check in _checks(function, node.text):
        if check.start > node.start:
            continue
        for above in check.ancestors():
            if above.kind == "assert_statement":
                return True
            if above.kind == "not_operator" or above.kind == "comparison_operator":
                return True
            if above is function or above.kind in _FUNCTIONS:
                break
    return False
