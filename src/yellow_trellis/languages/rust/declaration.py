"""Rust: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

from yellow_trellis.languages.c_style import COMMON_WORDS, slash_comments
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, fields, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.precedence import Precedence, places, strengths
from yellow_trellis.languages.rust.macros import shown_as_calls
from yellow_trellis.languages.rust.misreadings import AMBIGUOUS, unbracketed_in

# Source: the table of operator precedence in the Rust reference.
PRECEDENCE = Precedence(
    primary=20,
    kinds=strengths({
        1: "break_expression closure_expression return_expression yield_expression",
        2: "assignment_expression compound_assignment_expr", 3: "range_expression",
        13: "type_cast_expression", 14: "reference_expression unary_expression",
        15: "await_expression try_expression",
    }),
    operations=kinds("binary_expression"),
    operators=strengths({
        4: "||", 5: "&&", 6: "== != < > <= >=", 7: "|", 8: "^", 9: "&", 10: "<< >>", 11: "+ -",
        12: "* / %",
    }),
    operands=dict.fromkeys(("==", "!=", "<", ">", "<=", ">="), (7, 7)),
    places=places({
        15: "call_expression.function field_expression.value index_expression "
        "await_expression try_expression",
        14: "unary_expression reference_expression.value", 13: "type_cast_expression.value",
        4: "range_expression", 2: "assignment_expression.right",
    }),
    # behind a type, `<` begins what stands in its brackets
    refused={("binary_expression", "left"): kinds("type_cast_expression")},
)

_BRACKETED = kinds(
    "arguments array_expression bracketed_type closure_parameters enum_variant_list "
    "field_declaration_list field_initializer_list match_block ordered_field_declaration_list "
    "parameters slice_pattern struct_pattern tuple_expression tuple_pattern tuple_struct_pattern "
    "tuple_type type_arguments type_parameters use_list"
)
_BODIES = kinds("block declaration_list source_file")
_NUMBERS = kinds("float_literal integer_literal")
_STRINGS = kinds("raw_string_literal string_literal")
_LITERALS = _NUMBERS | _STRINGS | kinds("boolean_literal char_literal")

LANGUAGE = Language(
    name="rust",
    suffixes=(".rs",),
    grammar=grammar("tree_sitter_rust"),
    precedence=PRECEDENCE,
    literal_forms=Literals(
        _NUMBERS | kinds("string_literal"), quotes=('"',),
        radixes={"0x": 16, "0o": 8, "0b": 2}, leading_zero=True,
    ),
    comments=kinds("block_comment line_comment"),
    bodies=_BODIES,
    lists=_BRACKETED,
    ambiguous=AMBIGUOUS,
    unbracketed_in=unbracketed_in,
    never_at_top=kinds("let_declaration"), unlikely=kinds("macro_invocation"),
    prepared=shown_as_calls,
    separators=frozenset({","}),
    enclosures=_BRACKETED | _BODIES | kinds("parenthesized_expression token_tree"),
    atoms=kinds("block_comment line_comment"),
    wrappers=kinds("expression_statement match_pattern"),
    word_expressions=kinds("_"),
    same_kinds={
        "field_identifier": "identifier", "shorthand_field_identifier": "identifier",
        "type_identifier": "identifier", "scoped_type_identifier": "scoped_identifier",
    },
    open_ended=_BRACKETED - kinds("tuple_expression tuple_pattern tuple_type"),
    closes_list=kinds("base_field_initializer remaining_field_pattern"),
    counted_separators=kinds("tuple_expression tuple_pattern tuple_type"),
    references=kinds("identifier scoped_identifier scoped_type_identifier type_identifier"),
    no_references=fields("function_item.name let_declaration.pattern"),
    semantics="yellow_trellis.semantics.rust",
    normal_form="NFC",
    families={
        "expression": _LITERALS | kinds(
            "array_expression assignment_expression async_block await_expression "
            "binary_expression block break_expression call_expression closure_expression "
            "compound_assignment_expr const_block continue_expression field_expression "
            "for_expression generic_function identifier if_expression index_expression "
            "loop_expression macro_invocation match_expression parenthesized_expression "
            "range_expression reference_expression return_expression scoped_identifier self "
            "struct_expression try_block try_expression tuple_expression type_cast_expression "
            "unary_expression unit_expression unsafe_block while_expression yield_expression"
        ),
        "statement": kinds(
            "associated_type attribute_item const_item empty_statement enum_item "
            "expression_statement extern_crate_declaration foreign_mod_item function_item "
            "function_signature_item impl_item inner_attribute_item let_declaration "
            "macro_definition mod_item static_item struct_item trait_item type_item union_item "
            "use_declaration"
        ),
        "name": kinds("field_identifier identifier type_identifier"), "string": _STRINGS,
        "number": _NUMBERS, "literal": _LITERALS, "call": kinds("call_expression"),
        "function": kinds("closure_expression function_item"),
        "class": kinds("enum_item struct_item trait_item union_item"),
    },
    imports=kinds("use_declaration"),
    only_in_runs=kinds("attribute_item"),
    leading=kinds("attribute_item"),
    common_words=kinds(COMMON_WORDS + " => :: |"),
    stand_ins=(
        "{}", "{};", "{} => x,", "'{}", "{}: x", "#[{}]", "{ {} }", "fn {}();", "_ if {} => x,",
    ),
    contexts=(
        ("", ""), ("fn f() { x = ", "; }"), ("fn f() {\n", "\n}"), ("impl X {\n", "\n}"),
        ("fn f() { match x {\n", "\n} }"), ("enum X {\n", "\n}"), ("struct X {\n", "\n}"),
        ("fn f() { if x {} ", "}"), ("fn f(x: ", ") {}"), ("", " fn f() {}"),
        ("struct X {", " x: y }"),
    ),
    parts={
        "argument": ("fn f() { f(", "); }"), "parameter": ("fn f(", ") {}"),
        "member": ("impl X {\n", "\n}"), "case": ("fn f() { match x {\n", "\n} }"),
        "pattern": ("fn f() { let ", " = x; }"), "type": ("fn f(x: ", ") {}"),
    },
    clauses=kinds("else_clause"),
    **slash_comments(),
)
