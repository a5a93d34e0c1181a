"""C#: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

from yellow_trellis.languages.c_style import (
    ASSIGNMENT,
    COMMON_WORDS,
    OPERATORS,
    slash_comments,
)
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, fields, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.misgroupings import misgroupings
from yellow_trellis.languages.precedence import Precedence, places, strengths

# Source: the grammar of expressions in the C# language specification (ECMA-334).
PRECEDENCE = Precedence(
    primary=20,
    kinds=strengths({
        1: "lambda_expression query_expression throw_expression anonymous_method_expression",
        ASSIGNMENT: "assignment_expression ref_expression", 3: "conditional_expression",
        10: "as_expression is_expression is_pattern_expression",
        14: "range_expression switch_expression with_expression",
        15: "await_expression cast_expression prefix_unary_expression",
        16: "postfix_unary_expression",
        17: "array_creation_expression object_creation_expression "
        "implicit_object_creation_expression",
    }),
    operations=kinds("binary_expression"),
    operators=strengths(OPERATORS | {3: "??", 11: "<< >> >>>"}),
    operands={"??": (4, 3)},
    places=places({
        16: "invocation_expression.function member_access_expression.expression "
        "element_access_expression.expression conditional_access_expression.condition "
        "postfix_unary_expression",
        15: "await_expression cast_expression.value prefix_unary_expression",
        10: "as_expression.left is_expression.left is_pattern_expression.expression",
        4: "conditional_expression.condition",
        3: "conditional_expression.consequence conditional_expression.alternative",
    }),
    refused={("binary_expression", "right"): kinds("conditional_expression")},
)

_BRACKETED = kinds(
    "accessor_list argument_list attribute_argument_list attribute_list bracketed_argument_list "
    "bracketed_parameter_list collection_expression enum_member_declaration_list "
    "initializer_expression parameter_list tuple_expression tuple_type type_argument_list "
    "type_parameter_list"
)
_FUNCTIONS = kinds(
    "anonymous_method_expression constructor_declaration conversion_operator_declaration "
    "destructor_declaration lambda_expression local_function_statement method_declaration "
    "operator_declaration"
)
_TYPES = kinds(
    "class_declaration enum_declaration interface_declaration record_declaration "
    "struct_declaration"
)
_STRINGS = kinds(
    "interpolated_string_expression raw_string_literal string_literal verbatim_string_literal"
)
_NUMBERS = kinds("integer_literal real_literal")
_BODIES = kinds(
    "block compilation_unit declaration_list preproc_elif preproc_else preproc_if switch_section"
)

LANGUAGE = Language(
    name="csharp",
    suffixes=(".cs", ".csx"),
    grammar=grammar("tree_sitter_c_sharp"),
    precedence=PRECEDENCE,
    literal_forms=Literals(
        _NUMBERS | kinds("string_literal"), quotes=('"',), radixes={"0x": 16, "0b": 2}
    ),
    comments=kinds("comment"),
    bodies=_BODIES,
    lists=_BRACKETED | kinds("base_list switch_expression"),
    open_ended=kinds(
        "collection_expression enum_member_declaration_list initializer_expression "
        "switch_expression"
    ),
    fixed_separators=kinds("for_statement"),
    enclosures=_BRACKETED | _BODIES | kinds("parenthesized_expression switch_body"),
    rival_words=(kinds("abstract sealed"), kinds("private public"), kinds("internal public")),
    atoms=kinds("comment"), word_expressions=kinds("base this"),
    wrappers=kinds("argument attribute_argument expression_statement global_statement parameter"),
    same_kinds={"implicit_parameter": "identifier"},
    unlikely=kinds("collection_expression local_function_statement"),
    unlikely_words={
        "constructor_declaration": kinds("catch"),
        "local_declaration_statement": kinds(
            "internal new private protected public readonly static volatile"
        ),
    },
    references=kinds("identifier member_access_expression qualified_name"),
    no_references=fields("class_declaration.name variable_declarator.name parameter.name"),
    called=fields("invocation_expression.function"),
    semantics="yellow_trellis.semantics.csharp",
    families={
        "name": kinds("identifier"), "string": _STRINGS, "number": _NUMBERS,
        "literal": _STRINGS | _NUMBERS | kinds("boolean_literal character_literal null_literal"),
        "call": kinds("invocation_expression object_creation_expression"),
        "function": _FUNCTIONS, "class": _TYPES,
        "statement": _TYPES | _FUNCTIONS - kinds(
            "anonymous_method_expression lambda_expression"
        ) | kinds(
            "block break_statement checked_statement continue_statement delegate_declaration "
            "do_statement empty_statement event_declaration event_field_declaration "
            "expression_statement field_declaration file_scoped_namespace_declaration "
            "fixed_statement for_statement foreach_statement global_statement goto_statement "
            "if_statement indexer_declaration labeled_statement local_declaration_statement "
            "lock_statement namespace_declaration property_declaration return_statement "
            "switch_statement throw_statement try_statement unsafe_statement using_directive "
            "using_statement while_statement yield_statement"
        ),
    },
    imports=kinds("using_directive"),
    only_in_runs=kinds("argument"),  # named, or with `ref`
    common_words=kinds(COMMON_WORDS + " =>"),
    statement_stand_in="{}();",
    stand_ins=tuple("{}|{}()|{}();|{};|case {}: break;|int {}|{}: 1|{} x;|[{}]|{ {} }".split("|")),
    contexts=(
        ("", ""), ("class X { void F() { x = ", "; } }"), ("class X { void F() {\n", "\n} }"),
        ("class X {\n", "\n}"), ("class X { X()", " {} }"),
        ("class X { void F() { try {}\n", "\n} }"),
        ("class X { void F() { switch (x) {\n", "\n} } }"), ("enum X {\n", "\n}"),
        ("class X {", " x; }"), ("class X { int P {\n", "\n} }"), ("", " class X {}"),
    ),
    parts={
        "argument": ("class X { void F() { f(", "); } }"),
        "parameter": ("class X { void F(", ") {} }"), "member": ("class X {\n", "\n}"),
        "case": ("class X { void F() { switch (x) {\n", "\n} } }"),
    },
    clauses=kinds("catch_clause finally_clause"),
    misgrouped=misgroupings(
        "argument: declaration_expression[pointer_type]",
        "assignment_expression.left: generic_name",
        "cast_expression[array_type generic_name identifier qualified_name].value: "
        "prefix_unary_expression[+ - * &]",
    ),
    terminator=";", block=("{", "}"),
    self_ended=_TYPES | kinds(
        "block checked_statement constructor_declaration destructor_declaration fixed_statement "
        "for_statement foreach_statement if_statement labeled_statement lock_statement "
        "namespace_declaration switch_statement try_statement unsafe_statement using_statement "
        "while_statement"
    ),
    **slash_comments(),
)
