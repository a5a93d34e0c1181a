"""Python: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import re

from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import KindKeyword, Language, kinds
from yellow_trellis.languages.misgroupings import misgroupings
from yellow_trellis.languages.precedence import places
from yellow_trellis.languages.python import hooks
from yellow_trellis.languages.python.expressions import LITERALS, PRECEDENCE

# By kind: a word that every node of the kind has as a token of its own.
_OWN_WORDS = {
    **{f"{word}_statement": word for word in (
        *("assert", "for", "global", "import", "nonlocal", "raise", "return", "try", "while"),
        "with",
    )},
    "class_definition": "class", "delete_statement": "del", "except_clause": "except",
    "finally_clause": "finally", "function_definition": "def", "import_from_statement": "import",
    "lambda": "lambda", "yield": "yield",
}
# Parameters with defaults are in what is not plainly without any.
_DEFAULTED = (
    KindKeyword(b"def", then=rb"(?!\s+[\w\x80-\xff]+\s*\([^=()#'\"]*\))"),
    KindKeyword(b"lambda", then=rb"(?![^=:()\[\]{}#'\"]*:)"),
)
_CLAUSES = kinds("case_clause elif_clause else_clause except_clause finally_clause")
_BRACKETED = kinds(
    "argument_list dictionary list list_pattern parameters set subscript tuple tuple_pattern"
)
_NAMES = places({
    None: "attribute.attribute class_definition.name default_parameter.name "
    "function_definition.name global_statement keyword_argument.name lambda_parameters "
    "nonlocal_statement parameters typed_default_parameter.name",
})

LANGUAGE = Language(
    name="python",
    suffixes=(".py", ".pyi", ".pyw"),
    grammar=grammar("tree_sitter_python"),
    semantics="yellow_trellis.semantics.python",
    precedence=PRECEDENCE,
    misgrouped=misgroupings("binary_operator[&]: binary_operator[^]"),
    literal_forms=LITERALS,
    comments=kinds("comment"),
    bodies=kinds("module block"),
    lists=_BRACKETED | kinds(
        "expression_list import_from_statement import_statement lambda_parameters pattern_list "
        "with_clause"
    ),
    enclosures=_BRACKETED | kinds(
        "dictionary_comprehension generator_expression list_comprehension "
        "parenthesized_expression set_comprehension string"
    ),
    space=r"[\s\ufeff\u2060\u200b]|\\\r?\n",
    space_kinds=kinds("line_continuation"),
    atoms=kinds("string_content comment"),
    wrappers=kinds("expression_statement type dotted_name case_pattern"),
    same_kinds={
        "concatenated_string": "string", "expression_list": "tuple",
        "expression_statement": "tuple",  # of one item it is a wrapper
        "generic_type": "subscript", "pattern_list": "tuple_pattern",
    },
    spliced={"generic_type": "type_parameter"},
    alike_kinds=tuple(map(kinds, (
        "attribute dotted_name member_type", "default_parameter keyword_argument",
        "dictionary_splat dictionary_splat_pattern", "generic_type subscript",
        "identifier keyword_identifier", "list list_pattern", "binary_operator union_type",
        "list_splat list_splat_pattern splat_type",
        "expression_list pattern_list tuple tuple_pattern",
    ))),
    optional_tokens=dict.fromkeys(
        ("tuple", "tuple_pattern", "import_from_statement", "with_clause"), frozenset("()")
    ),
    open_ended=kinds(
        "argument_list dictionary list list_pattern parameters set tuple tuple_pattern"
    ),
    counted_separators=kinds("subscript print_statement"),
    hides_text=kinds("format_specifier string string_content"),
    families={
        "name": kinds("identifier"), "string": kinds("string concatenated_string"),
        "number": kinds("integer float"), "call": kinds("call"),
        "literal": kinds("string concatenated_string integer float true false none ellipsis"),
        "function": kinds("function_definition lambda"), "class": kinds("class_definition"),
    },
    references=kinds("attribute identifier member_type"),
    no_references=frozenset(_NAMES),
    inner_binding=re.compile(rb":="),
    imports=kinds("future_import_statement import_from_statement import_statement"),
    only_in_runs=kinds(
        "aliased_import as_pattern dictionary_splat dictionary_splat_pattern keyword_argument "
        "keyword_separator list_splat list_splat_pattern positional_separator"
    ),
    named_items=kinds("keyword_argument"),
    last_items=kinds("dictionary_splat dictionary_splat_pattern"),
    common_words=kinds("self cls True False None = . ( ) : ->"),
    line_breaks_count=True,
    declares_encoding=True,
    normal_form="NFKC",
    stand_ins=("{}", "**{}", "for {} in {}", "case {}: pass"),
    contexts=(
        ("", ""), ("try:\n    pass\n", ""), ("if x:\n    pass\n", ""), ("match x:\n ", ""),
        ("", "\ndef f(): pass\n"),
    ),
    around=(("(", ")"),),
    parts={
        "argument": ("f(", ")"), "case": ("match x:\n ", ""), "parameter": ("def f(", "): pass"),
    },
    clauses=_CLAUSES,
    compound=_CLAUSES | kinds(
        "class_definition decorated_definition for_statement function_definition if_statement "
        "match_statement try_statement while_statement with_statement"
    ),
    optional_around=kinds("decorated_definition"),
    lifted=kinds("decorator"),
    delimiters=kinds("string_start string_end"),
    telltales={
        **{kind: (KindKeyword(word.encode()),) for kind, word in _OWN_WORDS.items()},
        "default_parameter": _DEFAULTED, "typed_default_parameter": _DEFAULTED[:1],
    },
    filled=kinds("block"),
    empty_body="pass",
    head_comment=re.compile(rb"#!|#.*coding[:=]"),
    stays_first=kinds("future_import_statement"),
    weak_expressions=kinds("expression_list tuple_pattern yield"),
    no_brackets=frozenset(_NAMES) | frozenset(places({
        None: "aliased_import as_pattern_target dictionary_splat_pattern dotted_name "
        "import_from_statement import_statement list_splat_pattern named_expression.name "
        "typed_parameter",
    })),
    ambiguous=kinds("with_item"),
    sole_items={"generator_expression": "argument_list"},
    chained=kinds("assignment"),
    many_in_brackets="tuple",
    interpolations=kinds("format_expression interpolation"),
    verbatim={"format_expression": "=", "interpolation": "="},
    verbatim_mark=re.compile(rb"=[ \t]*(?:![rsa][ \t]*)?[:}]"),
    scanner=hooks.scanner,
    misread_in=hooks.misread_in,
    misread_statements=hooks.misread_statements,
    spans_read=hooks.spans_read,
    statement_spans=hooks.statement_spans,
    is_one_line=hooks.is_one_line,
    compile_errors=hooks.compile_errors,
)  # rows
