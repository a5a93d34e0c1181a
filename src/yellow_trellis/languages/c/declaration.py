"""C: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from yellow_trellis.languages.c_style import (
    ASSIGNMENT,
    BRACKETED_HEADS,
    COMMON_WORDS,
    INNER_STATEMENTS,
    OPERATORS,
    POSTFIX,
    TERNARY,
    UNARY,
    slash_comments,
)
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.precedence import Precedence, places, strengths

if TYPE_CHECKING:
    import tree_sitter

# Source: the grammar of expressions in ISO/IEC 9899.
PRECEDENCE = Precedence(
    primary=20,
    kinds=strengths({
        1: "comma_expression", ASSIGNMENT: "assignment_expression",
        TERNARY: "conditional_expression",
        UNARY: "cast_expression pointer_expression sizeof_expression unary_expression "
        "update_expression",
    }),
    operations=kinds("binary_expression"),
    operators=strengths(OPERATORS),
    places=places({
        POSTFIX: "call_expression.function field_expression.argument subscript_expression.argument",
        UNARY: "cast_expression.value pointer_expression.argument unary_expression.argument "
        "update_expression.argument sizeof_expression.value assignment_expression.left",
        4: "conditional_expression.condition",
        TERNARY: "conditional_expression.alternative",
        ASSIGNMENT: "argument_list initializer_list init_declarator.value "
        "assignment_expression.right initializer_pair.value",
    }),
)

CONDITIONAL = kinds("preproc_elif preproc_if")


def calls_in_condition(directive: tree_sitter.Node) -> Iterator[int]:
    """Yield where calls stand in the condition of a directive: only macros can be called there.

    Whether a name is that of a macro is not known; those that are there are believed.
    """
    condition = directive.child_by_field_name("condition")
    stack = [] if condition is None else [condition]
    while stack:
        node = stack.pop()
        if node.type == "call_expression":
            yield node.start_byte
        stack += node.children


BRACKETED = kinds("argument_list enumerator_list initializer_list parameter_list")
BODIES = kinds(
    "case_statement compound_statement declaration_list field_declaration_list preproc_elif "
    "preproc_else preproc_if preproc_ifdef translation_unit"
)
LITERALS = kinds(
    "char_literal concatenated_string false null number_literal string_literal true"
)
TYPES = kinds("enum_specifier struct_specifier union_specifier")
STATEMENTS = TYPES | kinds(
    "attributed_statement break_statement case_statement compound_statement continue_statement "
    "declaration do_statement expression_statement field_declaration for_statement "
    "function_definition goto_statement if_statement labeled_statement linkage_specification "
    "preproc_call preproc_def preproc_function_def preproc_if preproc_ifdef preproc_include "
    "return_statement switch_statement type_definition while_statement"
)
EXPRESSIONS = LITERALS | kinds(
    "alignof_expression assignment_expression binary_expression call_expression cast_expression "
    "comma_expression compound_literal_expression conditional_expression extension_expression "
    "field_expression generic_expression gnu_asm_expression identifier offsetof_expression "
    "parenthesized_expression pointer_expression sizeof_expression subscript_expression "
    "unary_expression update_expression"
)
CONTEXTS = (
    ("", ""), ("void f(void) { x = ", "; }"), ("void f(void) {\n", "\n}"),
    ("void f(void) { if (x) {}\n", "\n}"),
    ("struct x {\n", "\n};"), ("enum x {\n", "\n};"), ("void f(void) { switch (x) {\n", "\n} }"),
    ("", " x;"), ("#if ", "\n#endif\n"),
)

LANGUAGE = Language(
    name="c",
    suffixes=(".c", ".h"),
    grammar=grammar("tree_sitter_c"),
    precedence=PRECEDENCE,
    literal_forms=Literals(
        kinds("number_literal string_literal"), quotes=('"',), radixes={"0x": 16, "0b": 2},
        separator="",
    ),
    comments=kinds("comment"),
    bracketed_heads=BRACKETED_HEADS,
    bodies=BODIES,
    lists=BRACKETED,
    open_ended=kinds("enumerator_list initializer_list"),
    fixed_separators=kinds("for_statement"),
    enclosures=BRACKETED | BODIES | kinds("parenthesized_expression"),
    space=r"[\s\ufeff\u2060\u200b]|\\\r?\n",
    atoms=kinds("comment preproc_arg"),
    wrappers=kinds("expression_statement parameter_declaration type_descriptor"),
    same_kinds={
        "concatenated_string": "string_literal", "type_identifier": "identifier",
        "field_identifier": "identifier", "field_declaration": "declaration",
    },
    has_macros=True, semantics="yellow_trellis.semantics.c",
    families={
        "expression": EXPRESSIONS, "statement": STATEMENTS, "literal": LITERALS,
        "name": kinds("field_identifier identifier type_identifier"),
        "string": kinds("concatenated_string string_literal"), "number": kinds("number_literal"),
        "call": kinds("call_expression"), "function": kinds("function_definition"),
        "class": TYPES,
    },
    imports=kinds("preproc_include"),
    optional_tokens={"preproc_defined": frozenset("()")},
    ambiguous=CONDITIONAL, never_at_top=kinds(INNER_STATEMENTS),
    misread_in=calls_in_condition,
    common_words=kinds(COMMON_WORDS),
    stand_ins=("{}", "{};", "case {}:", '"{}"', "{} x", "int {}", "{ {} }"),
    contexts=CONTEXTS,
    parts={
        "argument": ("void f(void) { f(", "); }"), "parameter": ("void f(", ");"),
        "member": ("struct x {\n", "\n};"), "case": ("void f(void) { switch (x) {\n", "\n} }"),
        "directive": ("#if ", "\n#endif\n"),
    },
    clauses=kinds("else_clause"),
    terminator=";",
    block=("{", "}"),
    self_ended=kinds(
        "case_statement compound_statement for_statement function_definition if_statement "
        "labeled_statement linkage_specification preproc_call preproc_def preproc_function_def "
        "preproc_if preproc_ifdef preproc_include switch_statement while_statement"
    ),
    **slash_comments(),
)
