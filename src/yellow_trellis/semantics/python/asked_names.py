"""Names that code asks for by text: ``getattr(tram, "on_" + event)``.

What a text is that a program puts together is not known before it runs. Its fixed pieces are: so a
name is compared with a pattern of them, in which each piece that is not known may be anything.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from yellow_trellis.syntax import Node, Tree

ANY = ".*"
"""The pattern of a text of which no piece is known."""

_POSITION = {
    **dict.fromkeys(("getattr", "setattr", "hasattr", "delattr", "object"), 1),
    **dict.fromkeys(("attrgetter", "methodcaller", "patch", "multiple"), 0),
}
"""By last name of a function: the first of its arguments that is the name asked for."""
_DYNAMIC_METHODS = frozenset({"__delattr__", "__getattr__", "__getattribute__", "__setattr__"})
_DEEPEST = 20
_MOST = 20


class Lookup(NamedTuple):
    """A call that asks for a name by text."""

    node: Node
    """The text."""
    receiver: Node | None
    """What is asked; None where the call does not say it."""
    pattern: str
    """A regular expression for the names that it may ask for."""
    in_module: bool = False
    """Whether the names of the module around it are asked."""

    def may_ask_for(self, name: str) -> bool:
        """Return whether `name` may be what is asked for."""
        return re.fullmatch(self.pattern, name, re.DOTALL) is not None


def lookups(tree: Tree) -> Iterator[Lookup]:
    """Yield the calls that ask for a name by a text that is put together as the program runs.

    A name that ``__getattr__`` hands on is none of them: whoever asks for it says it in code.
    """
    for function, position in _POSITION.items():
        for at in tree.hits(function.encode("ascii"), whole_word=True):
            leaf = tree.leaf_at(at)
            call = _call_of(leaf) if leaf is not None else None
            if call is None:
                continue
            items = [item for item in call.items[-1].items if item.named]
            if function == "object" and not _is_patch(call):
                continue
            if len(items) <= position or items[position].kind in ("string", "keyword_argument"):
                if len(items) <= position or not _has_holes(items[position]):
                    continue
            if not _is_handed_on(items[position]):
                receiver = items[0] if position else None
                yield Lookup(items[position], receiver, pattern_of(items[position]))
    for word in (b"globals", b"vars", b"__dict__"):
        for at in tree.hits(word, whole_word=True):
            leaf = tree.leaf_at(at)
            lookup = _in_mapping(leaf) if leaf is not None else None
            if lookup is not None:
                yield lookup


def _in_mapping(leaf: Node) -> Lookup | None:
    """Return what is asked of a mapping of names, ``vars(clock)["on_" + event]``."""
    holder = leaf.parent
    receiver: Node | None = None
    if holder is not None and holder.kind == "attribute":
        receiver = holder.items[0]
    elif holder is not None and holder.kind == "call":
        receiver = next((item for item in holder.items[-1].items if item.named), None)
    outer = holder.parent if holder is not None else None
    if outer is None or outer.kind != "subscript" or outer.items[0] is not holder:
        return None
    text = next((item.bare for item in outer.items[1:] if item.named), outer)
    if text.kind == "string" and not _has_holes(text):
        return None
    return Lookup(text, receiver, pattern_of(text), receiver is None)


def asked_patterns(tree: Tree) -> tuple[str, ...]:
    """Return the patterns of the names that a file asks for, sorted; `ANY` alone for too many."""
    patterns = {lookup.pattern for lookup in lookups(tree)}
    if ANY in patterns or len(patterns) > _MOST:
        return (ANY,)
    return tuple(sorted(patterns))


def pattern_of(node: Node, depth: int = 0) -> str:
    """Return a regular expression for the texts that an expression may be."""
    node = node.bare
    if depth > _DEEPEST:
        return ANY
    if node.kind == "string":
        return _of_string(node)
    if node.kind == "concatenated_string":
        return "".join(_of_string(item) for item in node.items if item.kind == "string")
    if node.kind == "binary_operator":
        left, operator, right = node.items[:3] if len(node.items) > 2 else (node, node, node)
        if operator.text == "+":
            return pattern_of(left, depth + 1) + pattern_of(right, depth + 1)
        if operator.text == "%" and left.bare.kind == "string":
            return re.sub(r"%(?:\\\(\w+\\\))?[a-z]", ANY, _of_string(left.bare))
        return ANY
    if node.kind == "call":
        function = node.items[0]
        if function.kind == "attribute" and function.items[-1].text == "format":
            if function.items[0].bare.kind == "string":
                return re.sub(r"\\\{[^{}]*\\\}", ANY, _of_string(function.items[0].bare))
        return ANY
    if node.kind == "conditional_expression":
        first, second = pattern_of(node.items[0], depth + 1), pattern_of(node.items[-1], depth + 1)
        return f"(?:{first}|{second})"
    return ANY


def _of_string(node: Node) -> str:
    pieces = []
    for child in node.children:
        if child.kind == "string_content":
            if any(inner.kind == "escape_sequence" for inner in child.children):
                pieces.append(ANY)
            else:
                pieces.append(re.escape(child.text))
        elif child.kind == "interpolation":
            pieces.append(ANY)
    return "".join(pieces)


def _has_holes(node: Node) -> bool:
    return node.kind == "string" and any(child.kind == "interpolation" for child in node.children)


def _call_of(leaf: Node) -> Node | None:
    """Return the call whose function a name is, or ends with."""
    node = leaf
    if node.parent is not None and node.parent.kind == "attribute":
        if node.parent.children[0] is node:
            return None
        node = node.parent
    call = node.parent
    if call is None or call.kind != "call" or node.field != "function":
        return None
    return call


def _is_patch(call: Node) -> bool:
    return "patch" in call.items[0].text


def _is_handed_on(text: Node) -> bool:
    """Return whether a text is the parameter of a method that is asked for what a class lacks."""
    function = next((a for a in text.ancestors() if a.kind == "function_definition"), None)
    name = function.child("name") if function is not None else None
    if function is None or name is None or name.text not in _DYNAMIC_METHODS:
        return False
    parameters = function.child("parameters")
    return parameters is not None and text.text in {p.text for p in parameters.items}
