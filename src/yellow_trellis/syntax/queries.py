"""Structural queries: which of the parser's nodes may be what is looked for, found in one pass.

The parser library has a query engine that walks a tree many times faster than Python can. It is a
private shortcut: a query names every node that may fit, the exact matcher decides. All queries of a
ruleset are compiled into one, which is run once over a tree.
"""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING, NamedTuple

import tree_sitter

from yellow_trellis.syntax.query_memo import QueryMemo

if TYPE_CHECKING:
    from yellow_trellis.languages import Language

_LARGE = 4 * 1024
"""Bytes of a node from which on it is not queried but walked: the engine takes the square of the
depth of a tree, and misses what lies 65,536 deep."""


_EXTRA = "extra"


class StructureQuery(NamedTuple):
    """A structural query: nodes of some kinds, built in some way."""

    kinds: frozenset[str]
    """The kinds of the nodes; all that are of such a kind are taken where they are very large."""
    form: str = ""
    """How such a node must be built, in the notation of the query engine; none asks for its kind
    only. A form that the engine refuses is left out."""


MAX_DEPTH = 3
"""How deep the form of a node may tell what is in it."""


def find(
    queries: tuple[StructureQuery, ...],
    language: Language,
    root: tree_sitter.Node,
    data: bytes = b"",
    memo: QueryMemo | None = None,
) -> list[list[tree_sitter.Node]]:
    """Return for each query the parser's nodes below `root` that may fit it, in no order.

    Some may be there twice. A node with a comment in it fits whatever its form is.
    Arguments: `memo` has what the same queries found in an earlier text; `data` is the text now.
    """
    compiled = compile_all(queries, language)
    results: list[list[tree_sitter.Node]] = [[] for _ in queries]
    if compiled is None:
        return results
    by_kind = _queries_by_kind(queries)
    cursor, query_cursor = root.walk(), tree_sitter.QueryCursor(compiled)
    if memo is not None:
        memo.begin()
    while True:
        node = cursor.node
        assert node is not None
        if node.end_byte - node.start_byte < _LARGE:
            captures = (
                query_cursor.captures(node)
                if memo is None
                else memo.captures(node, data, query_cursor)
            )
            for extra in captures.pop(_EXTRA, ()):
                _add_around(extra, by_kind, queries, results)
            for name, nodes in captures.items():
                results[int(name)] += nodes
        else:
            if node.is_named:
                for number in by_kind.get(node.type, ()):
                    results[number].append(node)
            if cursor.goto_first_child():
                continue
        while not cursor.goto_next_sibling():
            if not cursor.goto_parent():
                return results


def _add_around(
    extra: tree_sitter.Node,
    by_kind: dict[str, list[int]],
    queries: tuple[StructureQuery, ...],
    captures: list[list[tree_sitter.Node]],
) -> None:
    """Add the nodes around a comment to what is found for queries that have a form."""
    node = extra.parent
    for _ in range(MAX_DEPTH + 2):
        if node is None:
            return
        for number in by_kind.get(node.type, ()):
            if queries[number].form:
                captures[number].append(node)
        node = node.parent


@cache
def _queries_by_kind(queries: tuple[StructureQuery, ...]) -> dict[str, list[int]]:
    by_kind: dict[str, list[int]] = {}
    for number, query in enumerate(queries):
        for kind in query.kinds:
            by_kind.setdefault(kind, []).append(number)
    return by_kind


@cache
def compile_all(
    queries: tuple[StructureQuery, ...], language: Language
) -> tree_sitter.Query | None:
    """Return one query for all; None where the grammar has none of the kinds."""
    kinds = [_of_kinds(query.kinds, language) for query in queries]
    forms = [query.form or kinds[number] for number, query in enumerate(queries)]
    extras = language.extras if any(query.form for query in queries) else frozenset[str]()
    try:
        return _together(forms, language, extras)
    except tree_sitter.QueryError:
        forms = [form if _is_possible(form, language) else kinds[n] for n, form in enumerate(forms)]
        return _together(forms, language, extras)


def _together(
    forms: list[str], language: Language, extras: frozenset[str]
) -> tree_sitter.Query | None:
    patterns = [f"{form} @{number}" for number, form in enumerate(forms) if form]
    if not patterns:
        return None
    if extras:
        patterns.append(f"[{' '.join(f'({kind})' for kind in sorted(extras))}] @{_EXTRA}")
    return tree_sitter.Query(language.raw_language, "\n".join(patterns))


def _is_possible(form: str, language: Language) -> bool:
    """Return whether the query engine takes a form: it refuses what the grammar cannot make."""
    try:
        _together([form], language, frozenset())
    except tree_sitter.QueryError:
        return False
    return True


def _of_kinds(kinds: frozenset[str], language: Language) -> str:
    entries = sorted(kind for kind in kinds if kind in language.kinds)
    return f"[{' '.join(f'({kind})' for kind in entries)}]" if entries else ""
