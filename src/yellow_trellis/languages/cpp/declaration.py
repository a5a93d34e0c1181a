"""C++: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

from msgspec.structs import replace

from yellow_trellis.languages.c import declaration as c
from yellow_trellis.languages.c_style import ASSIGNMENT, OPERATORS, POSTFIX, UNARY
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.misgroupings import misgroupings
from yellow_trellis.languages.precedence import places, strengths

# Source: the grammar of expressions in ISO/IEC 14882.
_PRECEDENCE = replace(
    c.PRECEDENCE,
    kinds={**c.PRECEDENCE.kinds, **strengths({
        1: "throw_statement", ASSIGNMENT: "co_yield_statement",
        UNARY: "co_await_expression delete_expression new_expression",
    })},
    operators=strengths(OPERATORS | {4: "|| or", 5: "&& and", 9: "== != not_eq"}) | {"<=>": 11},
    places={**c.PRECEDENCE.places, **places({
        POSTFIX: "qualified_identifier", ASSIGNMENT: "template_argument_list",
    })},
)
_BRACKETED = c.BRACKETED | kinds(
    "field_initializer_list lambda_capture_specifier subscript_argument_list "
    "template_argument_list template_parameter_list"
)
_TYPES = c.TYPES | kinds("class_specifier")
_LITERALS = c.LITERALS | kinds("raw_string_literal user_defined_literal")
_NAMES = kinds("field_identifier identifier namespace_identifier type_identifier")

LANGUAGE = replace(
    c.LANGUAGE,
    name="cpp",
    suffixes=(".cc", ".cpp", ".cxx", ".c++", ".hh", ".hpp", ".hxx", ".h++", ".ipp"),
    grammar=grammar("tree_sitter_cpp"),
    precedence=_PRECEDENCE,
    literal_forms=Literals(
        kinds("number_literal string_literal"), quotes=('"',), radixes={"0x": 16, "0b": 2},
        separator="'",
    ),
    bodies=c.BODIES,
    lists=_BRACKETED | kinds("base_class_clause"),
    enclosures=_BRACKETED | c.BODIES | kinds("condition_clause parenthesized_expression"),
    atoms=kinds("comment preproc_arg raw_string_content"),
    same_kinds=dict(c.LANGUAGE.same_kinds) | {
        "dependent_type": "dependent_name", "namespace_identifier": "identifier",
        "template_function": "template_type", "template_method": "template_type",
    },
    references=kinds("identifier qualified_identifier type_identifier"),
    semantics="yellow_trellis.semantics.cpp",
    families=dict(c.LANGUAGE.families) | {
        "expression": c.EXPRESSIONS | _LITERALS | kinds(
            "co_await_expression delete_expression fold_expression lambda_expression "
            "new_expression qualified_identifier requires_expression template_function this"
        ),
        "statement": c.STATEMENTS | _TYPES | kinds(
            "alias_declaration catch_clause co_return_statement co_yield_statement "
            "concept_definition for_range_loop friend_declaration namespace_alias_definition "
            "namespace_definition static_assert_declaration template_declaration "
            "template_instantiation throw_statement try_statement using_declaration"
        ),
        "name": _NAMES, "literal": _LITERALS, "class": _TYPES,
        "string": kinds("concatenated_string raw_string_literal string_literal"),
        "function": kinds("function_definition lambda_expression"),
    },
    only_in_runs=kinds("parameter_pack_expansion"),
    imports=kinds("preproc_include using_declaration"),
    stand_ins=("{}", "{};", "case {}:", '"{}"', "{} x", "class {}", "int {}", "{ {} }"),
    contexts=(
        ("", ""), ("void f() { x = ", "; }"), ("void f() {\n", "\n}"), ("class X {\n", "\n};"),
        ("void f() { try {}\n", "\n}"), ("void f() { if (x) {}\n", "\n}"), ("enum x {\n", "\n};"),
        ("void f() { switch (x) {\n", "\n} }"),
        ("", " x;"), ("#if ", "\n#endif\n"),
    ),
    parts={
        "argument": ("void f() { f(", "); }"), "parameter": ("void f(", ");"),
        "member": ("class X {\n", "\n};"), "case": ("void f() { switch (x) {\n", "\n} }"),
        "directive": ("#if ", "\n#endif\n"),
    },
    unlikely_words={
        "declaration": kinds("explicit friend mutable virtual"),
        "function_definition": kinds("catch"),
    },
    clauses=kinds("catch_clause else_clause"),
    misgrouped=misgroupings(
        "assignment_expression.left: template_function",
        "binary_expression.right: assignment_expression",
    ),
    self_ended=c.LANGUAGE.self_ended | kinds(
        "for_range_loop namespace_definition template_declaration try_statement"
    ),
)
