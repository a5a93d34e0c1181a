"""TypeScript, without JSX and with: what it has beyond JavaScript."""

from __future__ import annotations

from msgspec.structs import replace

from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.javascript import declaration as javascript
from yellow_trellis.languages.language import kinds
from yellow_trellis.languages.misgroupings import misgroupings
from yellow_trellis.languages.precedence import places, strengths

_BASE = javascript.LANGUAGE
_PRECEDENCE = replace(
    _BASE.precedence,
    kinds={**_BASE.precedence.kinds, **strengths({
        1: "conditional_type constructor_type function_type", 2: "union_type",
        3: "intersection_type", 4: "index_type_query infer_type readonly_type",
        12: "as_expression satisfies_expression", 17: "type_assertion",
        20: "non_null_expression instantiation_expression",
    })},
    places={**_BASE.precedence.places, **places({
        2: "union_type", 3: "intersection_type", 4: "index_type_query readonly_type",
        5: "array_type",
        12: "as_expression satisfies_expression", 17: "type_assertion", 20: "non_null_expression",
    })},
    refused={
        **_BASE.precedence.refused,
        # behind a type, `<` begins what stands in its brackets
        ("binary_expression", "left"): kinds("as_expression satisfies_expression"),
    },
)
_LISTED = kinds(
    "enum_body extends_clause extends_type_clause implements_clause tuple_type type_arguments "
    "type_parameters"
)
_BODIES = kinds("interface_body object_type")
_TYPES = kinds(
    "abstract_class_declaration class class_declaration enum_declaration interface_declaration"
)
_EXPRESSIONS = kinds(
    "array arrow_function as_expression assignment_expression augmented_assignment_expression "
    "await_expression binary_expression call_expression class false function_expression "
    "generator_function identifier instantiation_expression member_expression meta_property "
    "new_expression non_null_expression null number object parenthesized_expression regex "
    "satisfies_expression sequence_expression string subscript_expression super template_string "
    "ternary_expression this true unary_expression undefined update_expression yield_expression"
)
_STATEMENTS = _TYPES - kinds("class") | kinds(
    "ambient_declaration break_statement continue_statement debugger_statement do_statement "
    "empty_statement export_statement expression_statement for_in_statement for_statement "
    "function_declaration function_signature generator_function_declaration if_statement "
    "import_alias import_statement internal_module labeled_statement lexical_declaration module "
    "return_statement statement_block switch_statement throw_statement try_statement "
    "type_alias_declaration variable_declaration while_statement with_statement"
)

LANGUAGE = replace(
    _BASE,
    name="typescript",
    suffixes=(".ts", ".mts", ".cts"),
    grammar=grammar("tree_sitter_typescript", "language_typescript"),
    precedence=_PRECEDENCE,
    brackets=_BASE.brackets | kinds("parenthesized_type"),
    weak_expressions=_BASE.weak_expressions | kinds(
        "conditional_type constructor_type function_type index_type_query infer_type "
        "intersection_type readonly_type union_type"
    ),
    bodies=_BASE.bodies | _BODIES,
    leading=kinds("decorator"),  # of a method; others are within what they are about
    lists=_BASE.lists | _LISTED,
    open_ended=_BASE.open_ended | kinds("enum_body tuple_type type_parameters"),
    enclosures=_BASE.enclosures | _LISTED | _BODIES,
    wrappers=kinds("expression_statement import_specifier required_parameter"),
    open_heads={**_BASE.open_heads, "abstract_class_declaration": "class_declaration"},
    rival_words=(kinds("private protected public"),),
    same_kinds={
        **_BASE.same_kinds, "type_identifier": "identifier",
        "property_signature": "public_field_definition",
    },
    families={
        **_BASE.families,
        "expression": _EXPRESSIONS | kinds("type_assertion"),
        "statement": _STATEMENTS, "class": _TYPES,
        "name": frozenset(_BASE.families["name"]) | kinds("type_identifier"),
        "type": kinds(
            "array_type conditional_type function_type generic_type intersection_type "
            "literal_type lookup_type nested_type_identifier object_type predefined_type "
            "template_literal_type tuple_type type_identifier type_query union_type"
        ),
    },
    misgrouped=misgroupings(
        "non_null_expression: as_expression await_expression binary_expression "
        "satisfies_expression ternary_expression unary_expression",
        "call_expression.function: arrow_function as_expression await_expression "
        "binary_expression unary_expression",
        "member_expression.object: as_expression satisfies_expression",
        "as_expression: binary_expression[& ^ | && || ?? == != === !==]",
        "binary_expression[< > <= >=].right: binary_expression[< > <= >= in instanceof]",
        "await_expression: as_expression satisfies_expression",
        "type_assertion: arrow_function",
    ),
    unlikely=_BASE.unlikely | kinds("instantiation_expression labeled_statement"),
    stand_ins=(*_BASE.stand_ins, "{}: x", "{}()", "@{}"),
    contexts=(
        *_BASE.contexts, ("interface X {\n", "\n}"), ("let x: ", ";"), ("enum X {\n", "\n}"),
    ),
    parts={
        **_BASE.parts, "property": ("interface X {\n", "\n}"), "type": ("let x: ", ";"),
    },
    self_ended=_BASE.self_ended | _TYPES | kinds("ambient_declaration internal_module module"),
)

LANGUAGE_WITH_JSX = replace(
    LANGUAGE,
    name="tsx",
    suffixes=(".tsx",),
    grammar=grammar("tree_sitter_typescript", "language_tsx"),
    wrappers=LANGUAGE.wrappers | kinds("jsx_attribute"),
    families={
        **LANGUAGE.families,
        "expression": _EXPRESSIONS | kinds("jsx_element jsx_self_closing_element"),
    },
)
