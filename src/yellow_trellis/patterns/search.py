"""Finding matches without visiting the tree: from a token's bytes straight to its node."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from typing import TYPE_CHECKING

from yellow_trellis import facts
from yellow_trellis.facts.vocabulary import SPELLED, Vocabulary
from yellow_trellis.patterns.approach import Approach, approach_of
from yellow_trellis.patterns.match import Match, Takes, match_at
from yellow_trellis.patterns.pattern import Clue, Pattern
from yellow_trellis.patterns.plain import Laid, plain
from yellow_trellis.source import NAME, Chain, Sightings, Span, held
from yellow_trellis.syntax import Node, Tree

if TYPE_CHECKING:
    import tree_sitter


def may_hold(
    pattern: Pattern,
    bytes_of: Sightings,
    vocabulary: Vocabulary = SPELLED,
    lead: Clue | None = None,
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
    needs = filter(NAME.fullmatch, pattern.needs)
    return all(token in words for token in needs) and all(
        vocabulary.may_be_in(words, name) for name in pattern.meant.values()
    )


def seek(
    pattern: Pattern,
    tree: Tree,
    within: Node | Span | Sequence[Span] | None = None,
    given: Takes | None = None,
    approach: Approach | None = None,
    places: Sequence[tuple[int, int]] | None = None,
) -> Iterator[Match]:
    """Yield the matches of `pattern` in source order, an outer one before those inside it.

    Arguments: `within` limits the search to a node, to a span of bytes, or to spans in order and
    apart; `given` is what holes took already, see `match_at`; `approach` is how to come to the
    nodes, that of the pattern alone if left out; `places` is where its lead is seen with all that
    stands around it, in what is parsed, if that is known.
    """
    spans = _spans(within)
    found = _seek(pattern, tree, spans, given, approach, places)
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


def _spans(within: Node | Span | Sequence[Span] | None) -> Sequence[Span] | None:
    if isinstance(within, Node):
        return (within.span,)
    return (within,) if isinstance(within, Span) else within


def _seek(
    pattern: Pattern,
    tree: Tree,
    spans: Sequence[Span] | None,
    given: Takes | None,
    approach: Approach | None = None,
    places: Sequence[tuple[int, int]] | None = None,
) -> Iterator[Match]:
    approach = approach or _own_approach(pattern)
    lead = approach.lead
    chain = lead.chain if lead is not None else None
    form = plain(pattern) if not (given or tree.errors or tree.is_watched) else None
    found: Iterable[Match]
    if form is not None and lead is not None and chain is not None:
        raws = _raw_roots(pattern, lead, chain, tree, spans, places)
        found = _laid(pattern, Laid(form, tree), raws)
    else:
        nodes = _candidates(pattern, tree, spans, approach, places)
        found = (one for node in nodes if (one := match_at(pattern, node, given)) is not None)
    if spans is None:
        yield from found
        return
    yield from (one for one in found if _held(one.span, spans))


def _laid(pattern: Pattern, laid: Laid, raws: Iterable[tree_sitter.Node]) -> list[Match]:
    """Return the matches at some of the parser's nodes, in source order."""
    found = []
    for raw in {raw.id: raw for raw in raws}.values():
        takes = laid.takes(raw)
        if takes is not None:
            found.append(Match(pattern, (laid.tree.wrap(raw),), takes))
    found.sort(key=lambda match: (match.node.start, -match.node.end))
    return found


def stands_in(match: Match, other: Pattern, given: Takes) -> bool:
    """Return whether a match lies, at any depth, in code that `other` matches.

    Arguments: `given` is what holes of `other` took already, see `match_at`.
    """
    kinds, tree = other.kinds, match.tree
    thin, raw = tree.language.thin, match.node.raw
    form = plain(other) if not (given or tree.errors or tree.is_watched) else None
    if form is None or raw is None:
        return any(
            fits_at(other, above, given)
            for above in match.node.ancestors()
            if not kinds or above.kind in kinds or above.kind in thin
        )
    laid = Laid(form, tree, only_fits=True)
    while (raw := raw.parent) is not None:
        if (not kinds or raw.type in kinds or raw.type in thin) and laid.takes(raw) is not None:
            return True
    return False


def fits_at(pattern: Pattern, node: Node, given: Takes) -> bool:
    """Return whether `pattern` matches at a node, or at what brackets and wrappers there hold."""
    return match_at(pattern, node, given) is not None or (
        node.core is not node and match_at(pattern, node.core, given) is not None
    )


_own_approach = cache(approach_of)


def _held(one: Span, spans: Sequence[Span] | None) -> bool:
    """Return whether any of `spans` holds `one`; with none given, all is held."""
    return spans is None or held(one.start, one.end, spans)


def _candidates(
    pattern: Pattern,
    tree: Tree,
    spans: Sequence[Span] | None,
    approach: Approach,
    places: Sequence[tuple[int, int]] | None,
) -> list[Node]:
    """Return the nodes at which a match may start, in source order, outer before inner."""
    lead, kinds = approach.lead, pattern.kinds
    if lead is None:
        data = tree.source.data
        nodes = tree.of_kinds(
            kinds or tree.language.kinds,
            lambda raw: all(one.passes(raw, data) for one in approach.guards),
        )
        return [node for node in nodes if _held(node.span, spans)]
    found: dict[int, Node] = {}
    if lead.chain is None:
        roots = _meant_roots(lead, tree, spans)
    else:
        roots = map(tree.wrap, _raw_roots(pattern, lead, lead.chain, tree, spans, places))
    for root in roots:
        for node in _starts(pattern, root, lead):
            if not kinds or node.kind in kinds or node.core.kind in kinds:
                found[id(node)] = node
    return sorted(found.values(), key=lambda node: (node.start, -node.end))


def _meant_roots(lead: Clue, tree: Tree, spans: Sequence[Span] | None) -> Iterator[Node]:
    """Yield the nodes that may match the root of the pattern in which a meaning stands."""
    for leaf in facts.facts_of(tree).places(lead.meaning):
        root = _climb(leaf, lead.steps) if _held(leaf.span, spans) else None
        if root is not None:
            yield root


def _raw_roots(
    pattern: Pattern,
    lead: Clue,
    chain: Chain,
    tree: Tree,
    spans: Sequence[Span] | None,
    places: Sequence[tuple[int, int]] | None,
) -> Iterator[tree_sitter.Node]:
    """Yield the parser's nodes that may match the root of the pattern in which the lead stands.

    They are sought among those: one of ours costs as much as ten of them.
    """
    data, atoms = tree.source.data, tree.language.atoms
    single, kinds = len(pattern.roots) == 1, pattern.kinds
    for at, end in _seen(chain, tree, spans) if places is None else places:
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
        yield raw


def _seen(chain: Chain, tree: Tree, spans: Sequence[Span] | None) -> Sequence[tuple[int, int]]:
    """Return where the bytes look like `chain`, in what is parsed and in `spans`."""
    places = tree.sightings.of(chain)
    only = tree.only
    if spans is not None:
        some = _inside(places, spans)
        return [one for one in some if only is None or only.holds(*one)]
    tree.look_beyond()
    return places if only is None else list(_inside(places, only.spans))


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


def visit(tree: Tree, kinds: frozenset[str]) -> list[Node]:
    """Return all nodes of `kinds`, in source order, outer before inner.

    Where each kind has a word that gives it away, only the places of that word are looked at. The
    answer is kept: rules that ask for the same kinds share it.
    """
    if (known := tree.visited.get(kinds)) is None:
        known = tree.visited[kinds] = _visit(tree, kinds)
    return known


def _visit(tree: Tree, kinds: frozenset[str]) -> list[Node]:
    telltales = tree.language.telltales_of(kinds)
    if telltales is None or tree.errors:
        return tree.of_kinds(kinds)
    found: dict[int, Node] = {}
    for telltale in telltales:
        for at, _ in _seen(telltale.chain, tree, None):
            word = tree.raw_around(at, at + len(telltale.word))
            above = word.parent if word is not None and word.start_byte == at else None
            if above is None:
                continue
            part = above.child_by_field_name(telltale.field) if telltale.field else None
            for raw in part.children if part is not None else [above]:
                if raw.type in kinds:
                    found[raw.id] = tree.wrap(raw)
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


def _starts(pattern: Pattern, root: Node, lead: Clue) -> tuple[Node, ...]:
    """Return the nodes at which a match may start whose root number `lead.root` is `root`."""
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
    before = pattern.roots[: lead.root]
    if any(shape.hole is not None and shape.hole.many for shape in before):
        return items[: at + 1]
    first = at - len(before)
    return (items[first],) if first >= 0 else ()
