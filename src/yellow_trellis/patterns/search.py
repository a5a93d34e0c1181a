"""Finding matches without visiting the tree: from a token's bytes straight to its node."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from functools import cache

from yellow_trellis.facts import SPELLED, Vocabulary, facts_of
from yellow_trellis.patterns.guards import Guard, guards_of
from yellow_trellis.patterns.match import Match, Takes, match_at
from yellow_trellis.patterns.pattern import Anchor, Pattern
from yellow_trellis.source import NAME, Span
from yellow_trellis.syntax import Node, Tree


def may_hold(
    pattern: Pattern,
    data: bytes,
    vocabulary: Vocabulary = SPELLED,
    *,
    words_only: bool = False,
) -> bool:
    """Tell whether UTF-8 `data` holds every token that a match of `pattern` must contain.

    Arguments: `vocabulary` tells by which words the code base knows what is asked for by meaning;
    with `words_only` the data is a list of words, in which other tokens are not to be found.
    """
    needs = pattern.needs if not words_only else filter(NAME.fullmatch, pattern.needs)
    return all(token in data for token in needs) and all(
        vocabulary.may_be_in(data, name) for name in pattern.meant.values()
    )


def seek(
    pattern: Pattern,
    tree: Tree,
    within: Node | Span | Sequence[Span] | None = None,
    given: Takes | None = None,
    guards: tuple[Guard, ...] | None = None,
) -> Iterator[Match]:
    """Yield the matches of `pattern` in source order, an outer one before those inside it.

    Arguments: `within` limits the search to a node, to a span of bytes, or to spans in order and
    apart; `given` is what holes took already, see `match_at`; `guards` are asked before a node is
    made, those of the pattern alone if left out.
    """
    spans = _spans(within, tree)
    found = _seek(pattern, tree, spans, given, guards)
    if pattern.without is None:
        yield from found
        return
    around = tree.language.optional_around
    bare = (
        match
        for match in _seek(pattern.without, tree, spans, {**pattern.without.given, **(given or {})})
        if match.node.parent is None or match.node.parent.kind not in around
    )
    yield from sorted([*found, *bare], key=lambda match: (match.span.start, -match.span.end))


def _spans(within: Node | Span | Sequence[Span] | None, tree: Tree) -> Sequence[Span]:
    if within is None:
        return (Span(0, len(tree.source.data)),)
    if isinstance(within, Node):
        return (within.span,)
    return (within,) if isinstance(within, Span) else within


def _seek(
    pattern: Pattern,
    tree: Tree,
    spans: Sequence[Span],
    given: Takes | None,
    guards: tuple[Guard, ...] | None = None,
) -> Iterator[Match]:
    starts = [span.start for span in spans]
    for node in _candidates(pattern, tree, spans, guards):
        found = match_at(pattern, node, given)
        if found is not None and _held(found.span, spans, starts):
            yield found


def _held(one: Span, spans: Sequence[Span], starts: list[int]) -> bool:
    """Tell whether any of `spans`, which start at `starts`, holds `one`."""
    at = bisect_right(starts, one.start) - 1
    return at >= 0 and spans[at].holds(one)


_own_guards = cache(guards_of)


def _candidates(
    pattern: Pattern, tree: Tree, spans: Sequence[Span], guards: tuple[Guard, ...] | None
) -> list[Node]:
    """Return the nodes at which a match may start, in source order, outer before inner."""
    data = tree.source.data
    anchor = pattern.anchor_in(data)
    if anchor is None:
        guards = _own_guards(pattern) if guards is None else guards
        kinds = pattern.kinds or tree.language.kinds
        starts = [span.start for span in spans]
        nodes = tree.of_kinds(kinds, lambda raw: all(one.passes(raw, data) for one in guards))
        return [node for node in nodes if _held(node.span, spans, starts)]
    found: dict[int, Node] = {}
    kinds = pattern.kinds
    for leaf in (leaf for span in spans for leaf in _hit_nodes(anchor, tree, span)):
        root = _climb(leaf, anchor.steps)
        if root is None:
            continue
        for node in _starts(pattern, root, anchor):
            if not kinds or node.kind in kinds or node.core.kind in kinds:
                found[id(node)] = node
    return sorted(found.values(), key=lambda node: (node.start, -node.end))


def _hit_nodes(anchor: Anchor, tree: Tree, span: Span) -> Iterator[Node]:
    """Yield the nodes that are what the anchor says."""
    if anchor.meaning:
        for node in facts_of(tree).places(anchor.meaning):
            if span.holds(node.span):
                yield node
        return
    for start in _hits(anchor, tree, span):
        leaf = tree.leaf_at(start, start + len(anchor.text))
        if leaf is not None and leaf.start == start and leaf.end - start == len(anchor.text):
            yield leaf


def _hits(anchor: Anchor, tree: Tree, span: Span) -> Iterator[int]:
    """Yield where the anchor's text stands, as a whole word if it is one."""
    return tree.hits(anchor.text, span, whole_word=anchor.word)


def visit(tree: Tree, kinds: frozenset[str]) -> list[Node]:
    """Return all nodes of `kinds`, in source order, outer before inner.

    Where each kind has a word that gives it away, only the places of that word are looked at. The
    answer is kept: rules that ask for the same kinds share it.
    """
    if (known := tree.visited.get(kinds)) is None:
        known = tree.visited[kinds] = _visit(tree, kinds)
    return known


def _visit(tree: Tree, kinds: frozenset[str]) -> list[Node]:
    telltales = tree.language.telltales
    if not all(kind in telltales for kind in kinds):
        return tree.of_kinds(kinds)
    found: dict[int, Node] = {}
    whole = Span(0, len(tree.source.data))
    for word in sorted({telltales[kind] for kind in kinds}):
        for start in _hits(Anchor(word, 1, 0, True), tree, whole):
            leaf = tree.leaf_at(start, start + len(word))
            above = leaf.parent if leaf is not None else None
            if above is not None and above.kind in kinds and telltales[above.kind] == word:
                found[id(above)] = above
    return sorted(found.values(), key=lambda node: (node.start, -node.end))


def _climb(node: Node, steps: int) -> Node | None:
    """Climb `steps` nodes that are neither brackets nor wrappers around one node."""
    thin = node.tree.language.thin
    while steps:
        above = node.parent
        if above is None:
            return None
        node = above
        if node.kind not in thin or len(node.items) != 1:
            steps -= 1
    return node


def _starts(pattern: Pattern, root: Node, anchor: Anchor) -> tuple[Node, ...]:
    """Return the nodes at which a match may start whose root number `anchor.root` is `root`."""
    if len(pattern.roots) == 1:
        return (root,)
    language = root.tree.language
    while root.parent is not None and root.parent.kind not in language.bodies:
        if root.parent.kind not in language.thin:
            return ()
        root = root.parent
    if root.parent is None:
        return ()
    items = root.parent.items
    at = next((i for i, item in enumerate(items) if item is root), None)
    if at is None:
        return ()
    before = pattern.roots[: anchor.root]
    if any(shape.hole is not None and shape.hole.many for shape in before):
        return items[: at + 1]
    first = at - len(before)
    return (items[first],) if first >= 0 else ()
