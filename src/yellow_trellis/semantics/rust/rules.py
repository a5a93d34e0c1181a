"""The names of Rust: scopes, patterns, and trees of `use`.

Source: the Rust reference, "Scopes", "Patterns", "Use declarations", "Preludes".
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.edits import Edit, New
from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.lexical.name_rules import ImportStyle, NameRules
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, scoped, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Action, Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.renaming import Renaming
from yellow_trellis.semantics.scope import Binding, Occurrence
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree

if TYPE_CHECKING:
    import tree_sitter

_LOCAL, _ARGUMENT = Bind("let", "rest"), Bind("argument")
_ITEM = NodeRule("types", outside={"name": Bind("type")})


def _use(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Bind what each branch of a tree of `use` brings."""
    argument = raw.child_by_field_name("argument")
    stack = [(argument, "")] if argument is not None else []
    span = Span(raw.start_byte, raw.end_byte)
    while stack:
        node, space = stack.pop()
        if node.type == "scoped_use_list":
            head = "".join(reader.text(node.child_by_field_name("path")).split())
            parts = node.child_by_field_name("list")
            inner = _joined(space, head)
            stack += [(part, inner) for part in parts.named_children] if parts is not None else []
        elif node.type == "use_list":
            stack += [(part, space) for part in node.named_children]
        elif node.type == "use_wildcard":
            head = "".join(reader.text(node).split()).removesuffix("*").removesuffix("::")
            reader.scope.imports.append(Import(span, span, -1, 0, _joined(space, head), "*"))
        elif node.type in ("use_as_clause", "identifier", "scoped_identifier", "self"):
            _branch(reader, node, space, span)


def _branch(reader: ScopeReader, node: tree_sitter.Node, space: str, span: Span) -> None:
    alias = node.child_by_field_name("alias")
    path = node.child_by_field_name("path") if node.type == "use_as_clause" else node
    whole = _joined(space, "".join(reader.text(path).split()))
    leaf = alias or (path.child_by_field_name("name") if path is not None else None) or node
    if path is not None and path.type == "self":
        whole, leaf = space, alias or node
    module, _, name = whole.rpartition(".")
    text = reader.text(alias) if alias is not None else None
    item = Span(node.start_byte, node.end_byte)
    if leaf.type == "self":
        return  # it is bound by the name of the list's path, which stands elsewhere
    reader.scope.imports.append(Import(span, item, leaf.start_byte, 0, module, name, text))
    reader.bind(leaf, "import", reader.scope)


def _joined(space: str, path: str) -> str:
    return ".".join(filter(None, (space, path.replace("::", "."))))


def _function(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The name of a method is no name of the code around."""
    holder = raw.parent.parent if raw.parent is not None else None
    is_method = holder is not None and holder.type in ("impl_item", "trait_item")
    reader.apply(raw, _METHOD if is_method else _FUNCTION)


_METHOD = NodeRule("function", outside={"name": "skip"})
_FUNCTION = NodeRule("function", outside={"name": Bind("function")})


def _let(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The pattern binds what comes behind; its value, and `else`, see what was before."""
    pattern = raw.child_by_field_name("pattern")
    rest = [child for child in raw.named_children if child != pattern]
    reader.do(*tasks_of(rest), *tasks_of([pattern], _LOCAL))


def _if(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Close the scope of a condition before `else`, which does not see its names."""
    alternative = raw.child_by_field_name("alternative")
    inside = [child for child in raw.named_children if child != alternative]
    reader.do(scoped("block", raw, tasks_of(inside)), *tasks_of([alternative]))


def _for(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    pattern, value = raw.child_by_field_name("pattern"), raw.child_by_field_name("value")
    rest = [child for child in raw.named_children if child not in (pattern, value)]
    inner = scoped("block", raw, [*tasks_of([pattern], Bind("let")), *tasks_of(rest)])
    reader.do(*tasks_of([value]), inner)


def _tokens(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """In the tokens of a macro a name is a variable, unless its neighbours say otherwise."""
    children = raw.children
    for at, child in enumerate(children):
        before = children[at - 1].type if at else ""
        behind = children[at + 1].type if at + 1 < len(children) else ""
        if child.type == "identifier":
            if before not in (".", "::") and behind not in ("::", "!", ":"):
                reader.refer(child, "read")
        elif child.is_named:
            reader.push([child])


def _fields(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    reader.push(child for child in raw.named_children if child.type != "field_identifier")


def _fault(binding: Binding, new: str) -> str:
    """Refuse what a text in a macro says: ``println!("{name}")``."""
    tree = binding.scope.tree
    field_name = re.compile(rb"\{\s*" + re.escape(binding.name.encode("utf-8")) + rb"\b")
    for text in tree.of_kinds(kinds("raw_string_literal string_literal")):
        if binding.scope.start <= text.start < binding.scope.end and field_name.search(text.data):
            return f"the text at {text.place} may say it"
    return ""


def _write(item: Occurrence, new: str, done: Renaming) -> None:
    node = item.node
    above = node.parent
    if node.kind == "shorthand_field_identifier" or (
        above is not None and above.kind == "shorthand_field_initializer"
    ):
        done.edits[item.span] = Edit.after(item.span, New(f": {new}"))
    else:
        done.put(item.span, new)


def _written(name: str, alias: str | None, tree: Tree) -> str:
    path = name.replace(".", "::")
    return f"use {path} as {alias};" if alias else f"use {path};"


def _is_single(statement: Node) -> bool:
    return "{" not in statement.text


_PRELUDE = {
    "std.boxed": "Box", "std.clone": "Clone", "std.cmp": "Eq Ord PartialEq PartialOrd",
    "std.convert": "AsMut AsRef From Into TryFrom TryInto", "std.default": "Default",
    "std.iter": "DoubleEndedIterator ExactSizeIterator Extend FromIterator IntoIterator Iterator",
    "std.marker": "Copy Send Sized Sync Unpin", "std.mem": "drop",
    "std.ops": "Drop Fn FnMut FnOnce", "std.option": "Option", "std.option.Option": "None Some",
    "std.result": "Result", "std.result.Result": "Err Ok", "std.string": "String ToString",
    "std.vec": "Vec", "std.borrow": "ToOwned",
}
"""By module: what all code sees of it."""

_SAME = NodeRule(others="same")


def _in_pattern(action: Action) -> NodeRule:
    return NodeRule(fields={"type": "read"}, others=action)


RULES = NameRules(
    language="Rust",
    scopes=ScopeRules(
        names={
            "identifier": "read", "shorthand_field_identifier": "read",
            "type_identifier": "annotation",
        },
        nodes={
            "assignment_expression": NodeRule(fields={"left": "write"}),
            "block": NodeRule("block"),
            "closure_expression": NodeRule("lambda", fields={"parameters": _ARGUMENT}),
            "compound_assignment_expr": NodeRule(fields={"left": "update"}),
            "const_item": NodeRule(fields={"name": Bind("const")}),
            "enum_item": _ITEM,
            "enum_variant": NodeRule(fields={"name": "skip"}),
            "extern_crate_declaration": NodeRule(fields={"name": "skip", "alias": "skip"}),
            "function_signature_item": NodeRule("function", outside={"name": "skip"}),
            "impl_item": NodeRule("types"),
            "label": NodeRule(others="skip"),
            "lifetime": NodeRule(others="skip"),
            "macro_definition": NodeRule(fields={"name": "skip"}, others="skip"),
            "macro_invocation": NodeRule(fields={"macro": "skip"}),
            "match_arm": NodeRule("block", fields={"pattern": Bind("let")}),
            "mod_item": NodeRule("class", outside={"name": "skip"}),
            "parameter": NodeRule(fields={"pattern": _ARGUMENT}),
            "scoped_identifier": NodeRule(fields={"path": "annotation", "name": "skip"}),
            "scoped_type_identifier": NodeRule(fields={"path": "annotation", "name": "skip"}),
            "static_item": NodeRule(fields={"name": Bind("const")}),
            "struct_item": NodeRule("types", outside={"name": Bind("class")}),
            "trait_item": _ITEM,
            "type_item": _ITEM,
            "type_parameter": NodeRule(fields={"name": Bind("type")}),
            "union_item": _ITEM,
            "while_expression": NodeRule("block"),
        },
        patterns={
            "captured_pattern": _SAME, "closure_parameters": _SAME,
            "field_pattern": NodeRule(fields={"name": "same", "pattern": "same"}),
            "match_pattern": NodeRule(fields={"condition": "read"}, others="same"),
            "mut_pattern": _SAME, "or_pattern": _SAME,
            "parameter": NodeRule(fields={"pattern": "same"}),
            "range_pattern": NodeRule(),
            "ref_pattern": _SAME, "reference_pattern": _SAME, "slice_pattern": _SAME,
            "struct_pattern": _in_pattern("same"), "tuple_pattern": _SAME,
            "tuple_struct_pattern": _in_pattern("same"),
        },
        hooks={
            "for_expression": _for, "function_item": _function, "if_expression": _if,
            "let_condition": _let, "let_declaration": _let, "token_tree": _tokens,
            "use_declaration": _use,
        },
        constants=re.compile(r"[A-Z]"),
        sealed=frozenset({"class"}),
        types=frozenset({"type"}),
        values=frozenset({"argument", "const", "function", "let"}),
    ),
    name=re.compile(r"(?:r#)?[^\W\d]\w*"),
    reserved=kinds(
        "Self _ abstract as async await become box break const continue crate do dyn else enum "
        "extern false final fn for if impl in let loop macro match mod move mut override priv pub "
        "ref return self static struct super trait true try type typeof unsafe unsized use virtual "
        "where while yield"
    ),
    leaves=kinds("identifier type_identifier"),
    chains=kinds("scoped_identifier scoped_type_identifier"),
    joint="::",
    own_first=False,
    known={name: f"{space}.{name}" for space, names in _PRELUDE.items() for name in names.split()},
    imports=ImportStyle(kinds("use_declaration"), _written, removable=_is_single),
    fault=_fault,
    write=_write,
)
SEMANTICS = LexicalSemantics(RULES)
