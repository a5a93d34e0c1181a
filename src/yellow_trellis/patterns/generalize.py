"""A pattern out of a piece of code: a start for somebody who writes a rule about the like of it."""

from __future__ import annotations

import re
from collections.abc import Iterator

from yellow_trellis.patterns.compile import compile_pattern
from yellow_trellis.patterns.notation import PatternError
from yellow_trellis.patterns.search import seek
from yellow_trellis.syntax import Node, Tree

_NAMING = frozenset({
    *("attribute", "constructor", "field", "function", "key", "method", "module_name", "operator"),
    *("property", "suffix", "type"),
})
"""The fields that say what is done, rather than to what: their names stay."""
_ASKED = ("arguments", "expression", "object", "scope")
"""The fields beside which a name is that of a member."""


def place_in(tree: Tree, offset: int, end: int) -> Node | None:
    """Return what a pattern may be cut from: the largest node that starts at a place in a line.

    Arguments: `offset` and `end` are bytes from 0; the node ends before `end` where one does, so
    that an expression is told from the statement that it starts.
    """
    node = tree.leaf_at(offset)
    while node is not None and (above := node.parent) is not None:
        if above.start != node.start or above.kind in tree.language.bodies:
            break
        if node.named and above.end > end >= node.end > offset:
            break
        node = above
    return node


def plain(node: Node) -> str:
    """Return the code of a node as it would stand at the start of a line."""
    return _moved_left(node, node.text)


def generalized(node: Node) -> str:
    """Return a pattern that matches `node` and what is like it.

    What is read or bound becomes a hole, named after it; equal names become equal holes. What is
    called, and literals, stay; of a body only that there is one.
    """
    data = node.tree.source.data
    out: list[str] = []
    pos = node.start
    for start, end, hole in _holes(node):
        out += [data[pos:start].decode("utf-8", "replace"), hole]
        pos = end
    out.append(data[pos : node.end].decode("utf-8", "replace"))
    return _moved_left(node, "".join(out))


def part_of(node: Node, text: str) -> tuple[bool, str | None]:
    """Return whether a pattern matches `node`, and the part that it must be said to be for that."""
    spoken = node.tree.language
    for part in (None, *spoken.parts):
        try:
            pattern = compile_pattern(text, spoken, part=part)
        except PatternError:
            continue
        if any(match.span.start == node.start for match in seek(pattern, node.tree, node.span)):
            return True, part
    return False, None


def _moved_left(node: Node, text: str) -> str:
    start = node.tree.source.lines.start(node.start)
    before = node.tree.source.data[start : node.start].decode("utf-8", "replace")
    indent = before[: len(before) - len(before.lstrip())]
    return re.sub(rf"\r?\n(?:{re.escape(indent)})?", "\n", text) if indent else text


def _holes(node: Node) -> Iterator[tuple[int, int, str]]:
    """Yield what becomes a hole: start, end, and the hole."""
    language = node.tree.language
    names = language.family("name") or frozenset()
    bodies = 0
    stack = [node]
    while stack:
        item = stack.pop()
        if item.kind in language.bodies and item.items and item is not node:
            bodies += 1
            items = [item for item in item.items if item.named]
            if items:
                number = f"_{bodies}" if bodies > 1 else ""
                yield items[0].start, items[-1].end, f"@{{body{number}*}}"
            continue
        if item.kind in names and not _says_what(item):
            yield item.start, item.end, f"@{{{_name(item.text)}}}"
            continue
        if item.kind not in language.imports:
            stack.extend(reversed(item.children))


def _says_what(node: Node) -> bool:
    above = node.parent
    if above is None or node.field in _NAMING:
        return True
    if node.field == "name" and any(above.child(field) is not None for field in _ASKED):
        return True
    return above.kind in node.tree.language.named_items and node.field == "name"


def _name(text: str) -> str:
    name = re.sub(r"\W+", "_", text).strip("_").lower()
    return name if name and not name[0].isdigit() else "thing"
