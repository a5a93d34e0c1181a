"""Code that JavaScript and TypeScript read otherwise than our parser, or not at all.

In some places a line must not end, or another statement begins there: our parser takes that line
end for space. A bare `in` may not stand where a loop starts, `super` only where a member of it is
asked or it is called, and a value is assigned to names and members alone. A statement that starts
with a brace, `function` or `class` is a block or a declaration. `import` and `export` stand at the
top of a file only, `export` in a namespace as well.
Source: ECMA-262: modules, automatic semicolon insertion, early errors of assignments, expression
statements; and what TypeScript adds to them.
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

_TARGETS = {
    "assignment_expression": "left", "augmented_assignment_expression": "left",
    "for_in_statement": "left", "update_expression": "argument",
}
"""By kind: the field of what a value is assigned to."""
_STARTS = frozenset({"arrow_function", "export_statement", "expression_statement"})
"""The kinds in which code must not start as a block or a declaration does."""

AMBIGUOUS = frozenset(
    {
        *(*_AFTER, *_BEFORE, *_TARGETS, *_STARTS),
        *("call_expression", "for_statement", "import_statement", "super"),
    }
)
"""The kinds in which there is such code."""
_ENDS = frozenset({";", "comment"})


def _is_at_top(statement: tree_sitter.Node) -> bool:
    """Return whether a statement stands at the top of a file, or of a namespace."""
    above = statement.parent
    if above is None or above.type in ("program", "ERROR"):
        return True
    around = above.parent
    return around is not None and around.type in ("internal_module", "module")


def misread_in(node: tree_sitter.Node) -> Iterator[int]:
    """Yield the bytes at which code in a node is read otherwise."""
    if node.type == "for_statement":
        yield from _bare_in(node)
        return
    if node.type in ("export_statement", "import_statement") and not _is_at_top(node):
        yield node.start_byte
    yield from _line_ends_in(node)
    if node.type in _TARGETS:
        target = node.child_by_field_name(_TARGETS[node.type])
        if target is not None and not _may_be_assigned(target):
            yield target.start_byte
    if node.type == "super" and not _is_asked(node):
        yield node.start_byte
    if node.type == "call_expression":
        tag, given = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        if given is not None and given.type == "template_string" and _is_optional(tag):
            yield given.start_byte


def unbracketed_in(node: tree_sitter.Node) -> Iterator[tuple[int, int]]:
    """Yield the spans of expressions that are read otherwise where they are without brackets."""
    first: tree_sitter.Node | None = None
    starts: frozenset[str] = _DECLARING
    if node.type == "expression_statement" and node.children:
        first, starts = node.children[0], _DECLARING | {"object", "object_pattern"}
    elif node.type == "arrow_function":
        first = node.child_by_field_name("body")
        starts = frozenset({"object", "object_pattern"})
    elif node.type == "export_statement":
        first = node.child_by_field_name("value")
        if first is not None and first.type in _DECLARING:
            first = None  # it is declared under no name
    while first is not None:
        if first.type in starts:
            yield first.start_byte, first.end_byte
            return
        if not first.children:
            return
        first = first.children[0]


def _may_be_assigned(target: tree_sitter.Node) -> bool:
    while target.type == "parenthesized_expression" and len(target.named_children) == 1:
        target = target.named_children[0]
    if target.type in ("member_expression", "subscript_expression"):
        return not _is_optional(target)
    return target.type not in _VALUES


def _is_optional(node: tree_sitter.Node | None) -> bool:
    """Return whether an expression is a chain that ends where something is missing: ``a?.b``."""
    while node is not None and node.type in _CHAINED:
        if any(child.type == "optional_chain" for child in node.children):
            return True
        node = node.child_by_field_name("object") or node.child_by_field_name("function")
    return False


def _is_asked(word: tree_sitter.Node) -> bool:
    """Return whether `super` stands where it may: before a member, or a call."""
    above = word.parent
    if above is None or above.type not in _CHAINED:
        return False
    holder = above.child_by_field_name("object") or above.child_by_field_name("function")
    return holder is not None and holder.start_byte == word.start_byte


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
_DECLARING = frozenset({"class", "function_expression", "generator_function"})
"""Expressions that start as a declaration does."""
_CHAINED = frozenset({"call_expression", "member_expression", "subscript_expression"})
_VALUES = frozenset({
    "arrow_function", "await_expression", "binary_expression",
    "call_expression", "class", "function_expression", "new_expression", "null", "number",
    "regex", "string", "template_string", "ternary_expression", "this", "true", "false",
    "unary_expression", "update_expression", "yield_expression",
})
"""Kinds to which nothing can be assigned."""
