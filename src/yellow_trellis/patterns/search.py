"""Finding matches without visiting the tree: from a token's bytes straight to its node."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from functools import cache
from typing import TYPE_CHECKING

from yellow_trellis import semantics
from yellow_trellis.languages import Language
from yellow_trellis.patterns.match import Captures, Match, match_at
from yellow_trellis.patterns.pattern import Anchor, Pattern
from yellow_trellis.patterns.prefilter import admits_run
from yellow_trellis.patterns.search_plan import SearchPlan, search_plan
from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.source import NAME, Span, TokenIndex, TokenSequence, is_within
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.queries import StructureQuery

if TYPE_CHECKING:
    import tree_sitter


def may_hold(
    pattern: Pattern,
    bytes_of: TokenIndex,
    vocabulary: Vocabulary = SPELLED,
    lead: Anchor | None = None,
) -> bool:
    """Return whether a file can hold a match of `pattern`.

    Arguments: `vocabulary` tells by which words the code base knows what is asked for by meaning;
    `lead` is what leads to a match, that of the pattern if left out.
    """
    lead = lead or pattern.lead
    chain = lead.chain if lead is not None else None
    if chain is not None and not bytes_of.may_show(chain):
        return False
    if not all(map(bytes_of.holds_word, pattern.words)):
        return False
    if not all(map(bytes_of.holds, pattern.others)):
        return False
    if chain is not None and not bytes_of.of(chain):
        return False
    return all(vocabulary.may_be_in(bytes_of.data, name) for name in pattern.meant.values())


def may_be_among(pattern: Pattern, words: bytes, vocabulary: Vocabulary) -> bool:
    """Return whether a file that has just `words`, one a line, can hold a match of `pattern`."""
    words = pattern.language.folded(words)
    needs = filter(NAME.fullmatch, pattern.needs)
    return all(token in words for token in needs) and all(
        vocabulary.may_be_in(words, name) for name in pattern.meant.values()
    )


def seek(
    pattern: Pattern,
    tree: Tree,
    within: Node | Span | Sequence[Span] | None = None,
    initial: Captures | None = None,
    plan: SearchPlan | None = None,
    places: Sequence[tuple[int, int]] | None = None,
) -> Iterator[Match]:
    """Yield the matches of `pattern` in source order, an outer one before those inside it.

    Arguments: `within` limits the search to a node, to a span of bytes, or to spans in order and
    apart; `initial` is what holes took already, see `match_at`; `plan` is how to get to the nodes,
    that of the pattern alone if left out; `places` is where its lead stands, if that is known.
    """
    spans = _spans(within)
    matches = _seek(pattern, tree, spans, initial, plan or _own_plan(pattern), places)
    if pattern.without is None:
        return matches
    bare = pattern.without
    around = tree.language.optional_around
    initial = {**bare.given, **(initial or {})}
    others = (
        match
        for match in _seek(bare, tree, spans, initial, _own_plan(bare), None)
        if match.node.parent is None or match.node.parent.kind not in around
    )
    return iter(sorted([*matches, *others], key=lambda match: (match.span.start, -match.span.end)))


def _spans(within: Node | Span | Sequence[Span] | None) -> Sequence[Span] | None:
    if isinstance(within, Node):
        return (within.span,)
    return (within,) if isinstance(within, Span) else within


def _seek(
    pattern: Pattern,
    tree: Tree,
    spans: Sequence[Span] | None,
    initial: Captures | None,
    plan: SearchPlan,
    places: Sequence[tuple[int, int]] | None,
) -> Iterator[Match]:
    for node in _candidates(pattern, tree, spans, plan, places):
        match = match_at(pattern, node, initial)
        if match is not None and _is_within(match.span, spans):
            yield match


def stands_in(match: Match, pattern: Pattern, initial: Captures) -> bool:
    """Return whether a match lies, at any depth, in code that `pattern` matches.

    Arguments: `initial` is what holes of `pattern` took already, see `match_at`.
    """
    kinds, thin = pattern.kinds, match.tree.language.thin
    return any(
        fits_at(pattern, above, initial)
        for above in match.node.ancestors()
        if not kinds or above.kind in kinds or above.kind in thin
    )


def fits_at(pattern: Pattern, node: Node, initial: Captures) -> bool:
    """Return whether `pattern` matches at a node, or at what brackets and wrappers there hold."""
    return match_at(pattern, node, initial) is not None or (
        node.core is not node and match_at(pattern, node.core, initial) is not None
    )


_own_plan = cache(search_plan)


def _is_within(span: Span, spans: Sequence[Span] | None) -> bool:
    """Return whether any of `spans` holds `span`; with none given, all is held."""
    return spans is None or is_within(span.start, span.end, spans)


def _candidates(
    pattern: Pattern,
    tree: Tree,
    spans: Sequence[Span] | None,
    plan: SearchPlan,
    places: Sequence[tuple[int, int]] | None,
) -> list[Node]:
    """Return the nodes at which a match may start, in source order, outer before inner."""
    lead, kinds = plan.lead, pattern.kinds
    if lead is None:
        assert plan.query is not None
        return _queried(pattern, tree, spans, plan, plan.query)
    candidates: dict[int, Node] = {}
    if lead.chain is None:
        roots = _meant_roots(lead, tree, spans)
    else:
        roots = map(tree.wrap, _raw_roots(pattern, plan, lead, lead.chain, tree, spans, places))
    for root in roots:
        for node in _starts(pattern, root, lead.root):
            if not kinds or node.kind in kinds or node.core.kind in kinds:
                candidates[id(node)] = node
    return sorted(candidates.values(), key=_in_order)


def _queried(
    pattern: Pattern,
    tree: Tree,
    spans: Sequence[Span] | None,
    plan: SearchPlan,
    query: StructureQuery,
) -> list[Node]:
    data, language = tree.source.data, tree.language
    raws = tree.query(query)
    if spans is not None:
        raws = [raw for raw in raws if is_within(raw.start_byte, raw.end_byte, spans)]
    if pattern.roots[0].hole is None:
        # a wrapper of one node stands for that, which is a candidate by itself
        raws = [raw for raw in raws if raw.child_count != 1 or raw.type not in language.thin]
    if len(pattern.roots) == 1:
        part = plan.prefilters[0]
        if part.beyond_form or not query.form:
            raws = [raw for raw in raws if part.admits(raw, data)]
        nodes = set(map(tree.wrap, raws))
    else:
        firsts = {raw.id: raw for item in raws if (raw := _statement(item, language)) is not None}
        nodes = {
            tree.wrap(raw)
            for raw in firsts.values()
            if plan.has_runs or admits_run(plan.prefilters, raw, data)
        }
    return sorted(nodes, key=_in_order)


def _statement(raw: tree_sitter.Node, language: Language) -> tree_sitter.Node | None:
    """Return the statement that is nothing but `raw`; None where there is none."""
    while (above := raw.parent) is not None and above.type not in language.bodies:
        if above.type not in language.thin:
            return None
        raw = above
    return None if above is None else raw


def _in_order(node: Node) -> tuple[int, int]:
    return node.start, -node.end


def _meant_roots(lead: Anchor, tree: Tree, spans: Sequence[Span] | None) -> Iterator[Node]:
    """Yield the nodes that may match the root of the pattern in which a meaning stands."""
    for leaf in semantics.facts_of(tree).places(lead.meaning):
        root = _climb(leaf, lead.steps) if _is_within(leaf.span, spans) else None
        if root is not None:
            yield root


def _raw_roots(
    pattern: Pattern,
    plan: SearchPlan,
    lead: Anchor,
    chain: TokenSequence,
    tree: Tree,
    spans: Sequence[Span] | None,
    places: Sequence[tuple[int, int]] | None,
) -> Iterator[tree_sitter.Node]:
    """Yield the parser's nodes that may match the root of the pattern in which the lead stands.

    They are sought among those: one of ours costs as much as ten of them.
    """
    data, atoms = tree.token_index.data, tree.language.atoms
    single, kinds = len(pattern.roots) == 1, pattern.kinds
    for at, end in _anchor_places(chain, tree, spans) if places is None else places:
        raw = tree.raw_around(at, end)
        if raw is not None and lead.alone:
            above = raw.parent
            if above is not None and above.type in atoms:
                raw = above
            if raw.start_byte != at or raw.end_byte != end:
                continue
        raw = _climb_raw(raw, lead.steps, tree)
        if raw is None:
            continue
        if single and (
            (kinds and raw.type not in kinds)
            or not lead.stands(data, raw.start_byte, at, end, raw.end_byte)
        ):
            continue
        if plan.prefilters[lead.root].admits(raw, data):
            yield raw


def _anchor_places(
    chain: TokenSequence, tree: Tree, spans: Sequence[Span] | None
) -> Sequence[tuple[int, int]]:
    """Return where the bytes look like `chain`, in `spans`."""
    places = tree.token_index.of(chain)
    return places if spans is None else list(_inside(places, spans))


def _inside(
    places: Sequence[tuple[int, int]], limits: Sequence[tuple[int, int]]
) -> Iterator[tuple[int, int]]:
    """Yield those of `places` that lie in one of `limits`; both are in order."""
    for start, stop in limits:
        at = bisect_left(places, (start,))
        while at < len(places) and places[at][0] < stop:
            if places[at][1] <= stop:
                yield places[at]
            at += 1


def _climb_raw(raw: tree_sitter.Node | None, steps: int, tree: Tree) -> tree_sitter.Node | None:
    """Climb as `_climb` does, over the parser's own nodes, to one that is not thin itself."""
    thin = tree.language.thin
    while raw is not None:
        if raw.type not in thin or len(tree.wrap(raw).items) != 1:
            if not steps:
                return raw
            steps -= 1
        raw = raw.parent
    return None


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


def _starts(pattern: Pattern, root: Node, number: int) -> tuple[Node, ...]:
    """Return the nodes at which a match may start of which `root` is the root `number`."""
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
    before = pattern.roots[:number]
    if any(shape.hole is not None and shape.hole.many for shape in before):
        return items[: at + 1]
    first = at - len(before)
    return (items[first],) if first >= 0 else ()
