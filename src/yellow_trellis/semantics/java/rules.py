"""The names of Java: scopes, imports, packages.

Source: the Java language specification, chapters 6 (names) and 7 (packages and modules).
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.java.lang import JAVA_LANG
from yellow_trellis.semantics.lexical.hooks import assignment, first
from yellow_trellis.semantics.lexical.name_rules import ImportStyle, NameRules
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, scoped, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

if TYPE_CHECKING:
    import tree_sitter

_LOCAL, _ARGUMENT = Bind("let", "rest"), Bind("argument")


def _import(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    name = next((c for c in raw.named_children if c.type in ("identifier", _SCOPED)), None)
    if name is None:
        return
    text = "".join(reader.text(name).split())
    span = Span(raw.start_byte, raw.end_byte)
    if any(child.type == "asterisk" for child in raw.named_children):
        reader.scope.imports.append(Import(span, span, -1, 0, text, "*"))
        return
    leaf = name.child_by_field_name("name") or name
    module, _, last = text.rpartition(".")
    reader.scope.imports.append(Import(span, span, leaf.start_byte, 0, module, last))
    reader.bind(leaf, "import", reader.scope)


_SCOPED = "scoped_identifier"


def _field(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    for child in reversed(raw.named_children):
        if child.type == "variable_declarator":
            name = child.child_by_field_name("name")
            rest = [part for part in child.named_children if part != name]
            reader.do(*tasks_of([name], Bind("field")), *tasks_of(rest))
        else:
            reader.push([child])


def _spread(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    *types, declarator = raw.named_children
    reader.do(*tasks_of(types), *tasks_of([declarator.child_by_field_name("name")], _ARGUMENT))


def _try(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The resources are seen in the body, and not in what catches."""
    names = ("resources", "body")
    inside = [raw.child_by_field_name(name) for name in names]
    rest = [child for child in raw.named_children if child not in inside]
    reader.do(scoped("block", raw, tasks_of(inside)), *tasks_of(rest))


def _pattern(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """A component of a record pattern: its type, then the name that it binds."""
    *types, name = raw.named_children
    reader.do(*tasks_of(types), *tasks_of([name] if name.type == "identifier" else [], _LOCAL))


def namespace(tree: Tree) -> str:
    """Return the package that a file declares."""
    for item in tree.root.items:
        if item.kind == "package_declaration":
            return "".join(item.items[-1].text.split()) if item.items else ""
    return ""


def _written(name: str, alias: str | None, tree: Tree) -> str:
    return f"import {name};"


_TYPE = NodeRule("class", outside={"name": Bind("class")}, named="name")
_METHOD = NodeRule("function", outside={"name": "skip"}, named="name")
_BLOCK = NodeRule("block")

RULES = NameRules(
    language="Java",
    scopes=ScopeRules(
        names={"identifier": "read", "type_identifier": "annotation"},
        nodes={
            **dict.fromkeys(
                kinds(
                    "annotation_type_declaration class_declaration enum_declaration "
                    "interface_declaration record_declaration"
                ),
                _TYPE,
            ),
            **dict.fromkeys(
                kinds("compact_constructor_declaration constructor_declaration method_declaration"),
                _METHOD,
            ),
            **dict.fromkeys(
                kinds(
                    "block catch_clause constructor_body enhanced_for_statement for_statement "
                    "switch_block switch_block_statement_group switch_rule"
                ),
                _BLOCK,
            ),
            "break_statement": NodeRule(others="skip"),
            "catch_formal_parameter": NodeRule(fields={"name": Bind("catch")}),
            "class_body": NodeRule("class"),
            "continue_statement": NodeRule(others="skip"),
            "element_value_pair": NodeRule(fields={"key": "skip"}),
            "enhanced_for_statement": NodeRule("block", fields={"name": Bind("let")}),
            "enum_constant": NodeRule(fields={"name": Bind("field")}),
            "field_access": NodeRule(fields={"field": "skip"}),
            "formal_parameter": NodeRule(fields={"name": _ARGUMENT}),
            "instanceof_expression": NodeRule(fields={"name": _LOCAL}),
            "lambda_expression": NodeRule("lambda", fields={"parameters": _ARGUMENT}),
            "method_invocation": NodeRule(fields={"name": "skip"}),
            "module_declaration": NodeRule(others="skip", fields={"name": "skip", "body": "skip"}),
            "package_declaration": NodeRule(others="skip"),
            "resource": NodeRule(fields={"name": Bind("let")}),
            "scoped_identifier": NodeRule(fields={"name": "skip"}),
            "update_expression": NodeRule(others="update"),
            "variable_declarator": NodeRule(fields={"name": _LOCAL}),
        },
        patterns={
            "formal_parameters": NodeRule(others="read"),
            "inferred_parameters": NodeRule(others="same"),
        },
        hooks={
            "assignment_expression": assignment,
            "field_declaration": _field,
            "import_declaration": _import,
            "labeled_statement": first("skip"),
            "method_reference": first("read", "skip"),
            "scoped_type_identifier": first("read", "skip"),
            "spread_parameter": _spread,
            "type_parameter": first(Bind("type")),
            "record_pattern_component": _pattern,
            "try_with_resources_statement": _try,
        },
        types=frozenset({"type"}),
        values=frozenset({"argument", "catch", "field", "let"}),
    ),
    name=re.compile(r"[^\W\d]\w*|\$[\w$]*"),
    reserved=kinds(
        "_ abstract assert boolean break byte case catch char class const continue default do "
        "double else enum extends false final finally float for goto if implements import "
        "instanceof int interface long native new null package private protected public return "
        "short static strictfp super switch synchronized this throw throws transient true try "
        "void volatile while"
    ),
    leaves=kinds("identifier type_identifier"),
    chains=kinds("field_access scoped_identifier scoped_type_identifier"),
    namespace=namespace,
    known={name: f"java.lang.{name}" for name in JAVA_LANG},
    is_hidden_by_all=False,
    imports=ImportStyle(
        kinds("import_declaration"), _written, behind=kinds("package_declaration")
    ),
    member=re.compile(r"(?:.*\.)?[A-Z]\w*\.(?:[a-z_$]\w*|[A-Z][A-Z\d_]+)"),
    declared=re.compile(rb"\b(?:class|interface|enum|record)\s+([A-Za-z_$][\w$]*)"),
)
SEMANTICS = LexicalSemantics(RULES)
