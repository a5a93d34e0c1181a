"""The local names of Swift, and names that code says with their module.

Source: the Swift programming language, "Declarations", "Patterns", "Closures".
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.edits import Edit, New
from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.lexical.hooks import first
from yellow_trellis.semantics.lexical.name_rules import NameRules
from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, ReaderTask, scoped, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.renaming import Renaming
from yellow_trellis.semantics.scope import Binding, Occurrence

if TYPE_CHECKING:
    import tree_sitter

_LOCAL, _ARGUMENT = Bind("let", "rest"), Bind("argument")
_NAME = "simple_identifier"
_CLASSES = kinds("class_body enum_class_body protocol_body")


def _property(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Bind each name behind its value; a property of a class is a field."""
    holder = raw.parent
    is_field = holder is not None and holder.type in _CLASSES
    action = Bind("field") if is_field else _LOCAL
    tasks: list[ReaderTask] = []
    waiting: list[tree_sitter.Node] = []
    for at, child in enumerate(raw.children):
        if raw.field_name_for_child(at) == "name" and child.type == "pattern":
            tasks += [ReaderTask(leaf, action, None, raw.end_byte) for leaf in waiting]
            waiting = _leaves(child)
        elif child.is_named:
            tasks += tasks_of([child])
    tasks += [ReaderTask(leaf, action, None, raw.end_byte) for leaf in waiting]
    reader.do(*tasks)


def _leaves(pattern: tree_sitter.Node) -> list[tree_sitter.Node]:
    """Return the names in a pattern, in order."""
    leaves: list[tree_sitter.Node] = []
    stack = [pattern]
    while stack:
        node = stack.pop()
        if node.type == _NAME:
            leaves.append(node)
        stack += reversed([child for child in node.named_children if child.type != "user_type"])
    return leaves


def _parameter(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """The last name before the type is that inside; the one before it is for callers."""
    names = [
        child
        for at, child in enumerate(raw.children)
        if child.type == _NAME and raw.field_name_for_child(at) == "name"
    ]
    outside = raw.child_by_field_name("external_name")
    rest = [child for child in raw.named_children if child not in names and child != outside]
    reader.do(*tasks_of(rest), *tasks_of(names[:1], _ARGUMENT))


def _condition(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """``if let a = b``, ``guard let``, ``while case``: what is bound is seen from there on."""
    tasks: list[ReaderTask] = []
    binds = False
    for at, child in enumerate(raw.children):
        label = raw.field_name_for_child(at)
        if child.type == "value_binding_pattern":
            binds = True
        elif label == "bound_identifier":
            end = child.end_byte
            following = raw.children[at + 1 : at + 3]
            value = next((c for c in following if c.is_named), None)
            if following and following[0].type == "=" and value is not None:
                tasks += tasks_of([value])
                end = value.end_byte
            tasks.append(ReaderTask(child, _LOCAL, None, end))
            binds = False
        elif child.type == "pattern" and binds:
            tasks += [ReaderTask(leaf, _LOCAL, None, child.end_byte) for leaf in _leaves(child)]
        elif child.is_named and not any(task.raw == child for task in tasks):
            tasks += tasks_of([child])
    if raw.type == "guard_statement":
        reader.do(*tasks)  # what it binds is seen behind it
    else:
        reader.do(scoped("block", raw, tasks))


def _for(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    item, collection = raw.child_by_field_name("item"), raw.child_by_field_name("collection")
    rest = [child for child in raw.named_children if child not in (item, collection)]
    leaves = _leaves(item) if item is not None else []
    inner = scoped("block", raw, [*tasks_of(leaves, Bind("let")), *tasks_of(rest)])
    reader.do(*tasks_of([collection]), inner)


def _entry(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Bind the names of a case that stand behind `let` or `var`."""
    leaves: list[tree_sitter.Node] = []
    patterns = [child for child in raw.named_children if child.type in _PATTERNS]
    for pattern in patterns:
        leaves += _bound(pattern)
    rest = [child for child in raw.named_children if child not in patterns]
    reader.do(scoped("block", raw, [*tasks_of(leaves, Bind("let")), *tasks_of(rest)]))


_PATTERNS = kinds("pattern switch_pattern")


def _bound(pattern: tree_sitter.Node) -> list[tree_sitter.Node]:
    """Return the names that a pattern binds: those below a node that says `let`."""
    leaves: list[tree_sitter.Node] = []
    stack = [(pattern, False)]
    while stack:
        node, binds = stack.pop()
        binds = binds or any(child.type == "value_binding_pattern" for child in node.children)
        for at, child in reversed(list(enumerate(node.children))):
            if child.type == _NAME:
                is_case = at > 0 and node.children[at - 1].type == "."
                if binds and not is_case:
                    leaves.append(child)
            elif child.is_named and child.type != "user_type":
                stack.append((child, binds))
    return leaves


def _closure(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    reader.do(scoped("lambda", raw, tasks_of(raw.named_children)))


def _capture(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    name, value = raw.child_by_field_name("name"), raw.child_by_field_name("value")
    if value is not None:
        reader.do(*tasks_of([value]), *tasks_of([name], Bind("let")))
    else:
        reader.do(*tasks_of([name]))


def _write(item: Occurrence, new: str, done: Renaming) -> None:
    """Write a new name; a parameter keeps its old one for those who call."""
    above = item.node.parent
    is_parameter = above is not None and above.kind == "parameter"
    if item.how == "argument" and above is not None and is_parameter:
        if above.child("external_name") is None:
            done.edits[item.span] = Edit.after(item.span, New(f" {new}"))
            return
    done.put(item.span, new)


def _fault(binding: Binding, new: str) -> str:
    """Refuse where ``if let name`` says a variable and binds another of its name."""
    for scope in binding.scope.walk():
        for item in scope.occurrences(binding.name):
            follow = item.node.next
            if item.use == "bind" and item.node.field == "bound_identifier":
                if scope is not binding.scope and (follow is None or follow.kind != "="):
                    return f"the code at {item.place} says it, and binds another"
    return ""


RULES = NameRules(
    language="Swift",
    scopes=ScopeRules(
        names={_NAME: "read", "type_identifier": "annotation"},
        nodes={
            "assignment": NodeRule(fields={"target": "write"}),
            "class_body": NodeRule("class"),
            "class_declaration": NodeRule("types", outside={"name": Bind("type")}),
            "do_statement": NodeRule("block"),
            "enum_class_body": NodeRule("class"),
            "enum_entry": NodeRule(fields={"name": "skip"}),
            "function_declaration": NodeRule("function", outside={"name": "skip"}),
            "import_declaration": NodeRule(others="skip"),
            "init_declaration": NodeRule("function"),
            "lambda_parameter": NodeRule(fields={"name": _ARGUMENT}),
            "navigation_suffix": NodeRule(fields={"suffix": "skip"}, others="read"),
            "protocol_body": NodeRule("class"),
            "protocol_declaration": NodeRule("types", outside={"name": Bind("type")}),
            "repeat_while_statement": NodeRule("block"),
            "statements": NodeRule("block"),
            "subscript_declaration": NodeRule("function"),
            "type_parameter": NodeRule(),
            "typealias_declaration": NodeRule(fields={"name": Bind("type")}),
            "value_argument_label": NodeRule(others="skip"),
        },
        patterns={"directly_assignable_expression": NodeRule(others="same")},
        hooks={
            "capture_list_item": _capture,
            "catch_block": _entry,
            "computed_setter": lambda reader, raw: reader.apply(
                raw, NodeRule("function", others="read")
            ),
            "control_transfer_statement": lambda reader, raw: reader.push(raw.named_children),
            "for_statement": _for,
            "guard_statement": _condition,
            "if_statement": _condition,
            "lambda_literal": _closure,
            "parameter": _parameter,
            "property_declaration": _property,
            "switch_entry": _entry,
            "type_parameter": first(Bind("type")),
            "while_statement": _condition,
        },
        types=frozenset({"type"}),
        values=frozenset({"argument", "field", "let"}),
    ),
    name=re.compile(r"[^\W\d]\w*"),
    reserved=kinds(
        "Any Self as associatedtype await break case catch class continue default defer deinit do "
        "else enum extension fallthrough false fileprivate for func guard if import in init inout "
        "internal is let nil operator private protocol public repeat rethrows return self static "
        "struct subscript super switch throw throws true try typealias var where while"
    ),
    leaves=kinds("simple_identifier type_identifier"),
    own_first=False,
    fault=_fault,
    write=_write,
)
SEMANTICS = LexicalSemantics(RULES)
