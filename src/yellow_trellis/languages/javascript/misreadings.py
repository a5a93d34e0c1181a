"""Code that JavaScript and TypeScript read otherwise than our parser, or not at all.

In some places a line must not end, or another statement begins there: our parser takes that line
end for space. And a bare `in` may not stand where a loop starts.
Source: the restricted productions of the grammar (ECMA-262, automatic semicolon insertion), and
what TypeScript adds to them.
"""

from __future__ import annotations

from collections.abc import Iterator

import tree_sitter

_AFTER = {
    "arrow_function": ("async",), "break_statement": ("break",),
    "continue_statement": ("continue",), "function_declaration": ("async",),
    "function_expression": ("async",), "generator_function": ("async",),
    "method_definition": ("async",), "return_statement": ("return",),
    "throw_statement": ("throw",), "yield_expression": ("yield",),
    "abstract_class_declaration": ("abstract",), "type_alias_declaration": ("type",),
}
"""By kind: tokens behind which the next token is on the same line."""
_BEFORE = {
    "arrow_function": ("=>",), "as_expression": ("as",), "non_null_expression": ("!",),
    "satisfies_expression": ("satisfies",), "update_expression": ("++", "--"),
}
"""By kind: tokens before which the last token is on the same line."""

AMBIGUOUS = frozenset({*_AFTER, *_BEFORE, "for_statement"})
"""The kinds in which there is such code."""
_ENDS = frozenset({";", "comment"})


def misread_in(node: tree_sitter.Node) -> Iterator[int]:
    """Yield the bytes at which code in a node is read otherwise."""
    return _bare_in(node) if node.type == "for_statement" else _line_ends_in(node)


def _line_ends_in(node: tree_sitter.Node) -> Iterator[int]:
    """Yield the first bytes of tokens of `node` that begin a line where none may begin."""
    after, before = _AFTER.get(node.type, ()), _BEFORE.get(node.type, ())
    last: tree_sitter.Node | None = None
    for child in node.children:
        if child.type == "comment":
            continue
        if last is not None and child.type not in _ENDS:
            is_bound = last.type in after or child.type in before
            if is_bound and child.start_point.row > last.end_point.row:
                yield child.start_byte
        last = child


def _bare_in(loop: tree_sitter.Node) -> Iterator[int]:
    """Yield where a bare `in` stands where a loop starts, which the language has no rule for."""
    stack = [loop.child_by_field_name("initializer")]
    while stack:
        node = stack.pop()
        if node is None or node.type in _ENCLOSED:
            continue
        if node.type == "in":
            yield node.start_byte
        stack += node.children


_ENCLOSED = frozenset({
    "arguments", "array", "array_pattern", "class_body", "formal_parameters", "object",
    "object_pattern", "parenthesized_expression", "statement_block", "subscript_expression",
    "template_substitution",
})
"""Kinds in which an `in` is not one of the loop around them."""
