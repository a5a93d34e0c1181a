"""Go: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

from yellow_trellis.languages.c_style import COMMON_WORDS, slash_comments
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, fields, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.precedence import Precedence, places, strengths

# Source: the section on operators of the Go programming language specification.
PRECEDENCE = Precedence(
    primary=20,
    kinds=strengths({6: "unary_expression"}),
    operations=kinds("binary_expression"),
    operators=strengths({
        1: "||", 2: "&&", 3: "== != < <= > >=", 4: "+ - | ^", 5: "* / % << >> & &^",
    }),
    places=places({
        7: "call_expression.function selector_expression.operand index_expression.operand "
        "slice_expression.operand type_assertion_expression.operand",
        6: "unary_expression.operand",
    }),
)

_BRACKETED = kinds(
    "argument_list const_declaration field_declaration_list import_spec_list interface_type "
    "literal_value parameter_list struct_type type_arguments type_parameter_list var_spec_list"
)
_BODIES = kinds("source_file statement_list")
_NUMBERS = kinds("float_literal imaginary_literal int_literal")
_STRINGS = kinds("interpreted_string_literal raw_string_literal")
_LITERALS = _NUMBERS | _STRINGS | kinds("false nil rune_literal true")
_TYPES = kinds(
    "array_type channel_type function_type generic_type interface_type map_type pointer_type "
    "qualified_type slice_type struct_type"
)

LANGUAGE = Language(
    name="go",
    suffixes=(".go",),
    grammar=grammar("tree_sitter_go"),
    precedence=PRECEDENCE,
    literal_forms=Literals(
        _NUMBERS | kinds("interpreted_string_literal"), quotes=('"',),
        radixes={"0x": 16, "0o": 8, "0b": 2}, imaginary="i",
    ),
    comments=kinds("comment"),
    bodies=_BODIES,
    lists=_BRACKETED | kinds("expression_list"),
    separators=frozenset({",", ";", "\n", ""}),
    open_ended=kinds(
        "argument_list literal_value parameter_list type_arguments type_parameter_list"
    ),
    fixed_separators=kinds("for_clause if_statement expression_switch_statement"),
    enclosures=_BRACKETED | kinds("parenthesized_expression"),
    atoms=kinds("comment interpreted_string_literal raw_string_literal"),
    wrappers=kinds("expression_list expression_statement literal_element type_elem"),
    same_kinds={
        "field_identifier": "identifier", "package_identifier": "identifier",
        "type_identifier": "identifier",
    },
    references=kinds("identifier qualified_type selector_expression type_identifier"),
    has_paths=True,
    no_references=fields("function_declaration.name type_spec.name"),
    semantics="yellow_trellis.semantics.go",
    families={
        "expression": _LITERALS | kinds(
            "binary_expression call_expression composite_literal func_literal identifier "
            "index_expression iota parenthesized_expression selector_expression slice_expression "
            "type_assertion_expression type_conversion_expression type_instantiation_expression "
            "unary_expression"
        ),
        "statement": kinds(
            "assignment_statement block break_statement const_declaration continue_statement "
            "dec_statement defer_statement empty_statement expression_statement "
            "expression_switch_statement fallthrough_statement for_statement function_declaration "
            "go_statement goto_statement if_statement import_declaration inc_statement "
            "labeled_statement method_declaration package_clause receive_statement "
            "return_statement select_statement send_statement short_var_declaration "
            "type_declaration type_switch_statement var_declaration"
        ),
        "name": kinds("field_identifier identifier package_identifier type_identifier"),
        "string": _STRINGS, "number": _NUMBERS, "literal": _LITERALS,
        "call": kinds("call_expression type_conversion_expression"),
        "function": kinds("func_literal function_declaration method_declaration"),
        "class": kinds("struct_type interface_type"), "type": _TYPES | kinds("type_identifier"),
    },
    imports=kinds("import_declaration"),
    only_in_runs=kinds("variadic_argument"),
    common_words=kinds(COMMON_WORDS + " := ..."),
    line_breaks_count=True,
    stand_ins=("{}", "case {}: x()", '"{}"', "{} x", "{}()", "x {}", "{ {} }", "{} = 1"),
    contexts=(
        ("func f() { x = ", " }"), ("func f() {\n", "\n}"), ("", ""),
        ("func f() { switch x {\n", "\n} }"), ("func f() { select {\n", "\n} }"),
        ("type X struct {\n", "\n}"), ("type X interface {\n", "\n}"), ("var x ", "\n"),
        ("import (\n", "\n)"), ("const (\n", "\n)"), ("var (\n", "\n)"),
    ),
    never_at_top=kinds(
        "assignment_statement dec_statement defer_statement expression_statement for_statement "
        "go_statement if_statement inc_statement return_statement send_statement "
        "short_var_declaration"
    ),
    parts={
        "argument": ("func f() { f(", ") }"), "parameter": ("func f(", ") {}"),
        "member": ("type X struct {\n", "\n}"), "case": ("func f() { switch x {\n", "\n} }"),
        "type": ("var x ", "\n"),
    },
    **slash_comments(),
)
