"""The local names of Ruby, and constants that code says whole.

Source: the documentation of Ruby, "Assignment", "Local variables and blocks". A name that nothing
assigns to is a call.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from yellow_trellis.edits import Edit, New
from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.lexical.name_rules import NameRules
from yellow_trellis.semantics.lexical.scope_reader import (
    LexicalScope,
    ScopeReader,
    ReaderTask,
    scoped,
    tasks_of,
)
from yellow_trellis.semantics.lexical.scope_rules import Action, Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics
from yellow_trellis.semantics.renaming import Renaming
from yellow_trellis.semantics.scope import Binding, Occurrence

if TYPE_CHECKING:
    import tree_sitter

_VARIABLE, _ARGUMENT = Bind("let"), Bind("argument")
_BY_TEXT = kinds("binding class_eval eval instance_eval local_variables module_eval")
_TARGETS = kinds("destructured_left_assignment identifier left_assignment_list rest_assignment")


def _assignment(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Read what is assigned, then bind names that are not there yet, and assign to the others."""
    left = raw.child_by_field_name("left")
    rest = [child for child in raw.named_children if child != left]
    reader.do(*tasks_of(rest), *_targets(reader, left))


def _targets(reader: ScopeReader, left: tree_sitter.Node | None) -> list[ReaderTask]:
    tasks: list[ReaderTask] = []
    stack = [left] if left is not None else []
    while stack:
        node = stack.pop()
        if node.type == "identifier":
            action: Action = "write" if reader.is_bound(node) else _VARIABLE
            tasks.append(ReaderTask(node, action))
        elif node.type == "constant":
            tasks.append(ReaderTask(node, Bind("class")))
        elif node.type in _TARGETS:
            stack += reversed(node.named_children)
        else:
            tasks.append(ReaderTask(node, "read"))
    return tasks


def _operator(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    left = raw.child_by_field_name("left")
    rest = [child for child in raw.named_children if child != left]
    is_new = left is not None and left.type == "identifier" and not reader.is_bound(left)
    reader.do(*tasks_of(rest), *tasks_of([left], _VARIABLE if is_new else "update"))


def _call(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Read a call: the name of what is called is no variable."""
    method = raw.child_by_field_name("method")
    if method is not None and reader.text(method) in _BY_TEXT:
        _note_text(reader, method)
    reader.push(child for child in raw.named_children if child != method)


def _note_text(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    scope = reader.scope
    assert isinstance(scope, LexicalScope)
    scope.dynamic = f"`{reader.text(raw)}` may reach a variable by its name"


def _name(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    if reader.text(raw) in _BY_TEXT and not reader.is_bound(raw):
        _note_text(reader, raw)
    reader.refer(raw, "read")


def _pair(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """``{total:}`` says the variable as well as the key."""
    key, value = raw.child_by_field_name("key"), raw.child_by_field_name("value")
    if value is None and key is not None and key.type == "hash_key_symbol":
        reader.refer(key, "read")
    else:
        reader.push(child for child in raw.named_children if child.type != "hash_key_symbol")


def _pattern(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Bind the names of a pattern; a pinned one is read."""
    stack: list[tree_sitter.Node] = [raw]
    tasks: list[ReaderTask] = []
    while stack:
        node = stack.pop()
        if node.type == "identifier":
            tasks.append(ReaderTask(node, "write" if reader.is_bound(node) else _VARIABLE))
        elif node.type in ("variable_reference_pattern", "constant", "scope_resolution"):
            tasks.append(ReaderTask(node, "read"))
        elif node.type == "keyword_pattern" and node.child_by_field_name("value") is None:
            key = node.child_by_field_name("key")
            if key is not None:
                reader.bind(key, "let", reader.scope)
        else:
            stack += reversed(node.named_children)
    reader.do(*tasks)


def _clause(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    pattern = raw.child_by_field_name("pattern")
    rest = [child for child in raw.named_children if child != pattern]
    reader.do(*tasks_of(rest))
    if pattern is not None:
        _pattern(reader, pattern)


def _rescue(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    variable = raw.child_by_field_name("variable")
    rest = [child for child in raw.named_children if child != variable]
    names = variable.named_children if variable is not None else []
    targets = [task for name in names for task in _targets(reader, name)]
    reader.do(*targets, *tasks_of(rest))


def _for(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    pattern = raw.child_by_field_name("pattern")
    rest = [child for child in raw.named_children if child != pattern]
    reader.do(*_targets(reader, pattern), *tasks_of(rest))


def _block(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    parameters = raw.child_by_field_name("parameters")
    rest = [child for child in raw.named_children if child != parameters]
    inside = [*tasks_of([parameters], _ARGUMENT), *tasks_of(rest)]
    reader.do(scoped("block", raw, inside))


def _fault(binding: Binding, new: str) -> str:
    for definition in binding.definitions:
        above = definition.node.parent
        if above is not None and above.kind in ("keyword_parameter", "keyword_pattern"):
            return f"`{binding.name}` is a keyword: others say it by name"
    return ""


def _write(item: Occurrence, new: str, done: Renaming) -> None:
    pair = item.node.parent
    if item.node.kind == "hash_key_symbol" and pair is not None:
        done.edits[item.span] = Edit(pair.span, (New(f"{pair.text} {new}"),))
    else:
        done.put(item.span, new)


_SAME = NodeRule(others="same")
_NAMED = NodeRule(fields={"name": "same"})
_CLASS = NodeRule("class", outside={"name": "read", "superclass": "read"})

RULES = NameRules(
    language="Ruby",
    scopes=ScopeRules(
        names={"constant": "annotation", "hash_key_symbol": "read", "identifier": "read"},
        nodes={
            "alias": NodeRule(others="skip", fields={"alias": "skip", "name": "skip"}),
            "class": _CLASS,
            "lambda": NodeRule("block", fields={"parameters": _ARGUMENT}),
            "method": NodeRule("function", outside={"name": "skip"},
                               fields={"parameters": _ARGUMENT}),
            "module": _CLASS,
            "scope_resolution": NodeRule(fields={"name": "skip"}),
            "singleton_class": NodeRule("class", outside={"value": "read"}),
            "singleton_method": NodeRule("function", outside={"name": "skip", "object": "read"},
                                         fields={"parameters": _ARGUMENT}),
            "undef": NodeRule(others="skip"),
        },
        patterns={
            "block_parameter": _NAMED, "block_parameters": NodeRule(fields={"locals": "same"},
                                                                  others="same"),
            "destructured_parameter": _SAME, "hash_splat_parameter": _NAMED,
            "keyword_parameter": _NAMED,
            "lambda_parameters": _SAME, "method_parameters": _SAME,
            "optional_parameter": _NAMED,
            "splat_parameter": _NAMED,
        },
        hooks={
            "assignment": _assignment, "block": _block, "call": _call, "do_block": _block,
            "for": _for, "identifier": _name, "in_clause": _clause,
            "operator_assignment": _operator, "pair": _pair, "rescue": _rescue,
        },
        closed=frozenset({"class", "function"}),
    ),
    name=re.compile(r"[^\W\d]\w*"),
    reserved=kinds(
        "BEGIN END __FILE__ __LINE__ alias and begin break case class def defined do else elsif "
        "end ensure false for if in module next nil not or redo rescue retry return self super "
        "then true undef unless until when while yield"
    ),
    leaves=kinds("constant"),
    chains=kinds("scope_resolution"),
    joint="::",
    rooted="::",
    own_first=False,
    is_file_local=True,
    fault=_fault,
    write=_write,
)
SEMANTICS = LexicalSemantics(RULES)
