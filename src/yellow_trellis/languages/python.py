"""Python: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import keyword
from functools import lru_cache
from typing import TYPE_CHECKING

from yellow_trellis.languages.grammar import grammar
from yellow_trellis.languages.language import Language, Telltale
from yellow_trellis.languages.python_ends import EXPRESSION_END, GAP_TO_WORD, LINE_END

if TYPE_CHECKING:
    from yellow_trellis.languages.language import Shaped
    from yellow_trellis.languages.pieces import Pieces

_ROUND = frozenset({"(", ")"})

# Binding strength, weakest first; source: the operator table of the language reference.
_STRENGTH = {
    "expression_list": 1,
    "yield": 2,
    "named_expression": 3,
    "list_splat": 4,
    "dictionary_splat": 4,
    "lambda": 5,
    "conditional_expression": 6,
    "not_operator": 9,
    "comparison_operator": 10,
    "await": 19,
}
_BINARY = {
    "or": 7,
    "and": 8,
    "|": 11,
    "^": 12,
    "&": 13,
    "<<": 14,
    ">>": 14,
    "+": 15,
    "-": 15,
    "*": 16,
    "/": 16,
    "//": 16,
    "%": 16,
    "@": 16,
    "**": 18,
}
_UNARY = 17
_PRIMARY = 20
_EXPRESSION = 5
_ANY = 0


def _strength(node: Shaped) -> int:
    if node.kind in ("binary_operator", "boolean_operator"):
        operator = node.child("operator")
        return _BINARY.get(operator.kind if operator else "", _PRIMARY)
    if node.kind == "unary_operator":
        return _UNARY
    if node.kind == "integer":
        return _PRIMARY - 1  # 1.real is a broken float; in any other place it needs no brackets
    if node.kind == "concatenated_string":
        return _PRIMARY - 1  # 'a' 'b' % c would be read as one, and reads as if it were not
    return _STRENGTH.get(node.kind, _PRIMARY)


def _demand(parent: Shaped, field: str | None) -> int:
    kind = parent.kind
    place = (kind, field)
    if place in _PLACES:
        return _PLACES[place]
    if kind in _KINDS:
        return _KINDS[kind]
    if kind in ("binary_operator", "boolean_operator"):
        operator = token.kind if (token := parent.child("operator")) else ""
        own = _BINARY.get(operator, _PRIMARY)
        if operator == "**":
            return own + 1 if field == "left" else _UNARY
        return own if field == "left" else own + 1
    return _ANY


_PLACES = {
    ("call", "function"): _PRIMARY,
    ("attribute", "object"): _PRIMARY,
    ("subscript", "value"): _PRIMARY,
    ("subscript", "subscript"): 3,
    ("keyword_argument", "value"): _EXPRESSION,
    ("assignment", "right"): 1,
    ("named_expression", "value"): _EXPRESSION,
    ("default_parameter", "value"): _EXPRESSION,
    ("typed_default_parameter", "value"): _EXPRESSION,
    ("lambda", "body"): _EXPRESSION,
    ("for_statement", "right"): 1,
    ("for_in_clause", "right"): 7,
    ("pair", "key"): _EXPRESSION,
    ("pair", "value"): _EXPRESSION,
}
_KINDS = {
    "argument_list": 3,
    "list": 3,
    "set": 3,
    "tuple": 3,
    "expression_list": 3,
    "list_splat": 11,
    "dictionary_splat": 11,
    "comparison_operator": 11,
    "not_operator": 9,
    "unary_operator": _UNARY,
    "await": _PRIMARY,
    "conditional_expression": 7,
    "if_statement": 3,
    "elif_clause": 3,
    "while_statement": 3,
    "assert_statement": 3,
    "list_comprehension": 3,
    "set_comprehension": 3,
    "generator_expression": 3,
    "if_clause": 7,
    "with_item": _EXPRESSION,
    "raise_statement": _EXPRESSION,
    "decorator": 3,
    "interpolation": 6,
}


_SHORT = 64
"""Characters up to which what a literal is worth is kept: the same few are asked for again."""


def _literal_value(text: str) -> object:
    return _value(text) if len(text) > _SHORT else _value_kept(text)


def _value(text: str) -> object:
    import ast  # most code is searched without asking what a literal is worth

    value = ast.literal_eval(f"({text})")
    if isinstance(value, (str, bytes, int, float, complex)):
        return value
    raise ValueError(text)


_value_kept = lru_cache(maxsize=1024)(_value)


_COMPOUND = frozenset(
    {
        "class_definition",
        "decorated_definition",
        "for_statement",
        "function_definition",
        "if_statement",
        "match_statement",
        "try_statement",
        "while_statement",
        "with_statement",
    }
)
_CLAUSES = frozenset(
    {"case_clause", "elif_clause", "else_clause", "except_clause", "finally_clause"}
)
_SIMPLE = frozenset(
    {
        "assert_statement",
        "break_statement",
        "continue_statement",
        "delete_statement",
        "exec_statement",
        "expression_statement",
        "future_import_statement",
        "global_statement",
        "import_from_statement",
        "import_statement",
        "nonlocal_statement",
        "pass_statement",
        "print_statement",
        "raise_statement",
        "return_statement",
        "type_alias_statement",
    }
)

_OWN_WORDS = {
    "assert_statement": b"assert",
    "class_definition": b"class",
    "delete_statement": b"del",
    "except_clause": b"except",
    "finally_clause": b"finally",
    "for_statement": b"for",
    "function_definition": b"def",
    "global_statement": b"global",
    "import_from_statement": b"import",
    "import_statement": b"import",
    "lambda": b"lambda",
    "nonlocal_statement": b"nonlocal",
    "raise_statement": b"raise",
    "return_statement": b"return",
    "try_statement": b"try",
    "while_statement": b"while",
    "with_statement": b"with",
    "yield": b"yield",
}
"""By kind: a word that every node of the kind has as a token of its own."""

_PLAIN_DEF = rb"(?!\s+[\w\x80-\xff]+\s*\([^=()#'\"]*\))"
_PLAIN_LAMBDA = rb"(?![^=:()\[\]{}#'\"]*:)"
_DEFAULTED = (
    Telltale(b"def", then=_PLAIN_DEF, field="parameters"),
    Telltale(b"lambda", then=_PLAIN_LAMBDA, field="parameters"),
)
"""Where parameters with defaults are: in what is not plainly without any."""

_TELLTALES = {
    **{kind: (Telltale(word),) for kind, word in _OWN_WORDS.items()},
    "default_parameter": _DEFAULTED,
    "typed_default_parameter": _DEFAULTED[:1],
}


def _pieces(data: bytes) -> Pieces | None:
    from yellow_trellis.languages.python_pieces import pieces  # its expressions are many

    return pieces(data)


LANGUAGE = Language(
    name="python",
    grammar=grammar("tree_sitter_python"),
    comments=frozenset({"comment"}),
    bodies=frozenset({"module", "block"}),
    lists=frozenset(
        {
            "argument_list",
            "dictionary",
            "expression_list",
            "import_from_statement",
            "import_statement",
            "lambda_parameters",
            "list",
            "list_pattern",
            "parameters",
            "pattern_list",
            "set",
            "subscript",
            "tuple",
            "tuple_pattern",
            "with_clause",
        }
    ),
    enclosures=frozenset(
        {
            "argument_list",
            "dictionary",
            "dictionary_comprehension",
            "generator_expression",
            "list",
            "list_comprehension",
            "list_pattern",
            "parameters",
            "parenthesized_expression",
            "set",
            "set_comprehension",
            "string",
            "subscript",
            "tuple",
            "tuple_pattern",
        }
    ),
    space=r"[\s\ufeff\u2060\u200b]|\\\r?\n",
    space_kinds=frozenset({"line_continuation"}),
    atoms=frozenset({"string_content", "comment"}),
    wrappers=frozenset({"expression_statement", "type", "dotted_name", "case_pattern"}),
    same_kinds={
        "concatenated_string": "string",
        "expression_list": "tuple",
        "pattern_list": "tuple_pattern",
    },
    optional_tokens={
        "tuple": _ROUND,
        "tuple_pattern": _ROUND,
        "import_from_statement": _ROUND,
        "with_clause": _ROUND,
    },
    counted_separators=frozenset({"subscript", "print_statement"}),
    hides_text=frozenset({"format_specifier", "string", "string_content"}),
    literals=frozenset({"string", "concatenated_string", "integer", "float"}),
    literal_value=_literal_value,
    families={
        "name": ("identifier",),
        "string": ("string", "concatenated_string"),
        "number": ("integer", "float"),
        "literal": (
            *("string", "concatenated_string", "integer", "float", "true", "false", "none"),
            "ellipsis",
        ),
        "call": ("call",),
        "function": ("function_definition", "lambda"),
        "class": ("class_definition",),
    },
    references=frozenset({"attribute", "identifier", "member_type"}),
    no_references=frozenset(
        {
            ("attribute", "attribute"),
            ("class_definition", "name"),
            ("function_definition", "name"),
            ("keyword_argument", "name"),
            ("global_statement", None),
            ("nonlocal_statement", None),
            ("parameters", None),
            ("lambda_parameters", None),
            ("default_parameter", "name"),
            ("typed_default_parameter", "name"),
        }
    ),
    imports=frozenset({"future_import_statement", "import_from_statement", "import_statement"}),
    only_in_runs=frozenset(
        {
            "aliased_import",
            "as_pattern",
            "dictionary_splat",
            "keyword_argument",
            "keyword_separator",
            "list_splat",
            "positional_separator",
        }
    ),
    named_items=frozenset({"keyword_argument"}),
    statements=_COMPOUND | _SIMPLE,
    keywords=frozenset({*keyword.kwlist, "self", "cls", "=", ".", "(", ")", ":", "->"}),
    gap_to_word=GAP_TO_WORD,
    line_end=LINE_END,
    expression_end=EXPRESSION_END,
    line_breaks_count=True,
    declares_encoding=True,
    stand_ins=("{}", "**{}", "for {} in {}", "case {}: pass"),
    contexts=(
        ("try:\n    pass\n", ""),
        ("if x:\n    pass\n", ""),
        ("match x:\n ", ""),
        ("", "\ndef f(): pass\n"),
    ),
    parts={
        "argument": ("f(", ")"),
        "case": ("match x:\n ", ""),
        "parameter": ("def f(", "): pass"),
    },
    clauses=_CLAUSES,
    optional_around=frozenset({"decorated_definition"}),
    lifted=frozenset({"decorator"}),
    delimiters=frozenset({"string_start", "string_end"}),
    omitted_when_empty=frozenset({"lambda_parameters"}),
    telltales=_TELLTALES,
    pieces=_pieces,
    enclosing=frozenset({"block", "class_definition", "decorated_definition", "module"}),
    compound=_COMPOUND | _CLAUSES,
    headed=_CLAUSES | {"function_definition", "with_statement"},
    definitions=frozenset({"class_definition", "function_definition"}),
    filled=frozenset({"block"}),
    empty_body="pass",
    strength=_strength,
    demand=_demand,
)
