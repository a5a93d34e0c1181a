"""Swift: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

from yellow_trellis.languages.c_style import COMMON_WORDS, slash_comments
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.precedence import Precedence, places, strengths
from yellow_trellis.languages.swift.misgrouped import MISGROUPED

_LEVELS = {
    5: "disjunction_expression", 6: "conjunction_expression",
    7: "comparison_expression equality_expression infix_expression",
    11: "additive_expression bitwise_operation",
    12: "multiplicative_expression",
}
# Source: the precedence groups of Swift's standard library. Shifts and the bitwise operators are of
# one kind for the parser and of three strengths: they count as the weakest, and ask for the most.
# Operators of more than one letter, such as `>=`, are infix expressions to it: they count as those.
PRECEDENCE = Precedence(
    primary=30,
    kinds=strengths(_LEVELS | {
        1: "try_expression await_expression", 2: "assignment", 4: "ternary_expression",
        8: "nil_coalescing_expression", 9: "check_expression as_expression",
        10: "range_expression", 14: "prefix_expression", 15: "postfix_expression",
    }),
    places=places({
        20: "call_expression navigation_expression.target",
        5: "disjunction_expression.lhs ternary_expression.condition",
        6: "conjunction_expression.lhs disjunction_expression.rhs", 7: "conjunction_expression.rhs",
        8: "comparison_expression equality_expression infix_expression "
        "nil_coalescing_expression.if_nil",
        9: "nil_coalescing_expression.value check_expression.target as_expression.expr",
        11: "range_expression additive_expression.lhs",
        12: "additive_expression.rhs multiplicative_expression.lhs",
        13: "multiplicative_expression.rhs bitwise_operation",
        14: "prefix_expression.target", 15: "postfix_expression.target",
        4: "ternary_expression.if_false",
        2: "assignment.result",
    }),
    # behind a type, `<` begins what stands in its brackets
    refused={("comparison_expression", "lhs"): kinds("as_expression check_expression")},
)

_BRACKETED = kinds(
    "array_literal capture_list dictionary_literal enum_type_parameters lambda_function_type "
    "tuple_expression tuple_type type_arguments type_parameters value_arguments"
)
_BODIES = kinds("class_body enum_class_body protocol_body source_file statements")
_NUMBERS = kinds("bin_literal hex_literal integer_literal oct_literal real_literal")
_STRINGS = kinds("line_string_literal multi_line_string_literal raw_string_literal")
_LITERALS = _NUMBERS | _STRINGS | kinds("boolean_literal nil_literal regex_literal")
_FUNCTIONS = kinds(
    "deinit_declaration function_declaration init_declaration lambda_literal "
    "protocol_function_declaration subscript_declaration"
)

LANGUAGE = Language(
    name="swift",
    suffixes=(".swift",),
    grammar=grammar("tree_sitter_swift"),
    precedence=PRECEDENCE, misgrouped=MISGROUPED,
    literal_forms=Literals(
        _NUMBERS, quotes=('"',), radixes={"0x": 16, "0o": 8, "0b": 2}, leading_zero=True
    ),
    comments=kinds("comment multiline_comment"),
    bodies=_BODIES, groups=kinds("modifiers"),
    lists=_BRACKETED,
    open_ended=kinds("array_literal dictionary_literal"),
    separators=frozenset({",", ";"}),
    enclosures=_BRACKETED | kinds("computed_property function_body lambda_literal"),
    atoms=kinds("comment multiline_comment"),
    brackets=frozenset(),
    wrappers=kinds("directly_assignable_expression identifier modifiers user_type value_argument"),
    rival_words=(kinds("fileprivate internal open private public"), kinds("final open")),
    same_kinds={
        **dict.fromkeys(_NUMBERS - {"real_literal"}, "integer_literal"),
        "type_identifier": "simple_identifier",
    },
    references=kinds("simple_identifier type_identifier"),
    semantics="yellow_trellis.semantics.swift",
    loops=kinds("for_statement repeat_while_statement while_statement"),
    families={
        "expression": _LITERALS | kinds(
            "additive_expression array_literal as_expression await_expression bitwise_operation "
            "call_expression check_expression comparison_expression conjunction_expression "
            "constructor_expression dictionary_literal disjunction_expression "
            "equality_expression infix_expression key_path_expression lambda_literal "
            "macro_invocation multiplicative_expression navigation_expression "
            "nil_coalescing_expression postfix_expression prefix_expression range_expression "
            "self_expression simple_identifier super_expression ternary_expression "
            "try_expression tuple_expression"
        ),
        "statement": _FUNCTIONS - kinds("lambda_literal") | kinds(
            "assignment associatedtype_declaration class_declaration control_transfer_statement "
            "do_statement enum_entry for_statement guard_statement if_statement "
            "import_declaration operator_declaration property_declaration protocol_declaration "
            "protocol_property_declaration repeat_while_statement switch_statement "
            "typealias_declaration while_statement"
        ),
        "name": kinds("simple_identifier type_identifier"), "string": _STRINGS,
        "number": _NUMBERS, "literal": _LITERALS, "call": kinds("call_expression"),
        "function": _FUNCTIONS, "class": kinds("class_declaration protocol_declaration"),
    },
    imports=kinds("import_declaration"),
    only_in_runs=kinds("value_argument"),  # with a label
    common_words=kinds(COMMON_WORDS),
    line_breaks_count=True,
    stand_ins=(
        "{}", "case {}: x", '"{}"', "{}: x", "{} = 1", "@{}", "{ {} }", "var {}: x", "case {}",
    ),
    contexts=(
        ("func f() {\n", "\n}"), ("", ""), ("class X {\n", "\n}"), ("switch x {\n", "\n}"),
        ("enum X {\n", "\n}"),
        ("do {}\n", ""), ("let x: ", "\n"), ("protocol X {\n", "\n}"),
    ),
    parts={
        "argument": ("f(", ")"), "parameter": ("func f(", ") {}"), "member": ("class X {\n", "\n}"),
        "case": ("switch x {\n", "\n}"), "type": ("let x: ", "\n"),
        "protocol": ("protocol X {\n", "\n}"),
    },
    unlikely_words={"call_expression": kinds("catch")},
    clauses=kinds("catch_block"),
    **slash_comments(),
)
