"""The local names of C and C++, and names that code says whole, ``std::move``.

Source: the working draft of C++, "Scope"; what a macro says is not known, and refused.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.lexical.hooks import assignment
from yellow_trellis.semantics.lexical.name_rules import NameRules
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, scoped, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.scope import Binding
from yellow_trellis.source import Span

if TYPE_CHECKING:
    import tree_sitter

_LOCAL, _ARGUMENT, _FIELD = Bind("let", "rest"), Bind("argument"), Bind("field")
_DECLARATORS = kinds(
    "array_declarator init_declarator parenthesized_declarator pointer_declarator "
    "reference_declarator structured_binding_declarator"
)


def _declaration(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Declare variables one after another, each seen by what stands behind it."""
    label = "declarator"
    declared = raw.children_by_field_name(label)
    reader.do(
        *tasks_of(child for child in raw.named_children if child not in declared),
        *tasks_of(declared, _FIELD if raw.type == "field_declaration" else _LOCAL),
    )


def _function(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Read the names of its parameters in the scope of its body, and its own outside."""
    parts = list(raw.named_children)
    declarator = raw.child_by_field_name("declarator")
    while declarator is not None and declarator.type != "function_declarator":
        declarator = declarator.child_by_field_name("declarator")
    if declarator is None:
        reader.push(parts)
        return
    before = [part for part in parts if part.end_byte <= declarator.start_byte]
    behind = [part for part in parts if part.start_byte >= declarator.end_byte]
    name = declarator.child_by_field_name("declarator")
    inner = [child for child in declarator.named_children if child != name]
    own = name if name is not None and name.type == "identifier" else None
    scope = scoped("function", raw, tasks_of([*inner, *behind]), reader.text(own))
    reader.do(*tasks_of(before), *tasks_of([own], Bind("function")), scope)


def _body(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The outermost block of a function has the scope of its parameters."""
    holder = raw.parent
    if holder is not None and holder.type in ("function_definition", "lambda_expression"):
        reader.push(raw.named_children)
    else:
        reader.apply(raw, NodeRule("block"))


def _lambda(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    captures = raw.child_by_field_name("captures")
    rest = [child for child in raw.named_children if child != captures]
    inits = [c for c in (captures.named_children if captures is not None else ())
             if c.type == "lambda_capture_initializer"]
    reader.do(
        *tasks_of([captures]),
        scoped("lambda", raw, [*tasks_of((i.named_children[0] for i in inits), Bind("let")),
                               *tasks_of(rest)]),
    )


def _capture(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    reader.push(raw.named_children[1:])


def _using(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """``using std::move;`` brings one name, ``using namespace std;`` all of a namespace."""
    whole = "".join(reader.text(raw.named_children[-1]).split()).replace("::", ".")
    span = Span(raw.start_byte, raw.end_byte)
    if any(child.type == "namespace" for child in raw.children):
        reader.scope.imports.append(Import(span, span, -1, 0, whole, "*"))
        return
    module, _, name = whole.rpartition(".")
    leaf = raw.named_children[-1].child_by_field_name("name")
    if leaf is not None and not leaf.named_child_count:
        reader.scope.imports.append(Import(span, span, leaf.start_byte, 0, module, name))
        reader.bind(leaf, "import", reader.scope)


def _fault(binding: Binding, new: str) -> str:
    """Refuse what a macro of the file may say."""
    tree = binding.scope.tree
    word = re.compile(rb"\b" + re.escape(binding.name.encode("utf-8")) + rb"\b")
    for macro in tree.of_kinds(kinds("preproc_def preproc_function_def")):
        if word.search(macro.data):
            return f"the macro at {macro.place} says it"
    for scope in binding.scope.walk():
        for item in scope.occurrences(binding.name):
            if item.use == "annotation" and not scope.owner(binding.name, "annotation").binds(
                binding.name
            ):
                return f"the code at {item.place} may say it, or a type"
    return ""


_SAME = NodeRule(others="same")
_DECLARED = NodeRule(fields={"declarator": "same"})
_TYPE = NodeRule("class", outside={"name": Bind("type")})

SCOPES = ScopeRules(
    names={
        "field_identifier": "read", "identifier": "read", "namespace_identifier": "read",
        "type_identifier": "annotation",
    },
    nodes={
        **dict.fromkeys(kinds("class_specifier enum_specifier struct_specifier union_specifier"),
                        _TYPE),
        "alias_declaration": NodeRule(fields={"name": Bind("type")}),
        "catch_clause": NodeRule("block"),
        "condition_clause": NodeRule(),
        "enumerator": NodeRule(fields={"name": Bind("field")}),
        "field_designator": NodeRule(others="skip"),
        "field_expression": NodeRule(fields={"field": "skip"}),
        "field_initializer": NodeRule(),
        "for_range_loop": NodeRule("block", fields={"declarator": Bind("let")}),
        "for_statement": NodeRule("block"),
        "function_declarator": NodeRule("function", outside={"declarator": "read"}),
        "goto_statement": NodeRule(fields={"label": "skip"}),
        "if_statement": NodeRule("block"),
        "labeled_statement": NodeRule(fields={"label": "skip"}),
        "namespace_alias_definition": NodeRule(fields={"name": "skip"}),
        "namespace_definition": NodeRule("block", outside={"name": "skip"}),
        "optional_parameter_declaration": NodeRule(fields={"declarator": _ARGUMENT}),
        "parameter_declaration": NodeRule(fields={"declarator": _ARGUMENT}),
        "preproc_def": NodeRule(others="skip", fields={"name": "skip", "value": "skip"}),
        "preproc_function_def": NodeRule(
            others="skip", fields={"name": "skip", "parameters": "skip", "value": "skip"}
        ),
        "qualified_identifier": NodeRule(fields={"name": "skip"}),
        "switch_statement": NodeRule("block"),
        "template_declaration": NodeRule("types"),
        "type_definition": NodeRule(fields={"declarator": Bind("type")}),
        "type_parameter_declaration": NodeRule(others=Bind("type")),
        "update_expression": NodeRule(fields={"argument": "update"}),
        "while_statement": NodeRule("block"),
    },
    patterns={
        "array_declarator": _DECLARED,
        "attributed_declarator": _SAME,
        "function_declarator": NodeRule(fields={"declarator": "same"}),
        "init_declarator": _DECLARED,
        "parenthesized_declarator": _SAME,
        "pointer_declarator": _DECLARED,
        "reference_declarator": _SAME,
        "structured_binding_declarator": _SAME,
        "variadic_declarator": _SAME,
    },
    hooks={
        "assignment_expression": assignment,
        "compound_statement": _body,
        "declaration": _declaration,
        "field_declaration": _declaration,
        "function_definition": _function,
        "lambda_capture_initializer": _capture,
        "lambda_expression": _lambda,
        "using_declaration": _using,
    },
    types=frozenset({"type"}),
    values=frozenset({"argument", "field", "function", "let"}),
)
NAME = re.compile(r"[^\W\d]\w*")
RESERVED = kinds(
    "alignas alignof and auto bool break case catch char class concept const const_cast consteval "
    "constexpr continue decltype default delete do double dynamic_cast else enum explicit export "
    "extern false float for friend goto if inline int long mutable namespace new noexcept not "
    "nullptr operator or private protected public register reinterpret_cast requires restrict "
    "return short signed sizeof static static_assert static_cast struct switch template this "
    "thread_local throw true try typedef typeid typename union unsigned using virtual void "
    "volatile wchar_t while xor"
)
RULES = NameRules(
    language="C++",
    scopes=SCOPES,
    name=NAME,
    reserved=RESERVED,
    leaves=kinds("identifier type_identifier"),
    chains=kinds("qualified_identifier"),
    joint="::",
    rooted="::",
    own_first=False,
    fault=_fault,
)
C_RULES = NameRules(
    language="C", scopes=SCOPES, name=NAME, reserved=RESERVED, own_first=False, fault=_fault
)
SEMANTICS = LexicalSemantics(RULES)
