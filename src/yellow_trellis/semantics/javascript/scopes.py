"""The scopes of JavaScript and TypeScript: what binds a name, for which code.

Source: ECMA-262, "Scope Analysis" and annex B.3.2 (functions in blocks); the handbook of TypeScript
for what binds a type, a value or both.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.javascript.imports import read_import, read_require
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, ReaderTask, scoped, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Action, Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.scope import How, Scope, settle

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.syntax import Tree

_EXPRESSIONS = kinds("arrow_function function_expression generator_function")
_DECLARATIONS = kinds("function_declaration function_signature generator_function_declaration")
_FUNCTIONS = _EXPRESSIONS | _DECLARATIONS | kinds(
    "abstract_method_signature call_signature construct_signature constructor_type function_type "
    "method_definition method_signature"
)
_OWN_BODIES = _FUNCTIONS | kinds("class_static_block internal_module module")
"""Kinds whose body is no block of its own."""


def read_scopes(tree: Tree) -> list[Scope]:
    """Return the scopes of `tree`, the module first, each with its names and who uses them."""
    return settle(_Reader(tree, RULES).read())


class _Reader(ScopeReader):
    """A reader that knows which code is strict: there a block keeps the functions in it."""

    def __init__(self, tree: Tree, rules: ScopeRules) -> None:
        super().__init__(tree, rules)
        self.strict: set[Scope] = set()
        if tree.language.name != "javascript" or _is_strict(tree.raw_root, self):
            self.strict.add(self.scope)

    def bind_of_function(self) -> Bind:
        """Return how the name of a declared function is bound here."""
        scope: Scope | None = self.scope
        while scope is not None:
            if scope in self.strict or scope.kind == "class":
                return Bind("function")
            scope = scope.parent
        return Bind("function", "function")


def _is_strict(body: tree_sitter.Node, reader: ScopeReader) -> bool:
    """Return whether a file is a module, or a body starts with ``"use strict"``."""
    is_file = body.type == "program"
    start = True
    for statement in body.named_children:
        if is_file and statement.type in ("import_statement", "export_statement"):
            return True
        first = statement.named_children[0] if statement.named_child_count else None
        if statement.type != "expression_statement" or first is None or first.type != "string":
            start = start and statement.type in ("comment", "hash_bang_line")
            if not start and not is_file:
                return False
        elif start and reader.text(first)[1:-1] == "use strict":
            return True
    return False


# ---------------------------------------------------------------------- hooks


def _function(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    assert isinstance(reader, _Reader)
    name, body = raw.child_by_field_name("name"), raw.child_by_field_name("body")
    marks = [child for child in raw.named_children if child.type == "decorator"]
    inside = [child for child in raw.named_children if child != name and child not in marks]
    parameters = [child for child in inside if child.type in _PARAMETERS and child != body]
    rest = [child for child in inside if child not in parameters]
    tasks = [*tasks_of(parameters, Bind("argument")), *tasks_of(rest)]
    scope = scoped("function", raw, tasks, reader.text(name))
    if raw.type in _DECLARATIONS:
        reader.do(*tasks_of([name], reader.bind_of_function()), scope)
    elif raw.type in _EXPRESSIONS and name is not None:
        reader.do(scoped("block", raw, [ReaderTask(name, Bind("function")), scope]))
    else:
        reader.do(*tasks_of([*marks, name]), scope)


_PARAMETERS = kinds("formal_parameters identifier")


def _block(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    assert isinstance(reader, _Reader)
    holder = raw.parent
    if holder is None or holder.type not in _OWN_BODIES:
        reader.do(scoped("block", raw, tasks_of(raw.named_children)))
    else:
        if _is_strict(raw, reader):
            reader.strict.add(reader.scope)
        if _is_simple(holder.child_by_field_name("parameters")):
            reader.push(raw.named_children)
        else:
            reader.do(scoped("body", raw, tasks_of(raw.named_children)))


def _is_simple(parameters: tree_sitter.Node | None) -> bool:
    """Return whether parameters are but names, so that they and the body have one scope."""
    if parameters is None:
        return True
    return all(child.type == "identifier" for child in parameters.named_children)


def _class(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    name = raw.child_by_field_name("name")
    marks = [child for child in raw.named_children if child.type == "decorator"]
    rest = [child for child in raw.named_children if child != name and child not in marks]
    own = tasks_of([name], Bind("class"))
    if raw.type == "class":
        reader.do(*tasks_of(marks), scoped("class", raw, [*own, *tasks_of(rest)]))
    else:
        scope = scoped("class", raw, tasks_of(rest), reader.text(name))
        reader.do(*own, *tasks_of(marks), scope)


def _declaration(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    word = reader.text(raw.children[0])
    action = Bind("var", "function")
    if raw.type == "lexical_declaration":
        action = Bind("const" if word == "const" else "let")
    declarators = [child for child in raw.named_children if child.type == "variable_declarator"]
    for declarator in reversed(declarators):
        name = declarator.child_by_field_name("name")
        value = declarator.child_by_field_name("value")
        if name is not None:
            scope = reader.scope if raw.type == "lexical_declaration" else reader.hoisted()
            scope.imports += read_require(raw, declarator, reader.data)
        reader.push([declarator.child_by_field_name("type"), value])
        reader.push([name], action)


def _for_in(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    word = reader.text(raw.child_by_field_name("kind"))
    action: Action = "write"
    if word == "var":
        action = Bind("var", "function")
    elif word:
        action = Bind("const" if word == "const" else "let")
    left = raw.child_by_field_name("left")
    rest = [child for child in raw.named_children if child != left]
    reader.do(scoped("block", raw, [*tasks_of([left], action), *tasks_of(rest)]))


def _import(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    for item in read_import(raw, reader.data):
        if not item.bound:
            continue
        leaf = raw.descendant_for_byte_range(item.bound_at, item.bound_at + 1)
        if leaf is not None:
            reader.note(leaf, Bind("import"))
            reader.scope.imports.append(item)


def _export(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    if raw.child_by_field_name("source") is not None or raw.children[1].type == "as":
        return
    for child in raw.named_children:
        if child.type != "export_clause":
            continue
        for specifier in child.named_children:
            name = specifier.child_by_field_name("name")
            if name is not None and name.type == "identifier":
                reader.refer(name, "export")
    reader.push(child for child in raw.named_children if child.type != "export_clause")


def _element(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    name = raw.child_by_field_name("name")
    is_tag = name is not None and (
        name.type == "jsx_namespace_name"
        or (name.type == "identifier" and not _is_component(reader.text(name)))
    )
    reader.push(child for child in raw.named_children if not (is_tag and child == name))


def _is_component(name: str) -> bool:
    """Return whether the name of an element is one of the code, not one of HTML."""
    return not name[:1].islower() and "-" not in name


def _call(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    function = raw.child_by_field_name("function")
    if function is not None and function.type == "identifier" and reader.text(function) == "eval":
        reader.scope.dynamic = "`eval` runs a text here"
    reader.push(raw.named_children)


def _with(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    body = raw.child_by_field_name("body")
    reason = "`with` may give the name another meaning here"
    scope = scoped("block", raw, tasks_of([body]), dynamic=reason)
    reader.do(*tasks_of(child for child in raw.named_children if child != body), scope)


def _enum_body(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    for child in raw.named_children:
        name = child.child_by_field_name("name") if child.type == "enum_assignment" else child
        if name is not None and name.type == "property_identifier":
            reader.note(name, Bind("field"))
    reader.push(raw.named_children)


def _infer(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    scope: Scope | None = reader.scope
    while scope is not None and scope.kind != "types":
        scope = scope.parent
    name, *rest = raw.named_children
    reader.bind(name, "type", scope or reader.scope)
    reader.push(rest)


def _namespace(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    name = raw.child_by_field_name("name")
    while name is not None and name.type == "nested_identifier":
        name = name.named_children[0]
    if name is not None and name.type == "identifier":
        reader.note(name, Bind("namespace"))
    body = raw.child_by_field_name("body")
    reader.do(scoped("function", raw, tasks_of([body]), reader.text(name)))


def _import_alias(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    name, *rest = raw.named_children
    reader.note(name, Bind("import"))
    reader.push(rest)


def _binds(how: How) -> dict[str, Action]:
    return {"name": Bind(how)}


RULES = ScopeRules(
    names={
        "identifier": "read", "shorthand_property_identifier": "read",
        "shorthand_property_identifier_pattern": "read", "type_identifier": "annotation",
    },
    nodes={
        "assignment_expression": NodeRule(fields={"left": "write"}),
        "augmented_assignment_expression": NodeRule(fields={"left": "update"}),
        "catch_clause": NodeRule("block", fields={"parameter": Bind("catch")}),
        "class_static_block": NodeRule("function"),
        "conditional_type": NodeRule("types"),
        "enum_declaration": NodeRule("block", outside=_binds("enum")),
        "for_statement": NodeRule("block"),
        "index_signature": NodeRule("types", fields={"name": Bind("argument")}),
        "interface_declaration": NodeRule("types", outside=_binds("type")),
        "mapped_type_clause": NodeRule(fields={"name": Bind("type")}),
        "nested_type_identifier": NodeRule(fields={"name": "skip"}),
        "optional_parameter": NodeRule(fields={"name": "skip"}),
        "required_parameter": NodeRule(fields={"name": "skip"}),
        "switch_body": NodeRule("block"),
        "type_alias_declaration": NodeRule("types", outside=_binds("type")),
        "type_parameter": NodeRule(fields={"name": Bind("type")}),
        "update_expression": NodeRule(fields={"argument": "update"}),
    },
    patterns={
        "array_pattern": NodeRule(others="same"),
        "assignment_pattern": NodeRule(fields={"left": "same"}),
        "formal_parameters": NodeRule(others="same"),
        "non_null_expression": NodeRule(others="same"),
        "object_assignment_pattern": NodeRule(fields={"left": "same"}),
        "object_pattern": NodeRule(others="same"),
        "optional_parameter": NodeRule(fields={"pattern": "same"}),
        "pair_pattern": NodeRule(fields={"value": "same"}),
        "parenthesized_expression": NodeRule(others="same"),
        "required_parameter": NodeRule(fields={"pattern": "same"}),
        "rest_pattern": NodeRule(others="same"),
    },
    hooks={
        **dict.fromkeys(_FUNCTIONS, _function),
        **dict.fromkeys(kinds("abstract_class_declaration class class_declaration"), _class),
        **dict.fromkeys(kinds("internal_module module"), _namespace),
        **dict.fromkeys(kinds("lexical_declaration variable_declaration"), _declaration),
        **dict.fromkeys(
            kinds("jsx_closing_element jsx_opening_element jsx_self_closing_element"), _element
        ),
        "call_expression": _call,
        "enum_body": _enum_body,
        "export_statement": _export,
        "for_in_statement": _for_in,
        "import_alias": _import_alias,
        "import_statement": _import,
        "infer_type": _infer,
        "statement_block": _block,
        "with_statement": _with,
    },
    hoists=frozenset({"body", "function", "module"}),
    types=frozenset({"type"}),
    values=frozenset({"argument", "catch", "const", "field", "function", "let", "var"}),
)
