"""Python's expressions: the strengths of operators, and the spellings of literals."""

from __future__ import annotations

from yellow_trellis.languages.language import kinds
from yellow_trellis.languages.literals import Literals, Prefix
from yellow_trellis.languages.precedence import Precedence, places, strengths

# Three kinds of expressions stand without brackets in some places only, in no order of strength.
# Sources: the grammar and the operator table of the language reference.
_TUPLE, _YIELD, _WALRUS = 1, 2, 4
_NONE, _ANY, _SPLAT, _OR = 0, 7, 8, 11
_UNARY, _PRIMARY = 21, 24

PRECEDENCE = Precedence(
    primary=_PRIMARY,
    loose=_ANY,
    elsewhere=_ANY,
    # 1.real is a broken float; 'a' 'b' % c would be read as one, and reads as if it were not
    kinds=strengths({
        _TUPLE: "expression_list expression_statement pattern_list", _YIELD: "yield",
        _WALRUS: "named_expression", _SPLAT: "list_splat dictionary_splat", 9: "lambda",
        10: "conditional_expression", 13: "not_operator", 14: "comparison_operator",
        _UNARY: "unary_operator", 23: "await integer concatenated_string",
    }),
    operations=kinds("binary_operator boolean_operator"),
    operators=strengths({
        _OR: "or", 12: "and", 15: "|", 16: "^", 17: "&", 18: "<< >>", 19: "+ -", 20: "* / // % @",
        22: "**",
    }),
    operands={"**": (23, _UNARY)},
    places=places({
        _NONE: "assert_statement assignment.type default_parameter.value delete_statement "
        "except_clause except_group_clause expression_list function_definition.return_type "
        "keyword_argument.value lambda.body named_expression.value pair.key pair.value "
        "raise_statement slice type typed_default_parameter.type typed_default_parameter.value "
        "typed_parameter.type",
        _TUPLE: "for_statement.right return_statement yield",
        _WALRUS: "argument_list decorator elif_clause generator_expression if_statement list "
        "list_comprehension set set_comprehension subscript.subscript tuple while_statement",
        _TUPLE | _YIELD: "assignment.right augmented_assignment.right block expression_statement "
        "module",
        _TUPLE | _WALRUS: "match_statement.subject",
        _YIELD | _WALRUS: "parenthesized_expression",
        _SPLAT: "with_item",
        10: "format_expression interpolation",
        _OR: "conditional_expression for_in_clause.right if_clause",
        13: "not_operator",
        15: "comparison_operator dictionary_splat list_splat",
        _UNARY: "unary_operator",
        _PRIMARY: "attribute.object await call.function subscript.value",
    }),
    # its brackets would be those of several items
    refused={("with_item", None): kinds("tuple")},
)

_RAW, _BYTES, _RAW_BYTES = Prefix(raw=True), Prefix(binary=True), Prefix(raw=True, binary=True)
LITERALS = Literals(
    kinds("string concatenated_string integer float"),
    quotes=('"""', "'''", '"', "'"),
    prefixes={"": Prefix(), "u": Prefix(), "r": _RAW, "b": _BYTES, "br": _RAW_BYTES, "rb": _RAW_BYTES},
    escapes={
        "\n": "", "\\": "\\", "'": "'", '"': '"', "a": "\a", "b": "\b", "f": "\f", "n": "\n",
        "r": "\r", "t": "\t", "v": "\v",
    },
    hexadecimal={"x": 2, "u": 4, "U": 8}, octal=True, named=True, keeps_unknown=True,
    joined=True, between=r"\s|\\\r?\n|#[^\r\n]*",
    radixes={"0x": 16, "0o": 8, "0b": 2}, imaginary="j",
)  # rows
