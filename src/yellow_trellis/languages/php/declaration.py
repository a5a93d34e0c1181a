"""PHP: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import TYPE_CHECKING

from yellow_trellis.languages.c_style import BRACKETED_HEADS, COMMON_WORDS
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, fields, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.precedence import Precedence, places, strengths

if TYPE_CHECKING:
    import tree_sitter

# Source: the table of operator precedence in the PHP manual.
PRECEDENCE = Precedence(
    primary=30,
    kinds=strengths({
        4: "print_intrinsic include_expression include_once_expression require_expression "
        "require_once_expression", 3: "yield_expression throw_expression arrow_function",
        5: "assignment_expression augmented_assignment_expression reference_assignment_expression",
        6: "conditional_expression", 19: "unary_op_expression",
        20: "cast_expression error_suppression_expression update_expression clone_expression",
        25: "object_creation_expression",
    }),
    operations=kinds("binary_expression"),
    operators=strengths({
        1: "or", 2: "xor", 3: "and", 7: "??", 8: "||", 9: "&&", 10: "|", 11: "^", 12: "&",
        13: "== != === !== <> <=>", 14: "< > <= >=", 15: ".", 16: "<< >>", 17: "+ -",
        18: "* / %", 19: "instanceof", 21: "**",
    }),
    operands={"??": (8, 7), "**": (22, 21), **dict.fromkeys("< > <= >=".split(), (15, 15)),
              **dict.fromkeys("== != === !== <> <=>".split(), (14, 14))},
    places=places({
        26: "function_call_expression.function member_access_expression.object "
        "member_call_expression.object nullsafe_member_access_expression.object "
        "nullsafe_member_call_expression.object scoped_call_expression.scope "
        "subscript_expression",
        19: "unary_op_expression cast_expression.value error_suppression_expression",
        7: "conditional_expression",
        3: "assignment_expression.right augmented_assignment_expression.right arguments",
    }),
)

_BRACKETED = kinds(
    "arguments array_creation_expression attribute_list formal_parameters list_literal "
    "match_block namespace_use_group"
)
_BODIES = kinds(
    "case_statement colon_block compound_statement declaration_list default_statement "
    "enum_declaration_list program"
)
_FUNCTIONS = kinds("anonymous_function arrow_function function_definition method_declaration")
_TYPES = kinds(
    "anonymous_class class_declaration enum_declaration interface_declaration trait_declaration"
)
_STRINGS = kinds("encapsed_string heredoc nowdoc string")
_NUMBERS = kinds("float integer")
_OPEN = "<?php "

def _misread_in(tag: tree_sitter.Node) -> Iterator[int]:
    """Yield where a tag that writes, `<?=`, has no expression, or a statement behind that."""
    if tag.end_byte - tag.start_byte != len("<?="):
        return
    above = tag.parent
    inner = above is not None and above.type == "text_interpolation"
    node = above.next_named_sibling if inner and above is not None else tag.next_named_sibling
    if node is None or node.type != "expression_statement":
        yield tag.end_byte
    elif (extra := node.next_named_sibling) is not None and extra.type != "text_interpolation":
        yield extra.start_byte


LANGUAGE = Language(
    ambiguous=kinds("php_tag"), misread_in=_misread_in,
    name="php",
    suffixes=(".php", ".phtml"),
    grammar=grammar("tree_sitter_php", "language_php"),
    precedence=PRECEDENCE,
    literal_forms=Literals(
        _NUMBERS | kinds("encapsed_string string"), radixes={"0x": 16, "0o": 8, "0b": 2},
        live=re.compile(r'"[^$]*\$'),
    ),
    comments=kinds("comment"),
    bracketed_heads=BRACKETED_HEADS,
    bodies=_BODIES,
    lists=_BRACKETED | kinds("type_list"),
    separators=frozenset({",", ";", "|"}),
    open_ended=kinds(
        "arguments array_creation_expression attribute_list match_block namespace_use_group"
    ),
    fixed_separators=kinds("for_statement"),
    enclosures=_BRACKETED | _BODIES | kinds("parenthesized_expression switch_block"),
    atoms=kinds("comment text"), delimiters=kinds('"'),
    wrappers=kinds("argument array_element_initializer expression_statement"),
    same_kinds={"encapsed_string": "string", "'": '"'},
    rival_words=(kinds("abstract final"), kinds("private protected public")),
    references=kinds("name qualified_name"),
    no_references=fields("class_declaration.name function_definition.name method_declaration.name"),
    semantics="yellow_trellis.semantics.php",
    families={
        "name": kinds("name variable_name"), "string": _STRINGS, "number": _NUMBERS,
        "literal": _STRINGS | _NUMBERS | kinds("boolean null"),
        "call": kinds(
            "function_call_expression member_call_expression nullsafe_member_call_expression "
            "object_creation_expression scoped_call_expression"
        ),
        "function": _FUNCTIONS, "class": _TYPES,
        "statement": _TYPES | _FUNCTIONS - kinds("anonymous_function arrow_function") | kinds(
            "break_statement case_statement compound_statement const_declaration "
            "continue_statement declare_statement default_statement do_statement echo_statement "
            "empty_statement enum_case exit_statement expression_statement for_statement "
            "foreach_statement function_static_declaration global_declaration goto_statement "
            "if_statement named_label_statement namespace_definition namespace_use_declaration "
            "property_declaration return_statement switch_statement try_statement "
            "unset_statement use_declaration while_statement"
        ),
    },
    imports=kinds("namespace_use_declaration"),
    only_in_runs=kinds("variadic_unpacking"),
    word=rb"[A-Za-z0-9_\x80-\xff]", common_words=kinds(COMMON_WORDS + " $ => this"),
    gap=rb"[^A-Za-z0-9_\x80-\xff/#]|/(?![/*])|#(?=\[)|(?://|#(?!\[))[^\n]*(?:\n|\Z)"
    rb"|/\*(?:[^*]|\*(?!/))*\*/",
    line_comment="//",
    comment_mark=re.compile(rb"//|/\*|#"),
    stand_ins=(
        "{}", "${}", "{};", "'{}'", "case {}:", "{} $x", "...${}", "{ {} }", "#[{}]", "use {};",
        "case {};", "{} => 1",
    ),
    contexts=(
        (_OPEN, ";"), (_OPEN, ""), (_OPEN + "class X {\n", "\n}"),
        (_OPEN + "try {}\n", ""), (_OPEN + "if ($x) {}\n", ""), (_OPEN + "switch ($x) {\n", "\n}"),
        (_OPEN + "enum X {\n", "\n}"),
    ),
    parts={
        "argument": (_OPEN + "f(", ");"), "parameter": (_OPEN + "function f(", ") {}"),
        "member": (_OPEN + "class X {\n", "\n}"), "case": (_OPEN + "switch ($x) {\n", "\n}"),
        "type": (_OPEN + "function f(): ", " {}"), "html": ("", ""),
    },
    clauses=kinds("catch_clause else_clause else_if_clause finally_clause"),
    terminator=";", block=("{", "}"),
    self_ended=_TYPES | kinds(
        "case_statement compound_statement default_statement for_statement foreach_statement "
        "function_definition if_statement method_declaration named_label_statement "
        "switch_statement try_statement while_statement"
    ),
)
