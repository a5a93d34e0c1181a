"""The names of Go: scopes, and packages by the paths of their imports.

Source: the Go programming language specification, "Declarations and scope", "Import declarations".
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.lexical.name_rules import ImportStyle, NameRules
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, ReaderTask, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Action, Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.scope import Binding
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

if TYPE_CHECKING:
    import tree_sitter

_LOCAL, _ARGUMENT = Bind("let", "rest"), Bind("argument")
_PATH = re.compile(r"(?:.*/)?(?P<name>(?!v\d+\Z)[^\W\d]\w*?)(?:\.v\d+)?(?:/v\d+)?")
"""The last part of a path, versions aside, is what a package is called by custom."""


def _import(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    path, name = raw.child_by_field_name("path"), raw.child_by_field_name("name")
    text = reader.text(path)[1:-1]
    span = Span(raw.start_byte, raw.end_byte)
    if name is not None and name.type == "dot":
        reader.scope.imports.append(Import(span, span, -1, 0, text, "*"))
    elif name is not None and name.type == "package_identifier":
        said = reader.text(name)
        reader.scope.imports.append(Import(span, span, name.start_byte, 0, text, None, said))
        reader.bind(name, "import", reader.scope)
    elif name is None and path is not None and (match := _PATH.fullmatch(text)) is not None:
        start = path.start_byte + 1 + len(text[: match.start("name")].encode("utf-8"))
        end = start + len(match["name"].encode("utf-8"))
        reader.scope.imports.append(Import(span, span, start, 0, text, None, match["name"]))
        reader.bind_at(start, end, "import", reader.scope)


def _short(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    left, right = raw.child_by_field_name("left"), raw.child_by_field_name("right")
    tasks: list[ReaderTask] = []
    for name in left.named_children if left is not None else []:
        is_new = name.type == "identifier" and not reader.is_bound(name, here=True)
        action: Action = _LOCAL if is_new else "write"
        action = "skip" if reader.text(name) == "_" else action
        tasks.append(ReaderTask(name, action, None, raw.end_byte))
    reader.do(*tasks_of([right]), *tasks)


def _range(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    left = raw.child_by_field_name("left")
    rest = [child for child in raw.named_children if child != left]
    binds = any(child.type == ":=" for child in raw.children)
    reader.do(*tasks_of(rest), *tasks_of([left], _LOCAL if binds else "write"))


def _block(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The body of a function has the scope of its parameters."""
    holder = raw.parent
    if holder is not None and holder.type in _FUNCTIONS:
        reader.push(raw.named_children)
    else:
        reader.apply(raw, NodeRule("block"))


_FUNCTIONS = kinds("func_literal function_declaration method_declaration")


def _fault(binding: Binding, new: str) -> str:
    """Refuse what may be a field as well as a variable."""
    for item in binding.occurrences:
        above = item.node.parent
        if above is not None and above.kind == "literal_element" and above.field == "key":
            return f"the key at {item.place} may be a field"
    return ""


def _written(name: str, alias: str | None, tree: Tree) -> str:
    text = f'"{name}"' if alias is None else f'{alias} "{name}"'
    return text if tree.of_kinds(kinds("import_spec_list")) else f"import {text}"


RULES = NameRules(
    language="Go",
    scopes=ScopeRules(
        names={
            "identifier": "read", "package_identifier": "read", "type_identifier": "read",
        },
        nodes={
            "assignment_statement": NodeRule(fields={"left": "write"}),
            "communication_case": NodeRule("block"),
            "const_spec": NodeRule(fields={"name": _LOCAL}),
            "default_case": NodeRule("block"),
            "expression_case": NodeRule("block"),
            "expression_switch_statement": NodeRule("block"),
            "for_statement": NodeRule("block"),
            "func_literal": NodeRule("function"),
            "function_declaration": NodeRule("function", outside={"name": Bind("function")}),
            "function_type": NodeRule("function"),
            "if_statement": NodeRule("block"),
            "inc_statement": NodeRule(others="update"),
            "dec_statement": NodeRule(others="update"),
            "method_declaration": NodeRule("function", outside={"name": "skip"}),
            "method_elem": NodeRule("function", outside={"name": "skip"}),
            "package_clause": NodeRule(others="skip"),
            "parameter_declaration": NodeRule(fields={"name": _ARGUMENT}),
            "qualified_type": NodeRule(fields={"name": "skip"}),
            "select_statement": NodeRule("block"),
            "type_alias": NodeRule(fields={"name": Bind("type")}),
            "type_case": NodeRule("block"),
            "type_parameter_declaration": NodeRule(fields={"name": Bind("type")}),
            "type_spec": NodeRule(fields={"name": Bind("type")}),
            "type_switch_statement": NodeRule("block", fields={"alias": Bind("let")}),
            "var_spec": NodeRule(fields={"name": _LOCAL}),
            "variadic_parameter_declaration": NodeRule(fields={"name": _ARGUMENT}),
        },
        patterns={"expression_list": NodeRule(others="same")},
        hooks={
            "block": _block, "import_spec": _import, "range_clause": _range,
            "receive_statement": _range, "short_var_declaration": _short,
        },
    ),
    name=re.compile(r"[^\W\d]\w*"),
    reserved=kinds(
        "_ break case chan const continue default defer else fallthrough for func go goto if "
        "import interface map package range return select struct switch type var"
    ),
    leaves=kinds("field_identifier identifier type_identifier"),
    chains=kinds("qualified_type selector_expression"),
    is_whole=False,
    own_first=False,
    brings="package",
    known={
        name: f"builtin.{name}"
        for name in kinds(
            "any append bool byte cap clear close complex complex128 complex64 copy delete error "
            "false float32 float64 imag int int16 int32 int64 int8 iota len make max min new nil "
            "panic print println real recover rune string true uint uint16 uint32 uint64 uint8 "
            "uintptr"
        )
    },
    imports=ImportStyle(
        kinds("import_declaration"), _written, kinds("import_spec"), kinds("package_clause")
    ),
    declared=re.compile(rb"^(?:const|func|type|var)[ \t]+([^\W\d]\w*)", re.MULTILINE),
    fault=_fault,
)
SEMANTICS = LexicalSemantics(RULES)
