"""Ruby: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import re

from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, fields, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.precedence import Precedence, places, strengths
from yellow_trellis.languages.ruby.misreadings import AMBIGUOUS, unbracketed_in

# Source: the table of operator precedence in Ruby's documentation of its syntax.
PRECEDENCE = Precedence(
    primary=30,
    kinds=strengths({
        1: "if_modifier unless_modifier until_modifier while_modifier", 4: "rescue_modifier",
        5: "assignment operator_assignment break next return yield", 6: "conditional", 7: "range",
    }),
    operations=kinds("binary unary"),
    operators=strengths({
        2: "and or", 3: "not", 8: "||", 9: "&&", 11: "<=> == === != =~ !~",
        12: "< <= > >=", 13: "| ^",
        14: "&", 15: "<< >>", 16: "+ -", 17: "* / %", 18: "defined?", 19: "**",
        20: "! ~",
    }),
    operands={"**": (20, 19), **dict.fromkeys("<=> == === != =~ !~".split(), (12, 12))},
    places=places({
        21: "call.receiver element_reference.object scope_resolution.scope",
        20: "unary.operand", 8: "conditional.condition range",
        7: "conditional.consequence conditional.alternative",
        5: "assignment.right operator_assignment.right argument_list array pair.value",
    }),
)

_BRACKETED = kinds(
    "argument_list array block_parameters hash hash_pattern array_pattern lambda_parameters "
    "method_parameters parenthesized_statements string_array symbol_array"
)
_BODIES = kinds(
    "begin block_body body_statement do else ensure parenthesized_statements program then "
    "begin_block end_block interpolation"
)
_NUMBERS = kinds("complex float integer rational")
_STRINGS = kinds("chained_string heredoc_body string")
_FUNCTIONS = kinds("block do_block lambda method singleton_method")
_LITERALS = _NUMBERS | _STRINGS | kinds(
    "character delimited_symbol false nil regex simple_symbol string_array symbol_array true"
)

LANGUAGE = Language(
    name="ruby",
    suffixes=(".rb", ".rake", ".gemspec", ".ru"),
    grammar=grammar("tree_sitter_ruby"),
    precedence=PRECEDENCE,
    literal_forms=Literals(
        kinds("float integer string"), radixes={"0x": 16, "0o": 8, "0b": 2},
        live=re.compile(r'"[^#]*#'),
    ),
    comments=kinds("comment"),
    bodies=_BODIES,
    lists=_BRACKETED | kinds("exceptions left_assignment_list right_assignment_list"),
    open_ended=kinds("argument_list array hash"),
    closes_list=kinds("block_argument"),
    ambiguous=AMBIGUOUS,
    unbracketed_in=unbracketed_in,
    separators=frozenset({",", ";", "\n"}),
    enclosures=_BRACKETED | kinds("block"),
    space=r"[\s\ufeff\u2060\u200b]|\\\r?\n",
    atoms=kinds("comment heredoc_beginning uninterpreted"),
    brackets=kinds("parenthesized_statements"),
    optional_tokens={
        "argument_list": frozenset("()"), "method_parameters": frozenset("()"),
        "lambda_parameters": frozenset("()"), "then": frozenset({"then"}),
    },
    same_kinds={"'": '"'},
    delimiters=kinds('"'),
    references=kinds("constant scope_resolution"),
    member_calls=fields("call.method"),
    semantics="yellow_trellis.semantics.ruby",
    returns_from=kinds("lambda method singleton_method"),
    loops=kinds("block do_block for until until_modifier while while_modifier"),
    families={
        "expression": _LITERALS | kinds(
            "array assignment begin binary call case class_variable conditional constant "
            "element_reference global_variable hash identifier if instance_variable lambda "
            "operator_assignment parenthesized_statements range scope_resolution self super "
            "unary unless yield"
        ),
        "statement": kinds(
            "alias assignment begin break call case case_match class for if if_modifier method "
            "module next operator_assignment redo rescue_modifier retry return singleton_class "
            "singleton_method undef unless unless_modifier until until_modifier while "
            "while_modifier yield"
        ),
        "name": kinds("class_variable constant global_variable identifier instance_variable"),
        "string": _STRINGS, "number": _NUMBERS, "literal": _LITERALS, "call": kinds("call"),
        "function": _FUNCTIONS, "class": kinds("class module singleton_class"),
    },
    only_in_runs=kinds("block_argument hash_splat_argument pair splat_argument"),
    named_items=kinds("pair"),
    word=rb"[A-Za-z0-9_\x80-\xff]",
    common_words=kinds("= . , : ( ) { } [ ] => | end do"),
    line_breaks_count=True,
    gap=rb"[^A-Za-z0-9_\x80-\xff#]|#[^\n]*(?:\n|\Z)|#(?=[{$@])",
    line_comment="#",
    comment_mark=re.compile(rb"#|^=begin", re.MULTILINE),
    stand_ins=(
        "{}", "y{}", "*y{}", "**y{}", "&y{}", "when {} then x", "'{}'", ":{}", "y{}: x",
        "def y{}; end",
    ),
    contexts=(
        ("", ""), ("case x\n", "\nend"), ("begin; x\n", "\nend"), ("if x\n", "\nend"),
        ("class X\n", "\nend"), ("x ", ""), ("case x\n", " then y\nend"),
    ),
    parts={
        "argument": ("f(", ")"), "parameter": ("def f(", "); end"),
        "member": ("class X\n", "\nend"),
        "case": ("case x\n", "\nend"), "block": ("f ", ""),
    },
    clauses=kinds("else elsif ensure rescue when"),
)
