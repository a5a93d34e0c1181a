"""Java: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

from yellow_trellis.languages.c_style import (
    ASSIGNMENT,
    BRACKETED_HEADS,
    COMMON_WORDS,
    OPERATORS,
    POSTFIX,
    TERNARY,
    UNARY,
    slash_comments,
)
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, fields, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.misgroupings import misgroupings
from yellow_trellis.languages.precedence import Precedence, places, strengths

# Source: the grammar of expressions in the Java Language Specification.
PRECEDENCE = Precedence(
    primary=20,
    kinds=strengths({
        1: "lambda_expression", ASSIGNMENT: "assignment_expression", TERNARY: "ternary_expression",
        10: "instanceof_expression", UNARY: "cast_expression unary_expression",
        POSTFIX: "update_expression", 16: "array_creation_expression object_creation_expression",
    }),
    operations=kinds("binary_expression"),
    operators=strengths(OPERATORS | {11: "<< >> >>>"}),
    places=places({
        16: "method_invocation.object field_access.object array_access.array",
        UNARY: "cast_expression.value unary_expression",
        POSTFIX: "update_expression",
        10: "instanceof_expression.left",
        4: "ternary_expression.condition",
        1: "ternary_expression.consequence ternary_expression.alternative",
    }),
)

_BRACKETED = kinds(
    "annotation_argument_list argument_list array_initializer element_value_array_initializer "
    "formal_parameters inferred_parameters resource_specification type_arguments type_parameters"
)
_FUNCTIONS = kinds(
    "compact_constructor_declaration constructor_declaration lambda_expression method_declaration"
)
_TYPES = kinds(
    "annotation_type_declaration class_declaration enum_declaration interface_declaration "
    "record_declaration"
)
_NUMBERS = kinds(
    "binary_integer_literal decimal_floating_point_literal decimal_integer_literal "
    "hex_floating_point_literal hex_integer_literal octal_integer_literal"
)
_LITERALS = _NUMBERS | kinds("character_literal false null_literal string_literal true")

LANGUAGE = Language(
    name="java",
    suffixes=(".java",),
    grammar=grammar("tree_sitter_java"),
    precedence=PRECEDENCE,
    literal_forms=Literals(
        _NUMBERS | kinds("string_literal"), quotes=('"',), radixes={"0x": 16, "0b": 2}
    ),
    comments=kinds("block_comment line_comment"),
    bracketed_heads=BRACKETED_HEADS,
    bodies=kinds(
        "annotation_type_body block class_body constructor_body enum_body_declarations "
        "interface_body program switch_block_statement_group"
    ),
    lists=_BRACKETED | kinds("enum_body throws type_list catch_type"),
    separators=frozenset({",", ";", "|"}),
    open_ended=kinds("array_initializer element_value_array_initializer"),
    fixed_separators=kinds("for_statement"),
    enclosures=_BRACKETED | kinds("block class_body parenthesized_expression"),
    atoms=kinds("block_comment line_comment"),
    wrappers=kinds("expression_statement"), groups=kinds("modifiers"),
    rival_words=(kinds("abstract final"), kinds("private protected public")),
    same_kinds={
        **dict.fromkeys(_NUMBERS, "decimal_integer_literal"),
        "type_identifier": "identifier",
        "constant_declaration": "field_declaration",
        "inferred_parameters": "formal_parameters",
        "scoped_type_identifier": "scoped_identifier",
    },
    unlikely_words={
        "constructor_declaration": kinds("catch"),
        "local_variable_declaration": kinds(
            "private protected public static synchronized transient volatile"
        ),
    },
    references=kinds(
        "field_access identifier scoped_identifier scoped_type_identifier type_identifier"
    ),
    no_references=fields("class_declaration.name variable_declarator.name formal_parameter.name"),
    member_calls=fields("method_invocation.name"),
    semantics="yellow_trellis.semantics.java",
    families={
        "expression": _LITERALS | kinds(
            "array_access array_creation_expression assignment_expression binary_expression "
            "cast_expression class_literal field_access identifier instanceof_expression "
            "lambda_expression method_invocation method_reference object_creation_expression "
            "parenthesized_expression super switch_expression template_expression "
            "ternary_expression this unary_expression update_expression"
        ),
        "statement": _TYPES | _FUNCTIONS - kinds("lambda_expression") | kinds(
            "assert_statement block break_statement constant_declaration continue_statement "
            "do_statement enhanced_for_statement explicit_constructor_invocation "
            "expression_statement field_declaration for_statement if_statement import_declaration "
            "labeled_statement local_variable_declaration package_declaration return_statement "
            "static_initializer switch_expression synchronized_statement throw_statement "
            "try_statement try_with_resources_statement while_statement yield_statement"
        ),
        "name": kinds("identifier type_identifier"),
        "string": kinds("string_literal"),
        "number": _NUMBERS,
        "literal": _LITERALS,
        "call": kinds("method_invocation object_creation_expression"),
        "function": _FUNCTIONS,
        "class": _TYPES,
    },
    imports=kinds("import_declaration"),
    common_words=kinds(COMMON_WORDS),
    stand_ins=("{}", "{};", "@{}", "case {}:", "{} x", "{} x;", "{ {} }"),
    contexts=(
        ("", ""), ("class X { void f() { x = ", "; } }"), ("class X { void f() {\n", "\n} }"),
        ("class X {\n", "\n}"), ("class X { void f() { try {}\n", "\n} }"),
        ("class X { void f() { switch (x) {\n", "\n} } }"), ("enum X {\n", "\n}"),
        ("class X { X() {\n", "\n} }"), ("class X {", " x; }"), ("", " class X {}"),
    ),
    parts={
        "argument": ("class X { void f() { f(", "); } }"),
        "parameter": ("class X { void f(", ") {} }"),
        "member": ("class X {\n", "\n}"),
        "case": ("class X { void f() { switch (x) {\n", "\n} } }"),
    },
    clauses=kinds("catch_clause finally_clause"),
    misgrouped=misgroupings("class_literal: generic_type"),  # only raw types have one
    terminator=";",
    block=("{", "}"),
    self_ended=_TYPES | _FUNCTIONS | kinds(
        "block do_statement enhanced_for_statement for_statement if_statement labeled_statement "
        "static_initializer switch_expression synchronized_statement try_statement "
        "try_with_resources_statement while_statement"
    ),
    **slash_comments("A-Za-z0-9_$"),
    word=rb"[A-Za-z0-9_$\x80-\xff]",
)
