"""The names of PHP: variables of functions, and classes, functions and constants by `use`.

Source: the manual of PHP, "Variable scope" and "Name resolution rules".
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.lexical.hooks import first
from yellow_trellis.semantics.lexical.name_rules import ImportStyle, NameRules
from yellow_trellis.semantics.lexical.scope_reader import (
    LexicalScope,
    ScopeReader,
    scoped,
    tasks_of,
)
from yellow_trellis.semantics.lexical.scope_rules import Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.scope import Binding, How
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree

if TYPE_CHECKING:
    import tree_sitter

_VARIABLE, _ARGUMENT = Bind("var", "function"), Bind("argument")
_BY_TEXT = kinds("compact eval extract get_defined_vars include include_once parse_str require "
                 "require_once")


def _use(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Bind what each clause of a `use` brings: a class, or a function or constant."""
    space = next((c for c in raw.named_children if c.type == "namespace_name"), None)
    head = _dotted(reader, space)
    groups = [c for c in raw.named_children if c.type == "namespace_use_group"]
    for clause in groups[0].named_children if groups else raw.named_children:
        if clause.type != "namespace_use_clause":
            continue
        words = {child.type for child in (*raw.children, *clause.children) if not child.is_named}
        how: How = "function" if words & {"const", "function"} else "import"
        alias = clause.child_by_field_name("alias")
        names = [c for c in clause.named_children if c != alias]
        if not names:
            continue
        leaf = names[0].named_children[-1] if names[0].named_children else names[0]
        whole = ".".join(filter(None, (head, _dotted(reader, names[0]))))
        module, _, name = whole.rpartition(".")
        bound = alias or leaf
        text = reader.text(alias) if alias is not None else None
        span = Span(raw.start_byte, raw.end_byte)
        item = Span(clause.start_byte, clause.end_byte)
        reader.scope.imports.append(Import(span, item, bound.start_byte, 0, module, name, text))
        reader.bind(bound, how, reader.scope)


def _dotted(reader: ScopeReader, raw: tree_sitter.Node | None) -> str:
    return "".join(reader.text(raw).split()).replace("\\", ".").strip(".")


def _closure(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """A closure sees what it says it uses of the function around."""
    scope = scoped("function", raw, tasks_of(raw.named_children))
    reader.do(scope)


def _captured(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    assert isinstance(reader.scope, LexicalScope)
    stack = list(raw.named_children)
    while stack:
        node = stack.pop()
        if node.type == "variable_name":
            reader.scope.through.add(reader.text(node))
        stack += node.named_children if node.type == "by_ref" else []
    reader.push(raw.named_children)


def _assignment(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Assigning binds; in a closure that uses the variable it gives it but a value."""
    left = raw.child_by_field_name("left")
    rest = [child for child in raw.named_children if child != left]
    reader.do(*tasks_of(rest))
    if left is not None and left.type == "variable_name" and reader.text(left) in _through(reader):
        reader.do(*tasks_of([left], "write"))
    else:
        reader.do(*tasks_of([left], _VARIABLE))


def _through(reader: ScopeReader) -> set[str]:
    scope = reader.scope
    return scope.through if isinstance(scope, LexicalScope) else set()


def _foreach(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    body = raw.child_by_field_name("body")
    first_, *others = [child for child in raw.named_children if child != body]
    reader.do(*tasks_of([first_]), *tasks_of(others, _VARIABLE), *tasks_of([body]))


def _call(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    function = raw.child_by_field_name("function")
    if function is not None and reader.text(function).lower() in _BY_TEXT:
        assert isinstance(reader.scope, LexicalScope)
        reader.scope.dynamic = f"`{reader.text(function)}` may reach a variable by its name"
    rest = [child for child in raw.named_children if child != function]
    if function is not None and function.type == "name":
        reader.refer(function, "read")
        reader.do(*tasks_of(rest))
    else:
        reader.do(*tasks_of([function]), *tasks_of(rest))


def _by_text(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    assert isinstance(reader.scope, LexicalScope)
    reader.scope.dynamic = "code may reach a variable by its name"
    reader.push(raw.named_children)


def namespace(tree: Tree) -> str:
    """Return the namespace that a file declares first."""
    for node in tree.of_kinds(kinds("namespace_definition")):
        name = node.child("name")
        return "".join(name.text.split()).replace("\\", ".") if name is not None else ""
    return ""


def _fault(binding: Binding, new: str) -> str:
    """Refuse what callers may say by name, and members that parameters declare."""
    if not new.startswith("$"):
        return "the name of a variable starts with `$`"
    for definition in binding.definitions:
        above = definition.node.parent
        kind = above.kind if above is not None else ""
        if kind == "property_promotion_parameter":
            return f"`{binding.name}` is a property too"
        holder = above.parent.parent if above is not None and above.parent is not None else None
        if definition.how == "argument" and holder is not None and holder.kind in _NAMED:
            return f"`{binding.name}` is a parameter: callers may say it by name"
        if kind in ("function_static_declaration", "global_declaration"):
            return f"`{binding.name}` is a name of the whole program"
    return ""


_NAMED = kinds("function_definition method_declaration")


def _written(name: str, alias: str | None, tree: Tree) -> str:
    path = name.replace(".", "\\")
    return f"use {path} as {alias};" if alias else f"use {path};"


def _is_single(statement: Node) -> bool:
    return "{" not in statement.text and "," not in statement.text


_TYPE = NodeRule("class", outside={"name": Bind("class")})

RULES = NameRules(
    language="PHP",
    scopes=ScopeRules(
        names={"name": "annotation", "variable_name": "read"},
        nodes={
            "argument": NodeRule(fields={"name": "skip"}),
            "augmented_assignment_expression": NodeRule(fields={"left": "update"}),
            "catch_clause": NodeRule(fields={"name": _VARIABLE}),
            "class_declaration": _TYPE,
            "const_element": NodeRule(others="skip"),
            "enum_case": NodeRule(fields={"name": "skip"}),
            "enum_declaration": _TYPE,
            "function_definition": NodeRule("function", outside={"name": Bind("function")}),
            "global_declaration": NodeRule(others=Bind("var", "function")),
            "interface_declaration": _TYPE,
            "member_access_expression": NodeRule(fields={"name": "skip"}),
            "member_call_expression": NodeRule(fields={"name": "skip"}),
            "method_declaration": NodeRule("function", outside={"name": "skip"}),
            "namespace_definition": NodeRule(fields={"name": "skip"}),
            "nullsafe_member_access_expression": NodeRule(fields={"name": "skip"}),
            "nullsafe_member_call_expression": NodeRule(fields={"name": "skip"}),
            "property_element": NodeRule(fields={"name": "skip"}),
            "property_promotion_parameter": NodeRule(fields={"name": _ARGUMENT}),
            "qualified_name": NodeRule(others="skip", fields={"prefix": "skip"}),
            "relative_name": NodeRule(others="skip"),
            "scoped_call_expression": NodeRule(fields={"name": "skip"}),
            "scoped_property_access_expression": NodeRule(fields={"name": "skip"}),
            "simple_parameter": NodeRule(fields={"name": _ARGUMENT}),
            "static_variable_declaration": NodeRule(fields={"name": _VARIABLE}),
            "trait_declaration": _TYPE,
            "update_expression": NodeRule(fields={"argument": "update"}),
            "variadic_parameter": NodeRule(fields={"name": _ARGUMENT}),
        },
        patterns={
            "by_ref": NodeRule(others="same"), "list_literal": NodeRule(others="same"),
            "pair": NodeRule(others="same"),
        },
        hooks={
            "anonymous_function": _closure,
            "anonymous_function_use_clause": _captured,
            "arrow_function": lambda reader, raw: reader.apply(raw, NodeRule("lambda")),
            "assignment_expression": _assignment,
            "class_constant_access_expression": first("read", "skip"),
            "dynamic_variable_name": _by_text,
            "foreach_statement": _foreach,
            "function_call_expression": _call,
            "include_expression": _by_text, "include_once_expression": _by_text,
            "namespace_use_declaration": _use,
            "reference_assignment_expression": _assignment,
            "require_expression": _by_text, "require_once_expression": _by_text,
        },
        hoists=frozenset({"function", "module"}),
        types=frozenset({"class", "import"}),
        values=frozenset({"argument", "function", "var"}),
        closed=frozenset({"function"}),
        sigil="$",
    ),
    name=re.compile(r"\$?[^\W\d]\w*"),
    reserved=kinds("$this self static parent"),
    leaves=kinds("name"),
    chains=kinds("qualified_name"),
    joint="\\",
    rooted="\\",
    is_whole=False,
    namespace=namespace,
    imports=ImportStyle(
        kinds("namespace_use_declaration"), _written,
        behind=kinds("namespace_definition php_tag"), removable=_is_single,
    ),
    fault=_fault,
)
SEMANTICS = LexicalSemantics(RULES)
