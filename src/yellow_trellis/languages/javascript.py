"""JavaScript: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.grammar import grammar
from yellow_trellis.languages.language import Language

if TYPE_CHECKING:
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
    "unary_expression": 16,
    "await_expression": 16,
    "update_expression": 17,
    "number": 18,
    "function_expression": 18,
    "object": 18,
    "class": 18,
}
_BINARY = {
    "??": 5,
    "||": 5,
    "&&": 6,
    "|": 7,
    "^": 8,
    "&": 9,
    "==": 10,
    "!=": 10,
    "===": 10,
    "!==": 10,
    "<": 11,
    ">": 11,
    "<=": 11,
    ">=": 11,
    "in": 11,
    "instanceof": 11,
    "<<": 12,
    ">>": 12,
    ">>>": 12,
    "+": 13,
    "-": 13,
    "*": 14,
    "/": 14,
    "%": 14,
    "**": 15,
}
_PRIMARY = 19
_ITEM = 2
_EXPRESSION = 3


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
            return 17 if field == "left" else own
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
    ("arrow_function", "body"): _EXPRESSION,
}
_KINDS = {
    "arguments": _ITEM,
    "array": _ITEM,
    "spread_element": _EXPRESSION,
    "unary_expression": 16,
    "await_expression": 16,
    "update_expression": 17,
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
    rb"[^A-Za-z0-9_$\x80-\xff/]|/(?![/*])|//%s|<!--%s|-->%s|/\*(?:[^*]|\*(?!/))*\*/|\xe2\x80[\xa8\xa9]"
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
)
