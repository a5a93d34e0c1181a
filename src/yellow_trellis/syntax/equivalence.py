"""When two pieces of code count as equal: space, comments, brackets and spelling aside."""

from __future__ import annotations

from yellow_trellis.syntax.node import Node


def are_idle_brackets(node: Node) -> bool:
    """Return whether a node is brackets where none are ever needed.

    That is around what is returned, and around an item of a list: who writes them there means them.
    """
    above = node.parent
    if above is None or node.kind not in node.tree.language.brackets:
        return False
    return above.kind.startswith("return") or above.kind in node.tree.language.lists


def same_code(node: Node, second: Node) -> bool:
    """Return whether two nodes are the same code.

    Space, comments, trailing commas, redundant brackets and the spelling of a literal do not
    count. The nodes may belong to two trees of one language.
    """
    stack = [(node, second)]
    while stack:
        left, right = stack.pop()
        left, right = left.core, right.core
        if left is right:
            continue
        language = left.tree.language
        if language.same_kind(left.kind) != language.same_kind(right.kind):
            return False
        if left.data == right.data:
            continue
        if language.is_literal(left.kind) and language.has_value(left.text):
            if not language.same_literal(left.text, right.text):
                return False
            continue
        if left.kind in language.delimiters:
            if not language.same_delimiter(left.text, right.text):
                return False
            continue
        if not left.children and not right.children and left.folded == right.folded:
            continue
        ours, theirs = left.items, right.items
        if not ours or len(ours) != len(theirs):
            return False
        stack.extend(zip(ours, theirs, strict=True))
    return True


def same_run(nodes: tuple[Node, ...], second: tuple[Node, ...]) -> bool:
    """Return whether two runs of nodes are the same code, one by one."""
    return len(nodes) == len(second) and all(map(same_code, nodes, second))


def code_key(node: Node, without: frozenset[str] = frozenset()) -> object:
    """Return what two nodes share exactly when they are the same code: a hash for `same_code`.

    Arguments: of nodes of the kinds `without` only that they are there counts.
    """
    node = node.core
    if node.kind in without:
        return node.kind
    language = node.tree.language
    kind = language.same_kind(node.kind)
    if language.is_literal(node.kind) and language.has_value(node.text):
        value = language.literal_forms.value(node.text)
        return kind, type(value), value
    if node.kind in language.delimiters:
        return kind, node.text.strip("'\"").lower()
    if not node.items:
        return kind, node.folded
    return kind, tuple(code_key(item, without) for item in node.items)
