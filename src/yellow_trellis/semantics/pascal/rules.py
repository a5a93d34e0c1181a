"""The local names of Object Pascal, in any letter case.

Source: the reference guide of Free Pascal, "Scope of identifiers".
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.lexical.name_rules import NameRules
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, scoped, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.scope import Binding

if TYPE_CHECKING:
    import tree_sitter

_ARGUMENT = Bind("argument")


def _with(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Note that `with` may give any name another meaning in its body."""
    body = raw.named_children[-1]
    rest = [child for child in raw.named_children if child != body]
    reason = "`with` may give the name another meaning here"
    reader.do(*tasks_of(rest), scoped("block", raw, tasks_of([body]), dynamic=reason))


def _procedure(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Read the parameters in the scope of the body."""
    header = raw.child_by_field_name("header")
    name = header.child_by_field_name("name") if header is not None else None
    parts = [child for child in (header.named_children if header is not None else ())]
    rest = [child for child in raw.named_children if child != header]
    inside = tasks_of(child for child in (*parts, *rest) if child != name)
    reader.do(scoped("function", raw, inside, reader.text(name)))


def _fault(binding: Binding, new: str) -> str:
    """Refuse a parameter whose procedure is declared in two places, which have to agree."""
    if "argument" not in binding.hows:
        return ""
    tree = binding.scope.tree
    name = binding.scope.name.lower()
    names = [node.child("name") for node in tree.of_kinds(kinds("declProc"))]
    same = [node for node in names if node is not None and node.text.lower() == name]
    if "." in name or len(same) > 1:
        return f"`{binding.name}` is declared once more where `{binding.scope.name}` is"
    return ""


RULES = NameRules(
    language="Object Pascal",
    scopes=ScopeRules(
        names={"identifier": "read"},
        nodes={
            "assignment": NodeRule(fields={"lhs": "write"}),
            "declArg": NodeRule(fields={"name": _ARGUMENT}),
            "declClass": NodeRule("class"),
            "declConst": NodeRule(fields={"name": Bind("const")}),
            "declEnumValue": NodeRule(fields={"name": Bind("field")}),
            "declField": NodeRule(fields={"name": Bind("field")}),
            "declIntf": NodeRule("class"),
            "declLabel": NodeRule(others="skip", fields={"name": "skip"}),
            "declProc": NodeRule("function", outside={"name": "skip"}),
            "declProp": NodeRule("class", outside={"name": Bind("field")}),
            "declType": NodeRule(fields={"name": Bind("type")}),
            "declUses": NodeRule(others="skip"),
            "declVar": NodeRule(fields={"name": Bind("let")}),
            "exceptionHandler": NodeRule("block", fields={"variable": Bind("catch")}),
            "exprDot": NodeRule(fields={"rhs": "skip"}),
            "genericDot": NodeRule(fields={"rhs": "skip"}),
            "goto": NodeRule(others="skip", fields={"label": "skip"}),
            "lambda": NodeRule("function"),
            "moduleName": NodeRule(others="skip"),
            "varDef": NodeRule(fields={"name": Bind("let")}),
        },
        hooks={"defProc": _procedure, "with": _with},
        folds=True,
    ),
    name=re.compile(r"&?[^\W\d]\w*"),
    reserved=kinds(
        "and array as asm begin case class const constructor destructor div do downto else end "
        "except exports file finalization finally for function goto if implementation in inherited "
        "initialization inline interface is label library mod nil not object of on or out packed "
        "procedure program property raise record repeat resourcestring result self set shl shr "
        "string then threadvar to try type unit until uses var while with xor"
    ),
    own_first=False,
    fault=_fault,
)
SEMANTICS = LexicalSemantics(RULES)
