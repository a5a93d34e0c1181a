"""Taking out the imports of JavaScript that a rewrite has left without a use."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from yellow_trellis.edits import Edit
from yellow_trellis.edits.removal import removals
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.javascript.imports import NAME_LISTS
from yellow_trellis.semantics.javascript.semantic_model import facts_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.comment_ownership import attached

_WORD = re.compile(rb"[A-Za-z_$\x80-\xff][\w$\x80-\xff]*")


def lost_words(before: Tree, after: Tree, written: Iterable[Span]) -> frozenset[bytes]:
    """Return the names that stood in the bytes `written` over and that imports may bring."""
    words = frozenset(
        word for span in written for word in _WORD.findall(before.source.data, *span)
    )
    if not words or not (b"import" in after.source.data or b"require" in after.source.data):
        return frozenset()
    return words & {item.bound.encode("utf-8") for _, item in facts_of(after).names.imports}


def drop_imports(before: Tree, after: Tree, gives: Callable[[str, str], bool]) -> list[Edit]:
    """Return the edits to `after` that take out the imports which had a use in `before` only.

    Left alone are those with a comment, which may be the reason.
    """
    old = {_key(item) for item in _unused(before)}
    there = {_key(item) for _, item in facts_of(before).names.imports}
    going: dict[int, tuple[Node, list[Node]]] = {}
    for item in _unused(after):
        if _key(item) in old or _key(item) not in there:
            continue
        statement, part = after.leaf_at(*item.statement), after.leaf_at(*item.item)
        if statement is None or part is None or any(attached(part.outermost)):
            continue
        going.setdefault(item.statement.start, (statement.outermost, []))[1].append(part)
    edits: list[Edit] = []
    for statement, parts in going.values():
        try:
            some = _without(statement, parts)
        except ValueError:
            continue  # it is one declaration with something else
        is_whole = any(edit.span.holds(statement.span) for edit in some)
        edits += [] if is_whole and any(attached(statement)) else some
    return edits


def _unused(tree: Tree) -> list[Import]:
    return [unused.imported for unused in facts_of(tree).unused_imports()]


def _key(item: Import) -> tuple[str, str | None, str | None]:
    return item.module, item.name, item.alias


def removal_of_import(node: Node) -> list[Edit]:
    """Return the edits that take out an import statement, or one item of it.

    Errors: `ValueError`, for an item of a declaration that does more.
    """
    statement = next(
        (above for above in (node, *node.ancestors()) if above.kind in _STATEMENTS), None
    )
    if statement is None:
        raise ValueError("this is no import, and no part of one")
    return _without(statement, [node])


_STATEMENTS = frozenset({"import_statement", "lexical_declaration", "variable_declaration"})


def _without(statement: Node, parts: list[Node]) -> list[Edit]:
    """Take `parts` out of an import; all of it where nothing is left."""
    if statement.kind not in _STATEMENTS:
        statement = next(above for above in statement.ancestors() if above.kind in _STATEMENTS)
    bound = [
        item
        for _, item in facts_of(statement.tree).names.imports
        if item.statement == statement.span
    ]
    going = [item for item in bound if any(part.span.holds(item.item) for part in parts)]
    declarators = [item for item in statement.items if item.kind == "variable_declarator"]
    if len(going) == len(bound) and len(declarators) < 2:
        return removals([statement])
    nodes: list[Node] = []
    for item in going:
        node = statement.tree.leaf_at(*item.item)
        node = node.outermost if node is not None else None
        if node is None or node.parent is None or node.parent.kind not in NAME_LISTS:
            nodes = []
            break
        nodes.append(node)
    if not nodes:
        return _rewritten(statement, going)
    clause = nodes[0].parent
    if clause is not None and len(nodes) == len([i for i in clause.items if i.named]):
        return _rewritten(statement, going)
    return removals(nodes)


def _rewritten(statement: Node, going: list[Import]) -> list[Edit]:
    """Take the default, or all names in braces, out of an import that has both."""
    clause = next((item for item in statement.items if item.kind == "import_clause"), None)
    if clause is None:
        raise ValueError("this import stands in a declaration of more")
    starts = {item.bound_at for item in going}
    parts = [item for item in clause.items if item.named]
    remaining = [
        part
        for part in parts
        if not any(part.start <= start < part.end for start in starts)
    ]
    if len(remaining) != 1:
        raise ValueError("this part of an import cannot be taken out alone")
    edits = []
    if remaining[0].start > clause.start:
        edits.append(Edit(Span(clause.start, remaining[0].start)))
    if remaining[0].end < clause.end:
        edits.append(Edit(Span(remaining[0].end, clause.end)))
    return edits
