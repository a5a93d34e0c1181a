"""Imports of JavaScript and TypeScript as they are written, name by name."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from yellow_trellis.semantics.imports import Import
from yellow_trellis.source import Span

if TYPE_CHECKING:
    import tree_sitter

NAME_LISTS = frozenset({"named_imports", "object_pattern"})
"""The kinds of lists of names in braces."""


def read_import(raw: tree_sitter.Node, data: bytes) -> Iterator[Import]:
    """Yield what an import statement binds.

    The name of a default import is ``default``; one of a whole module has none. The module is the
    text in the quotes.
    """
    source = raw.child_by_field_name("source")
    for child in raw.named_children:
        if child.type == "import_require_clause":
            source = child.child_by_field_name("source")
            yield _whole(raw, child.named_children[0], child, _unquoted(source, data), data)
        elif child.type == "import_clause":
            module = _unquoted(source, data)
            for part in child.named_children:
                if part.type == "identifier":
                    yield _item(raw, part, part, module, "default", _text(part, data))
                elif part.type == "namespace_import":
                    yield _whole(raw, part.named_children[-1], part, module, data)
                elif part.type == "named_imports":
                    yield from _named_imports(raw, part, module, data)


def _named_imports(
    raw: tree_sitter.Node, clause: tree_sitter.Node, module: str, data: bytes
) -> Iterator[Import]:
    for part in clause.named_children:
        name = part.child_by_field_name("name")
        alias = part.child_by_field_name("alias")
        if part.type == "import_specifier" and name is not None:
            text = _text(name, data).strip("'\"")
            bound = _text(alias, data) if alias is not None else None
            yield _item(raw, part, alias or name, module, text, bound)


def read_require(
    raw: tree_sitter.Node, declarator: tree_sitter.Node, data: bytes
) -> Iterator[Import]:
    """Yield what a declaration binds whose value is ``require("module")``.

    It has one such value: ``const a = require("m")`` or ``const {a, b: c} = require("m")``; what
    lies deeper in a pattern is left out.
    """
    value, name = declarator.child_by_field_name("value"), declarator.child_by_field_name("name")
    module = _required(value, data) if value is not None else None
    if name is None or module is None:
        return
    if name.type == "identifier":
        yield _whole(raw, name, declarator, module, data)
    elif name.type == "object_pattern":
        for part in name.named_children:
            if part.type == "shorthand_property_identifier_pattern":
                yield _item(raw, part, part, module, _text(part, data), None)
            elif part.type == "pair_pattern":
                key, bound = part.named_children[0], part.named_children[-1]
                if key.type == "property_identifier" and bound.type == "identifier":
                    text = _text(key, data)
                    yield _item(raw, part, bound, module, text, _text(bound, data))


def _required(value: tree_sitter.Node, data: bytes) -> str | None:
    """Return the module that a call of `require` asks for; None for any other code."""
    function = value.child_by_field_name("function")
    arguments = value.child_by_field_name("arguments")
    if value.type != "call_expression" or function is None or arguments is None:
        return None
    items = arguments.named_children
    if _text(function, data) != "require" or len(items) != 1 or items[0].type != "string":
        return None
    return _unquoted(items[0], data)


def _whole(
    raw: tree_sitter.Node,
    name: tree_sitter.Node,
    part: tree_sitter.Node,
    module: str,
    data: bytes,
) -> Import:
    return _item(raw, part, name, module, None, _text(name, data))


def _item(
    raw: tree_sitter.Node,
    part: tree_sitter.Node,
    bound: tree_sitter.Node,
    module: str,
    name: str | None,
    alias: str | None,
) -> Import:
    statement = Span(raw.start_byte, raw.end_byte)
    item = Span(part.start_byte, part.end_byte)
    return Import(statement, item, bound.start_byte, 0, module, name, alias)


def _unquoted(source: tree_sitter.Node | None, data: bytes) -> str:
    return _text(source, data)[1:-1] if source is not None else ""


def _text(raw: tree_sitter.Node, data: bytes) -> str:
    return data[raw.start_byte : raw.end_byte].decode("utf-8", "surrogateescape")
