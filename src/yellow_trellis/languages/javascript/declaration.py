"""JavaScript: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import re

from yellow_trellis.languages.c_style import BRACKETED_HEADS
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.javascript.misreadings import AMBIGUOUS, misread_in, unbracketed_in
from yellow_trellis.languages.javascript.references import NO_REFERENCES, REFERENCES
from yellow_trellis.languages.language import Language, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.misgroupings import misgroupings
from yellow_trellis.languages.precedence import Precedence, places, strengths

_ITEM, _EXPRESSION, _UNARY, _PRIMARY = 2, 3, 17, 20

# Source: the grammar of expressions in ECMA-262.
PRECEDENCE = Precedence(
    primary=_PRIMARY,
    kinds=strengths({
        1: "sequence_expression", _ITEM: "spread_element",
        _EXPRESSION: "yield_expression arrow_function assignment_expression "
        "augmented_assignment_expression",
        4: "ternary_expression", _UNARY: "unary_expression await_expression",
        18: "update_expression", 19: "number function_expression class", 21: "object",
    }),
    chains=kinds("call_expression member_expression subscript_expression"),
    chain_mark="optional_chain",
    operations=kinds("binary_expression"),
    operators=strengths({
        5: "??", 6: "||", 7: "&&", 8: "|", 9: "^", 10: "&", 11: "== != === !==",
        12: "< > <= >= in instanceof", 13: "<< >> >>>", 14: "+ -", 15: "* / %", 16: "**",
    }),
    operands={
        "**": (18, 16),
        "??": (8, 8),  # it goes with neither `||` nor `&&` without brackets
    },
    places=places({
        _PRIMARY: "call_expression.function member_expression.object new_expression.constructor "
        "subscript_expression.object",
        _EXPRESSION: "arrow_function.body assignment_expression.right pair.value spread_element "
        "ternary_expression.alternative ternary_expression.consequence variable_declarator.value",
        _ITEM: "arguments array",
        5: "ternary_expression.condition",
        _UNARY: "await_expression unary_expression",
        18: "update_expression",
    }),
    refused={("arrow_function", "body"): kinds("object")},  # it would be read as a block
)

_LINE = rb"(?:[^\r\n\xe2]|\xe2(?!\x80[\xa8\xa9]))*(?=[\r\n\xe2]|\Z)"
_BRACKETED = kinds("arguments array array_pattern formal_parameters object object_pattern")


LANGUAGE = Language(
    name="javascript", suffixes=(".js", ".mjs", ".cjs", ".jsx"),
    grammar=grammar("tree_sitter_javascript"),
    precedence=PRECEDENCE,
    literal_forms=Literals(kinds("string number"), radixes={"0x": 16, "0o": 8, "0b": 2}),
    comments=kinds("comment html_comment"),
    bracketed_heads=BRACKETED_HEADS,
    bodies=kinds("program statement_block class_body switch_case switch_default"),
    lists=_BRACKETED | kinds("export_clause named_imports sequence_expression"),
    open_ended=_BRACKETED | kinds("export_clause named_imports"),
    closes_list=kinds("rest_pattern"),
    fixed_separators=kinds("for_statement"),
    enclosures=_BRACKETED | kinds("parenthesized_expression statement_block template_string"),
    atoms=kinds("comment html_comment"),
    wrappers=kinds("expression_statement field_definition import_specifier jsx_attribute"),
    delimiters=kinds('"'),
    families={
        "name": kinds(
            "identifier property_identifier shorthand_property_identifier "
            "private_property_identifier"
        ),
        "string": kinds("string template_string"),
        "number": kinds("number"),
        "literal": kinds("string template_string number true false null regex"),
        "call": kinds("call_expression"),
        "function": kinds(
            "function_declaration function_expression arrow_function generator_function "
            "generator_function_declaration method_definition"
        ),
        "class": kinds("class_declaration class"),
    },
    named_items=kinds("pair"),
    only_in_runs=kinds("spread_element"),
    word=rb"[A-Za-z0-9_$\x80-\xff]",
    unlikely=kinds("jsx_text statement_block"),
    unlikely_words={"method_definition": kinds("catch for if switch while with")},
    common_words=kinds("null super this true false undefined = . ( ) : => { } [ ]"),
    stand_ins=("{}", "...{}", "case {}:", "'{}'", "{};", "{}() {}"),
    contexts=(
        ("", ""), ("try {}\n", ""),
        ("if (x) {}\n", ""),
        ("switch (x) {\n", "\n}"),
        ("class X {\n", "\n}"), ("x = ", ";"), ("x = <y>", "</y>;"),
    ),
    parts={
        "argument": ("f(", ")"), "member": ("class X {\n", "\n}"),
        "parameter": ("function f(", ") {}"),
        "attribute": ("x = <y ", "/>;"), "child": ("x = <y>", "</y>;"),
    },
    gap=rb"[^A-Za-z0-9_$\x80-\xff/]|/(?![/*])|//%s|<!--%s|-->%s"
    rb"|/\*(?:[^*]|\*(?!/))*\*/|\xe2\x80[\xa8\xa9]" % (_LINE, _LINE, _LINE),
    line_comment="//",
    comment_mark=re.compile(b"//|/\\*|<!--|-->"),
    ambiguous=AMBIGUOUS,
    misread_in=misread_in,
    unbracketed_in=unbracketed_in,
    unbracketed={"parameter": ("formal_parameters", "parameters")},
    interpolations=kinds("template_substitution"),
    misgrouped=misgroupings("call_expression.function: identifier=await"),
    clauses=kinds("catch_clause else_clause finally_clause"),
    references=REFERENCES,
    no_references=NO_REFERENCES,
    imports=kinds("import_statement"), has_paths=True,
    semantics="yellow_trellis.semantics.javascript",
    terminator=";",
    block=("{", "}"),
    self_ended=kinds(
        "class_declaration for_in_statement for_statement function_declaration "
        "generator_function_declaration if_statement labeled_statement method_definition "
        "statement_block switch_statement try_statement while_statement with_statement"
    ),
    same_kinds={
        "'": '"', "function_expression": "function_declaration",
        "generator_function": "generator_function_declaration",
    },
    open_heads={"generator_function_declaration": "function_declaration"},
    alike_kinds=(
        kinds("array array_pattern"),
        kinds("named_imports object object_pattern"),
        kinds("identifier property_identifier shorthand_property_identifier"),
        kinds(
            "import_specifier shorthand_property_identifier shorthand_property_identifier_pattern"
        ),
        kinds("rest_pattern spread_element"),
    ),
)
