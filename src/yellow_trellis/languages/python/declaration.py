"""Python: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import keyword
import re
from functools import lru_cache
from typing import TYPE_CHECKING

from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import KindKeyword, Language

if TYPE_CHECKING:
    from collections.abc import Iterable

    import tree_sitter

    from yellow_trellis.languages.compile_errors import CompileError
    from yellow_trellis.languages.language import Shaped
    from yellow_trellis.languages.scanner import Scanner

_ROUND = frozenset({"(", ")"})

# Three kinds of expressions are allowed without brackets in some places only, and in no order of
# strength: a place that takes them says which. All others are stronger, weakest first; source: the
# grammar and the operator table of the language reference.
_TUPLE, _YIELD, _WALRUS = 1, 2, 4
_WEAK = _TUPLE | _YIELD | _WALRUS
_TUPLE_IN_BRACKETS = 25
"""As strong as any, but in a `with` its brackets would be those of several items."""
_STRENGTH = {
    "expression_list": _TUPLE,
    "expression_statement": _TUPLE,
    "pattern_list": _TUPLE,
    "yield": _YIELD,
    "named_expression": _WALRUS,
    "list_splat": 8,
    "dictionary_splat": 8,
    "lambda": 9,
    "conditional_expression": 10,
    "not_operator": 13,
    "comparison_operator": 14,
    "await": 23,
    "tuple": _TUPLE_IN_BRACKETS,
}
_BINARY = {
    "or": 11,
    "and": 12,
    "|": 15,
    "^": 16,
    "&": 17,
    "<<": 18,
    ">>": 18,
    "+": 19,
    "-": 19,
    "*": 20,
    "/": 20,
    "//": 20,
    "%": 20,
    "@": 20,
    "**": 22,
}
_UNARY = 21
_PRIMARY = 24
_DISJUNCTION = 11
_EXPRESSION = 8
_NO_WEAK = 0
_WITH = -1


def _is_misread(item: tree_sitter.Node) -> bool:
    """Return whether brackets around all of a `with` are those of its items, not of a tuple."""
    alone = item.parent is not None and item.parent.named_child_count == 1
    return alone and item.child_count == 1 and item.children[0].type == "tuple"


def _stands_bare(strength: int, demand: int) -> bool:
    if demand == _WITH:
        return _WEAK < strength != _TUPLE_IN_BRACKETS
    if demand <= _WEAK:
        return strength > _WEAK or bool(strength & demand)
    return strength >= demand


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
    return _WEAK


_PLACES = {
    ("assignment", "right"): _TUPLE | _YIELD,
    ("assignment", "type"): _NO_WEAK,
    ("attribute", "object"): _PRIMARY,
    ("augmented_assignment", "right"): _TUPLE | _YIELD,
    ("call", "function"): _PRIMARY,
    ("default_parameter", "value"): _NO_WEAK,
    ("for_in_clause", "right"): _DISJUNCTION,
    ("for_statement", "right"): _TUPLE,
    ("function_definition", "return_type"): _NO_WEAK,
    ("keyword_argument", "value"): _NO_WEAK,
    ("lambda", "body"): _NO_WEAK,
    ("match_statement", "subject"): _TUPLE | _WALRUS,
    ("named_expression", "value"): _NO_WEAK,
    ("pair", "key"): _NO_WEAK,
    ("pair", "value"): _NO_WEAK,
    ("subscript", "subscript"): _WALRUS,
    ("subscript", "value"): _PRIMARY,
    ("typed_default_parameter", "type"): _NO_WEAK,
    ("typed_default_parameter", "value"): _NO_WEAK,
    ("typed_parameter", "type"): _NO_WEAK,
}
_KINDS = {
    "argument_list": _WALRUS,
    "assert_statement": _NO_WEAK,
    "await": _PRIMARY,
    "block": _TUPLE | _YIELD,
    "comparison_operator": 15,
    "conditional_expression": _DISJUNCTION,
    "decorator": _WALRUS,
    "delete_statement": _NO_WEAK,
    "dictionary_splat": 15,
    "elif_clause": _WALRUS,
    "except_clause": _NO_WEAK,
    "except_group_clause": _NO_WEAK,
    "expression_list": _NO_WEAK,
    "expression_statement": _TUPLE | _YIELD,
    "generator_expression": _WALRUS,
    "if_clause": _DISJUNCTION,
    "if_statement": _WALRUS,
    "interpolation": 10,
    "list": _WALRUS,
    "list_comprehension": _WALRUS,
    "list_splat": 15,
    "module": _TUPLE | _YIELD,
    "not_operator": 13,
    "parenthesized_expression": _YIELD | _WALRUS,
    "raise_statement": _NO_WEAK,
    "return_statement": _TUPLE,
    "set": _WALRUS,
    "set_comprehension": _WALRUS,
    "slice": _NO_WEAK,
    "tuple": _WALRUS,
    "type": _NO_WEAK,
    "unary_operator": _UNARY,
    "while_statement": _WALRUS,
    "with_item": _WITH,
    "yield": _TUPLE,
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
    KindKeyword(b"def", then=_PLAIN_DEF),
    KindKeyword(b"lambda", then=_PLAIN_LAMBDA),
)
"""Where parameters with defaults are: in what is not plainly without any."""

_TELLTALES = {
    **{kind: (KindKeyword(word),) for kind, word in _OWN_WORDS.items()},
    "default_parameter": _DEFAULTED,
    "typed_default_parameter": _DEFAULTED[:1],
}


def _scanner(data: bytes) -> Scanner:
    from yellow_trellis.languages.python.statement_scanner import StatementScanner

    return StatementScanner(data)


def _compile_errors(
    data: bytes, parts: Iterable[tuple[int, int]], version: tuple[int, int] | None
) -> list[CompileError]:
    from yellow_trellis.languages.python.compiler import compile_errors  # for changed files only

    return compile_errors(data, parts, version)


def _is_one_line(data: bytes, start: int, end: int) -> bool:
    from yellow_trellis.languages.python.logical_lines import is_one_line

    return is_one_line(data, start, end)


def _statement_spans(data: bytes) -> list[tuple[int, int]]:
    from yellow_trellis.languages.python.compiler import statement_spans  # for few files only

    return statement_spans(data)


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
        "expression_statement": "tuple",  # of one item it is a wrapper
        "pattern_list": "tuple_pattern",
    },
    alike_kinds=(
        frozenset({"attribute", "dotted_name", "member_type"}),
        frozenset({"default_parameter", "keyword_argument"}),
        frozenset({"dictionary_splat", "dictionary_splat_pattern"}),
        frozenset({"generic_type", "subscript"}),
        frozenset({"identifier", "keyword_identifier"}),
        frozenset({"list", "list_pattern"}),
        frozenset({"list_splat", "list_splat_pattern", "splat_type"}),
        frozenset({"expression_list", "pattern_list", "tuple", "tuple_pattern"}),
        frozenset({"binary_operator", "union_type"}),
    ),
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
    semantics="yellow_trellis.semantics.python",
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
            "dictionary_splat_pattern",
            "keyword_argument",
            "keyword_separator",
            "list_splat",
            "list_splat_pattern",
            "positional_separator",
        }
    ),
    named_items=frozenset({"keyword_argument"}),
    statements=_COMPOUND | _SIMPLE,
    keywords=frozenset({*keyword.kwlist, "self", "cls", "=", ".", "(", ")", ":", "->"}),
    line_breaks_count=True,
    declares_encoding=True,
    stand_ins=("{}", "**{}", "for {} in {}", "case {}: pass"),
    contexts=(
        ("try:\n    pass\n", ""),
        ("if x:\n    pass\n", ""),
        ("match x:\n ", ""),
        ("", "\ndef f(): pass\n"),
    ),
    around=(("(", ")"),),
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
    scanner=_scanner,
    compound=_COMPOUND | _CLAUSES,
    filled=frozenset({"block"}),
    head_comment=re.compile(rb"#!|#.*coding[:=]"),
    stays_first=frozenset({"future_import_statement"}),
    empty_body="pass",
    strength=_strength,
    stands_bare=_stands_bare,
    weak_expressions=frozenset({"expression_list", "tuple_pattern", "yield"}),
    no_brackets=frozenset(
        {
            ("aliased_import", None),
            ("as_pattern_target", None),
            ("attribute", "attribute"),
            ("class_definition", "name"),
            ("default_parameter", "name"),
            ("dictionary_splat_pattern", None),
            ("dotted_name", None),
            ("function_definition", "name"),
            ("global_statement", None),
            ("import_from_statement", None),
            ("import_statement", None),
            ("keyword_argument", "name"),
            ("lambda_parameters", None),
            ("list_splat_pattern", None),
            ("named_expression", "name"),
            ("nonlocal_statement", None),
            ("parameters", None),
            ("typed_default_parameter", "name"),
            ("typed_parameter", None),
        }
    ),
    ambiguous=frozenset({"with_item"}),
    is_misread=_is_misread,
    sole_items={"generator_expression": "argument_list"},
    chained=frozenset({"assignment"}),
    many_in_brackets="tuple",
    verbatim={"interpolation": "="},
    verbatim_mark=re.compile(rb"=[ \t]*(?:![rsa][ \t]*)?[:}]"),
    demand=_demand,
    statement_spans=_statement_spans,
    is_one_line=_is_one_line,
    compile_errors=_compile_errors,
)
