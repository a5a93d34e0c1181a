"""The names of C#: scopes, using directives, namespaces.

Source: the C# language specification, "Scopes" and "Namespaces". A local is seen in all of its
block, also before it is declared.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.lexical.hooks import assignment, first
from yellow_trellis.semantics.lexical.name_rules import ImportStyle, NameRules
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, scoped, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.scope import Binding
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree

if TYPE_CHECKING:
    import tree_sitter

_LOCAL, _ARGUMENT = Bind("let"), Bind("argument")
_NAMES = kinds("identifier qualified_name alias_qualified_name generic_name")


def _using(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """A namespace is brought whole, and so are the members of a type that is ``static``."""
    alias = raw.child_by_field_name("name")
    names = [child for child in raw.named_children if child.type in _NAMES and child != alias]
    if not names:
        return
    text = "".join(reader.text(names[-1]).split()).removeprefix("global::")
    span = Span(raw.start_byte, raw.end_byte)
    if alias is None:
        reader.scope.imports.append(Import(span, span, -1, 0, text, "*"))
        return
    module, _, last = text.rpartition(".")
    said = reader.text(alias)
    reader.scope.imports.append(Import(span, span, alias.start_byte, 0, module, last, said))
    reader.bind(alias, "import", reader.scope)


def _deconstructed(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """``var (a, b) = t``, and the names of a variable without one."""
    name = raw.child_by_field_name("name")
    others = [child for child in raw.named_children if child != name]
    patterns = [child for child in others if child.type == "tuple_pattern"]
    others = [child for child in others if child not in patterns]
    reader.do(*tasks_of([name, *patterns], _LOCAL), *tasks_of(others))


def _field(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    declared = next(c for c in raw.named_children if c.type == "variable_declaration")
    for child in reversed(declared.named_children):
        if child.type == "variable_declarator":
            name = child.child_by_field_name("name")
            others = [part for part in child.named_children if part != name]
            reader.do(*tasks_of([name], Bind("field")), *tasks_of(others))
        else:
            reader.push([child])


def _subpattern(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The name before the colon is a member."""
    parts = raw.named_children
    reader.do(*tasks_of(parts[1:] if len(parts) > 1 and parts[0].type == "identifier" else parts))


def _anonymous(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """``new { A = x, y }``: a name before `=` is a member."""
    names = []
    children = raw.children
    for at, child in enumerate(children):
        follows = children[at + 1].type if at + 1 < len(children) else ""
        if child.is_named and not (child.type == "identifier" and follows == "="):
            names.append(child)
    reader.do(*tasks_of(names))


def _parameters(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The last one, ``params int[] rest``, has no node of its own."""
    name = raw.child_by_field_name("name")
    others = [child for child in raw.named_children if child != name]
    reader.do(*tasks_of(others), *tasks_of([name], _ARGUMENT))


def _query(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Open a scope: a name of a query is seen in the rest of it."""
    reader.do(scoped("block", raw, tasks_of(raw.named_children)))


def namespace(tree: Tree) -> str:
    """Return the first namespace that a file declares."""
    for node in tree.of_kinds(kinds("file_scoped_namespace_declaration namespace_declaration")):
        name = node.child("name")
        return "".join(name.text.split()) if name is not None else ""
    return ""


def _fault(binding: Binding, new: str) -> str:
    """Refuse what callers may say by name, and what names a member that is made of it."""
    if "argument" in binding.hows and binding.scope.kind == "function":
        return f"`{binding.name}` is a parameter: callers may say it by name"
    for item in binding.occurrences:
        above = item.node.parent
        if above is not None and above.kind == "anonymous_object_creation_expression":
            return f"the object at {item.place} has a member called so"
        outer = above.parent if above is not None and above.kind == "argument" else None
        if outer is not None and outer.kind == "tuple_expression":
            return f"the tuple at {item.place} has a member called so"
    return ""


def _written(name: str, alias: str | None, tree: Tree) -> str:
    return f"using {alias} = {name};" if alias else f"using {name};"


def _is_plain(statement: Node) -> bool:
    return statement.child("name") is not None


_TYPE = NodeRule("class", outside={"name": Bind("class")}, named="name")
_METHOD = NodeRule("function", outside={"name": "skip"}, named="name")
_BLOCK = NodeRule("block")

RULES = NameRules(
    language="C#",
    scopes=ScopeRules(
        names={"identifier": "read", "implicit_parameter": "read"},
        nodes={
            **dict.fromkeys(
                kinds(
                    "class_declaration enum_declaration interface_declaration record_declaration "
                    "struct_declaration"
                ),
                _TYPE,
            ),
            **dict.fromkeys(
                kinds(
                    "accessor_declaration constructor_declaration conversion_operator_declaration "
                    "destructor_declaration indexer_declaration method_declaration "
                    "operator_declaration"
                ),
                _METHOD,
            ),
            **dict.fromkeys(
                kinds(
                    "block catch_clause checked_statement fixed_statement for_statement "
                    "lock_statement switch_expression_arm switch_section using_statement"
                ),
                _BLOCK,
            ),
            "alias_qualified_name": NodeRule(fields={"name": "skip"}),
            "anonymous_method_expression": NodeRule("lambda"),
            "argument": NodeRule(fields={"name": "skip"}),
            "attribute_argument": NodeRule(others="read"),
            "catch_declaration": NodeRule(fields={"name": Bind("catch")}),
            "declaration_expression": NodeRule(fields={"name": _LOCAL}),
            "declaration_pattern": NodeRule(fields={"name": _LOCAL}),
            "delegate_declaration": NodeRule("function", outside={"name": Bind("class")}),
            "enum_member_declaration": NodeRule(fields={"name": Bind("field")}),
            "event_declaration": NodeRule(fields={"name": Bind("field")}),
            "extern_alias_directive": NodeRule(fields={"name": "skip"}),
            "file_scoped_namespace_declaration": NodeRule(fields={"name": "skip"}),
            "foreach_statement": NodeRule("block", fields={"left": _LOCAL}),
            "from_clause": NodeRule(fields={"name": _LOCAL}),
            "goto_statement": NodeRule(others="skip"),
            "join_clause": NodeRule(fields={"name": _LOCAL}),
            "lambda_expression": NodeRule("lambda", fields={"parameters": _ARGUMENT}),
            "let_clause": NodeRule(fields={"name": _LOCAL}),
            "list_pattern": NodeRule(fields={"name": _LOCAL}),
            "local_function_statement": NodeRule("function", outside={"name": Bind("function")}),
            "member_access_expression": NodeRule(fields={"name": "skip"}),
            "member_binding_expression": NodeRule(fields={"name": "skip"}),
            "name_colon": NodeRule(others="skip"),
            "namespace_declaration": NodeRule(fields={"name": "skip"}),
            "parameter": NodeRule(fields={"name": _ARGUMENT}),
            "postfix_unary_expression": NodeRule(others="update"),
            "property_declaration": NodeRule("class", outside={"name": Bind("field")}),
            "qualified_name": NodeRule(fields={"name": "skip"}),
            "recursive_pattern": NodeRule(fields={"name": _LOCAL}),
            "type_parameter": NodeRule(fields={"name": Bind("type")}),
            "var_pattern": NodeRule(fields={"name": _LOCAL}),
        },
        patterns={
            "parameter_list": NodeRule(others="read"),
            "tuple_pattern": NodeRule(fields={"name": "same"}, others="same"),
        },
        hooks={
            "anonymous_object_creation_expression": _anonymous,
            "assignment_expression": assignment,
            "labeled_statement": first("skip"),
            "parameter_list": _parameters,
            "query_expression": _query,
            "subpattern": _subpattern,
            "using_directive": _using,
            "field_declaration": _field, "event_field_declaration": _field,
            "variable_declarator": _deconstructed,
        },
    ),
    name=re.compile(r"@?[^\W\d]\w*"),
    reserved=kinds(
        "abstract as base bool break byte case catch char checked class const continue decimal "
        "default delegate do double else enum event explicit extern false finally fixed float for "
        "foreach goto if implicit in int interface internal is lock long namespace new null object "
        "operator out override params private protected public readonly ref return sbyte sealed "
        "short sizeof stackalloc static string struct switch this throw true try typeof uint ulong "
        "unchecked unsafe ushort using value var virtual void volatile while"
    ),
    leaves=kinds("identifier"),
    chains=kinds("member_access_expression qualified_name"),
    namespace=namespace,
    brings="all",
    imports=ImportStyle(kinds("using_directive"), _written, removable=_is_plain),
    declared=re.compile(
        rb"\b(?:class|interface|enum|record|struct|delegate\s+\w+)\s+([A-Za-z_]\w*)"
    ),
    fault=_fault,
)
SEMANTICS = LexicalSemantics(RULES)
