"""Lua, as a language that a package of its own would add."""

from __future__ import annotations

import re

from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.precedence import Precedence, places, strengths

# Source: the reference manual of Lua 5.4, section 3.4.8, "Precedence".
PRECEDENCE = Precedence(
    primary=20,
    kinds=strengths({11: "unary_expression"}),
    operations=kinds("binary_expression"),
    operators=strengths({
        1: "or", 2: "and", 3: "< > <= >= ~= ==", 4: "|", 5: "~", 6: "&", 7: "<< >>", 8: "..",
        9: "+ -", 10: "* / // %", 12: "^",
    }),
    operands={"..": (9, 8), "^": (13, 12)},  # these two lean to the right
    places=places({
        20: "function_call.name dot_index_expression.table bracket_index_expression.table "
        "method_index_expression.table",
        11: "unary_expression.operand",
    }),
)
_LISTS = kinds("arguments parameters table_constructor")
_LITERALS = kinds("false nil number string true")

LANGUAGE = Language(
    name="lua",
    suffixes=(".lua",),
    grammar=grammar("tree_sitter_lua"),
    precedence=PRECEDENCE,
    literal_forms=Literals(kinds("number string"), radixes={"0x": 16}),
    comments=kinds("comment"),
    line_comment="--",
    comment_mark=re.compile(b"--"),
    gap=rb"[^A-Za-z0-9_\x80-\xff-]|-(?!-)|--[^\n]*(?:\n|\Z)",
    bodies=kinds("block chunk"),
    lists=_LISTS | kinds("expression_list variable_list"),
    separators=frozenset({",", ";"}),
    enclosures=_LISTS | kinds("parenthesized_expression"),
    atoms=kinds("comment string"),
    wrappers=kinds("expression_list variable_list"),
    clauses=kinds("else_statement elseif_statement"),
    families={
        "expression": _LITERALS | kinds(
            "binary_expression bracket_index_expression dot_index_expression function_call "
            "function_definition identifier method_index_expression parenthesized_expression "
            "table_constructor unary_expression vararg_expression"
        ),
        "statement": kinds(
            "assignment_statement break_statement do_statement empty_statement for_statement "
            "function_declaration goto_statement if_statement label_statement repeat_statement "
            "return_statement variable_declaration while_statement"
        ),
        "name": kinds("identifier"), "string": kinds("string"), "number": kinds("number"),
        "literal": _LITERALS, "call": kinds("function_call"),
        "function": kinds("function_declaration function_definition"),
    },
    common_words=kinds("= . ( ) , { }"),
    stand_ins=("{}", "{}()", '"{}"'),
    contexts=(("x = ", "\n"), ("", ""), ("if x then ", " end")),
    parts={"argument": ("f(", ")"), "parameter": ("function f(", ") end")},
)
