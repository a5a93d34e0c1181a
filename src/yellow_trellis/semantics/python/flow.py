"""The last binding of a name before a read, if the order of statements makes it certain.

A name that is bound to one thing here and another there has no one meaning, but may have one at a
place: behind an assignment in the same body with nothing in between that could bind it again.
Only that is read; what comes through branches, loops or other functions is not known.
"""

from __future__ import annotations

from yellow_trellis.semantics.scope import Binding, Occurrence
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node

_HEADERS = {"for": "for_statement", "with": "with_statement"}


def last_binding(binding: Binding, node: Node) -> Occurrence | None:
    """Return the place that has bound the name `node` last; None where that is not certain."""
    changes = [
        occurrence
        for occurrence in binding.occurrences
        if occurrence.use in ("bind", "delete", "declare")
    ]
    if any(change.scope is not binding.scope or change.use != "bind" for change in changes):
        return None
    bodies = node.tree.language.bodies
    inner = node
    for above in node.ancestors():
        if above.kind in bodies:
            inside = [change for change in changes if _holds(inner.span, change)]
            if inside and not _is_plain(inner):
                return _of_header(inner, inside, node)
            before = [
                change for change in changes if above.start <= change.span.start < inner.start
            ]
            if before:
                return _assigned(above, before[-1])
        if above.kind in ("function_definition", "lambda", "class_definition"):
            results = [change for change in changes if change.how == "argument"]
            return results[0] if above.kind == "function_definition" and results else None
        inner = above
    return None


def _holds(span: Span, occurrence: Occurrence) -> bool:
    return span.start <= occurrence.span.start < span.end


def _is_plain(statement: Node) -> bool:
    """Return whether a statement is an assignment, which binds after all in it is read."""
    core = statement.core
    return core.kind == "assignment" and ":=" not in core.text


def _of_header(statement: Node, inside: list[Occurrence], node: Node) -> Occurrence | None:
    """Return what the header of a loop or `with` binds, for a place in its body."""
    item = inside[0]
    if len(inside) > 1 or statement.kind != _HEADERS.get(item.how or ""):
        return None
    body = statement.child("body")
    in_body = body is not None and body.start <= node.start < body.end
    return item if in_body and body is not None and item.span.start < body.start else None


def _assigned(body: Node, occurrence: Occurrence) -> Occurrence | None:
    """Return `occurrence` if it is an assignment to the name alone, directly in the body."""
    target = occurrence.node
    statement = target.parent
    if statement is None or statement.kind != "assignment" or target.field != "left":
        return None
    outer = statement.parent
    if outer is not None and outer.kind == "expression_statement":
        outer = outer.parent
    return occurrence if outer is not None and outer.span == body.span else None
