"""Marks on definitions and clauses of Python: decorators, ``async``, groups of exceptions."""

from __future__ import annotations

from yellow_trellis.syntax import Node

_ACCESSORS = frozenset({"property", "setter", "getter", "deleter", "overload"})


def is_async(node: Node) -> bool:
    """Return whether a name is bound by ``async with``."""
    statement = next((a for a in node.ancestors() if a.kind == "with_statement"), None)
    return statement is not None and any(child.kind == "async" for child in statement.children)


def is_of_group(node: Node) -> bool:
    """Return whether a name is bound by ``except*``: to a group of what is named there."""
    clause = next((a for a in node.ancestors() if a.kind.startswith("except")), None)
    return clause is not None and any(child.kind in ("*", "except*") for child in clause.children)


def is_property(definition: Node) -> bool:
    """Return whether a definition is a property, or one of several of the same name."""
    return any(mark.rpartition(".")[2] in _ACCESSORS for mark in decorators(definition))


def marks_of(definition: Node) -> list[Node]:
    """Return the decorators of a definition, each without its arguments."""
    above = definition.parent
    if above is None or above.kind != "decorated_definition":
        return []
    marks = (child.items[-1].bare for child in above.children if child.kind == "decorator")
    return [mark.items[0] if mark.kind == "call" else mark for mark in marks]


def decorators(definition: Node) -> frozenset[str]:
    """Return the decorators of a definition as they are written, without their arguments."""
    above = definition.parent
    if above is None or above.kind != "decorated_definition":
        return frozenset()
    marks = (child for child in above.children if child.kind == "decorator")
    return frozenset(mark.text.lstrip("@ \t").partition("(")[0].strip() for mark in marks)
