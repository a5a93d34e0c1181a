"""Object Pascal: the shapes of its lists, bodies, literals and operators."""

from __future__ import annotations

import re

from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language, kinds
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.misgroupings import misgroupings
from yellow_trellis.languages.precedence import Precedence, places, strengths

# Source: the chapter on expressions of the Free Pascal reference guide.
PRECEDENCE = Precedence(
    primary=20,
    kinds=strengths({8: "exprUnary"}),
    operations=kinds("exprBinary"),
    operators=strengths({
        1: "kEq kNeq kLt kGt kLte kGte kIn kNotIn kIs kIsNot", 2: "kAdd kSub kOr kXor",
        3: "kMul kFdiv kDiv kMod kAnd kShl kShr kAs",
    }),
    places=places({9: "exprCall.entity exprDot.lhs exprSubscript.entity", 8: "exprUnary.operand"}),
)

_BRACKETED = kinds("declArgs exprArgs exprBrackets exprParens typerefArgs")
_BODIES = kinds(
    "block declClass declConsts declLabels declSection declTypes declVars finalization "
    "implementation initialization interface library program root statements unit"
)
_LOOPS = kinds("for foreach repeat while with")
_LITERALS = kinds("literalNumber literalString literalStringMultiline")

LANGUAGE = Language(
    name="pascal",
    suffixes=(".pas", ".pp", ".lpr", ".dpr", ".dpk"),
    grammar=grammar("tree_sitter_pascal"),
    precedence=PRECEDENCE,
    misgrouped=misgroupings(
        "exprBinary.rhs: exprBinary[kLt kGt kLte kGte kEq kNeq]",
        "exprUnary.operand: exprBinary[kLt kGt kLte kGte kEq kNeq]",
    ),
    literal_forms=Literals(kinds("literalNumber literalString"), quotes=("'",), separator=""),
    comments=kinds("comment pp"),
    bodies=_BODIES,
    lists=_BRACKETED | kinds("declUses"),
    enclosures=_BRACKETED,
    atoms=kinds("comment literalChar pp"),
    brackets=kinds("exprParens"),
    wrappers=kinds("statement type"),
    ignores_case=True,
    word_kinds=re.compile(r"k[A-Z]\w*"),
    semantics="yellow_trellis.semantics.pascal",
    families={
        "expression": _LITERALS | kinds(
            "exprBinary exprBrackets exprCall exprDot exprIf exprParens exprSubscript exprTpl "
            "exprUnary identifier inherited lambda kNil kTrue kFalse"
        ),
        "statement": _LOOPS | kinds(
            "assignment block case declClass declConst declField declProc declProp declType "
            "declUses declVar defProc goto if ifElse label raise statement try"
        ),
        "name": kinds("identifier"), "string": kinds("literalString literalStringMultiline"),
        "number": kinds("literalNumber"), "literal": _LITERALS | kinds("kFalse kNil kTrue"),
        "call": kinds("exprCall"), "function": kinds("declProc defProc lambda"),
        "class": kinds("declClass declIntf"),
    },
    imports=kinds("declUses"),
    only_in_runs=kinds("legacyFormat"),
    common_words=kinds("= . , ; : ( ) [ ] := begin end"),
    gap=rb"[^A-Za-z0-9_\x80-\xff/({]|/(?!/)|\((?!\*)|//[^\n]*(?:\n|\Z)|\{[^}]*\}"
    rb"|\(\*(?:[^*]|\*(?!\)))*\*\)",
    line_comment="//",
    comment_mark=re.compile(rb"//|\{|\(\*"),
    stand_ins=("{}", "{};", "{}: x;", "{}: x", "1: {};", "{} = x;", "'{}'"),
    contexts=(
        ("program x; begin x := ", "; end."), ("program x; begin\n", "\nend."), ("", ""),
        ("program x; begin\n", "; end."),
        ("type X = class\n", "\nend;"), ("var\n", "\n"), ("type\n", "\n"), ("const\n", "\n"),
        ("program x; begin case x of\n", "\nend; end."),
        ("unit X; interface\n", "\nimplementation\nend."),
        ("unit X; interface implementation\n", "\nend."),
    ),
    parts={
        "const": ("const\n", "\n"), "type": ("type\n", "\n"), "var": ("var\n", "\n"),
        "argument": ("program x; begin f(", "); end."), "parameter": ("procedure f(", ");"),
        "member": ("type X = class\n", "\nend;"),
        "case": ("program x; begin case x of\n", "\nend; end."),
    },
    terminator=";",
    block=("begin", "end"),
    self_ended=kinds("defProc"),
)
