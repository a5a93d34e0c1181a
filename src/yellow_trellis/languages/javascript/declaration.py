"""JavaScript: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.languages.language import Shaped

# Binding strength, weakest first; source: the grammar of expressions in ECMA-262.
_STRENGTH = {
    "sequence_expression": 1,
    "spread_element": 2,
    "yield_expression": 3,
    "arrow_function": 3,
    "assignment_expression": 3,
    "augmented_assignment_expression": 3,
    "ternary_expression": 4,
    "unary_expression": 17,
    "await_expression": 17,
    "update_expression": 18,
    "number": 19,
    "function_expression": 19,
    "class": 19,
    "object": 21,
}
_BINARY = {
    "??": 5,
    "||": 6,
    "&&": 7,
    "|": 8,
    "^": 9,
    "&": 10,
    "==": 11,
    "!=": 11,
    "===": 11,
    "!==": 11,
    "<": 12,
    ">": 12,
    "<=": 12,
    ">=": 12,
    "in": 12,
    "instanceof": 12,
    "<<": 13,
    ">>": 13,
    ">>>": 13,
    "+": 14,
    "-": 14,
    "*": 15,
    "/": 15,
    "%": 15,
    "**": 16,
}
_PRIMARY = 20
_OBJECT = 21
_ITEM = 2
_EXPRESSION = 3
_ARROW_BODY = -1
"""An object there would be read as a block."""


def _is_misread(loop: tree_sitter.Node) -> bool:
    """Return whether a bare `in` stands where a loop starts, which the language has no rule for."""
    stack = [loop.child_by_field_name("initializer")]
    while stack:
        node = stack.pop()
        if node is None or node.type in _ENCLOSED:
            continue
        if node.type == "in":
            return True
        stack += node.children
    return False


_ENCLOSED = frozenset(
    {
        *("arguments", "array", "array_pattern", "class_body", "formal_parameters", "object"),
        *("object_pattern", "parenthesized_expression", "statement_block"),
        *("subscript_expression", "template_substitution"),
    }
)
"""Kinds in which an `in` is not one of the loop around them."""


def _stands_bare(strength: int, demand: int) -> bool:
    if demand == _ARROW_BODY:
        return _EXPRESSION <= strength != _OBJECT
    return strength >= demand


def _strength(node: Shaped) -> int:
    if node.kind == "binary_expression":
        operator = node.child("operator")
        return _BINARY.get(operator.kind if operator else "", _PRIMARY)
    return _STRENGTH.get(node.kind, _PRIMARY)


def _demand(parent: Shaped, field: str | None) -> int:
    kind = parent.kind
    if (kind, field) in _PLACES:
        return _PLACES[kind, field]
    if kind in _KINDS:
        return _KINDS[kind]
    if kind in ("binary_expression",):
        operator = token.kind if (token := parent.child("operator")) else ""
        own = _BINARY.get(operator, _PRIMARY)
        if operator == "**":
            return 18 if field == "left" else own
        if operator == "??":
            return 8  # it goes with neither `||` nor `&&` without brackets
        return own if field == "left" else own + 1
    return 0


_PLACES: dict[tuple[str, str | None], int] = {
    ("call_expression", "function"): _PRIMARY,
    ("member_expression", "object"): _PRIMARY,
    ("subscript_expression", "object"): _PRIMARY,
    ("new_expression", "constructor"): _PRIMARY,
    ("pair", "value"): _EXPRESSION,
    ("variable_declarator", "value"): _EXPRESSION,
    ("assignment_expression", "right"): _EXPRESSION,
    ("ternary_expression", "condition"): 5,
    ("ternary_expression", "consequence"): _EXPRESSION,
    ("ternary_expression", "alternative"): _EXPRESSION,
    ("arrow_function", "body"): _ARROW_BODY,
}
_KINDS = {
    "arguments": _ITEM,
    "array": _ITEM,
    "spread_element": _EXPRESSION,
    "unary_expression": 17,
    "await_expression": 17,
    "update_expression": 18,
}


def _literal_value(text: str) -> object:
    # Plain strings without escapes and plain numbers are spelled as in Python; the rest stays text.
    if "\\" in text or text[:1] == "`":
        raise ValueError(text)
    import ast  # most code is searched without asking what a literal is worth

    value = ast.literal_eval(text)
    if isinstance(value, (str, int, float)):
        return value
    raise ValueError(text)


_LINE = rb"(?:[^\r\n\xe2]|\xe2(?!\x80[\xa8\xa9]))*"
_GAP = (
    rb"[^A-Za-z0-9_$\x80-\xff/]|/(?![/*])|//%s|<!--%s|-->%s"
    rb"|/\*(?:[^*]|\*(?!/))*\*/|\xe2\x80[\xa8\xa9]"
    % (_LINE, _LINE, _LINE)
)

LANGUAGE = Language(
    name="javascript",
    grammar=grammar("tree_sitter_javascript"),
    comments=frozenset({"comment", "html_comment"}),
    bodies=frozenset({"program", "statement_block", "class_body", "switch_case"}),
    lists=frozenset(
        {
            "arguments",
            "array",
            "array_pattern",
            "formal_parameters",
            "named_imports",
            "object",
            "object_pattern",
            "sequence_expression",
        }
    ),
    enclosures=frozenset(
        {
            "arguments",
            "array",
            "array_pattern",
            "formal_parameters",
            "object",
            "object_pattern",
            "parenthesized_expression",
            "statement_block",
            "template_string",
        }
    ),
    atoms=frozenset({"comment", "html_comment"}),
    wrappers=frozenset({"expression_statement", "field_definition", "import_specifier"}),
    same_kinds={"'": '"'},
    delimiters=frozenset({'"'}),
    literals=frozenset({"string", "number"}),
    literal_value=_literal_value,
    families={
        "name": (
            *("identifier", "property_identifier", "shorthand_property_identifier"),
            "private_property_identifier",
        ),
        "string": ("string", "template_string"),
        "number": ("number",),
        "literal": ("string", "template_string", "number", "true", "false", "null", "regex"),
        "call": ("call_expression",),
        "function": (
            *("function_declaration", "function_expression", "arrow_function"),
            *("generator_function", "generator_function_declaration", "method_definition"),
        ),
        "class": ("class_declaration", "class"),
    },
    named_items=frozenset({"pair"}),
    only_in_runs=frozenset({"spread_element"}),
    statements=frozenset(
        {
            *("break_statement", "class_declaration", "continue_statement", "debugger_statement"),
            *("do_statement", "empty_statement", "export_statement", "expression_statement"),
            *("for_in_statement", "for_statement", "function_declaration", "if_statement"),
            *("generator_function_declaration", "import_statement", "labeled_statement"),
            *("lexical_declaration", "return_statement", "statement_block", "switch_statement"),
            *("throw_statement", "try_statement", "variable_declaration", "while_statement"),
            *("with_statement",),
        }
    ),
    word=rb"[A-Za-z0-9_$\x80-\xff]",
    keywords=frozenset(
        [
            "async",
            "await",
            "break",
            "case",
            "catch",
            "class",
            "const",
            "continue",
            "default",
            "delete",
            "do",
            "else",
            "export",
            "extends",
            "finally",
            "for",
            "function",
            "if",
            "import",
            "in",
            "instanceof",
            "let",
            "new",
            "null",
            "of",
            "return",
            "static",
            "super",
            "switch",
            "this",
            "throw",
            "true",
            "false",
            "try",
            "typeof",
            "undefined",
            "var",
            "void",
            "while",
            "yield",
            "=",
            ".",
            "(",
            ")",
            ":",
            "=>",
            "{",
            "}",
            "[",
            "]",
        ]
    ),
    stand_ins=("{}", "...{}", "case {}:"),
    contexts=(
        ("try {}\n", ""),
        ("if (x) {}\n", ""),
        ("switch (x) {\n", "\n}"),
        ("class X {\n", "\n}"),
    ),
    parts={"argument": ("f(", ")"), "parameter": ("function f(", ") {}")},
    gap=_GAP,
    line_comment="//",
    comment_mark=re.compile(b"//|/\\*|<!--|-->"),
    strength=_strength,
    demand=_demand,
    stands_bare=_stands_bare,
    ambiguous=frozenset({"for_statement"}),
    is_misread=_is_misread,
    unbracketed={"parameter": ("formal_parameters", "parameters")},
    terminator=";",
    self_ended=frozenset(
        {
            *("class_declaration", "for_in_statement", "for_statement", "function_declaration"),
            *("generator_function_declaration", "if_statement", "labeled_statement"),
            *("method_definition", "statement_block", "switch_statement", "try_statement"),
            *("while_statement", "with_statement"),
        }
    ),
    alike_kinds=(
        frozenset({"array", "array_pattern"}),
        frozenset({"object", "object_pattern"}),
        frozenset({"identifier", "property_identifier", "shorthand_property_identifier"}),
        frozenset({"shorthand_property_identifier_pattern", "shorthand_property_identifier"}),
        frozenset({"rest_pattern", "spread_element"}),
    ),
)
