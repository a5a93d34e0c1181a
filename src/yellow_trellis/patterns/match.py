"""Laying a pattern over code: whether it fits, and what each hole took."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import Union

from msgspec import Struct

from yellow_trellis import semantics
from yellow_trellis.languages import Language
from yellow_trellis.patterns.pattern import Pattern, PatternNode
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree, same_code
from yellow_trellis.syntax.equivalence import code_key, same_run

Capture = Union[Node, tuple[Node, ...]]
"""What a hole took: a node, or a run of neighbours for a hole that takes several."""

Captures = dict[str, Capture]


class Match(Struct, frozen=True, eq=False):
    """A place where a pattern fits.

    `nodes` are the nodes that the pattern's roots took, one or several statements in a row;
    ``match["x"]`` is what the hole ``x`` took.
    """

    pattern: Pattern
    nodes: tuple[Node, ...]
    takes: Captures
    """What every hole took, by the key of its shape; see `PatternNode.key`."""

    def __repr__(self) -> str:
        text = " ".join(self.text.split())
        return f"<Match {self.node.place} {text[:60]!r}>"

    @property
    def tree(self) -> Tree:
        """The tree matched in."""
        return self.nodes[0].tree

    @property
    def node(self) -> Node:
        """The node matched, or the first of several."""
        return self.nodes[0]

    @property
    def span(self) -> Span:
        """The bytes matched, without a line break that ends the last node."""
        start, end = self.nodes[0].start, self.nodes[-1].end
        data = self.tree.source.data
        while end > start and data[end - 1] in b"\r\n\t ":
            end -= 1
        return Span(start, end)

    @property
    def text(self) -> str:
        """The code matched."""
        return self.tree.source.text(self.span)

    def __getitem__(self, name: str) -> Capture:
        """Return what the hole `name` took: a node, or a tuple of nodes for a hole of several."""
        if name not in self.pattern.holes:
            names = ", ".join(self.pattern.holes) or "none"
            raise KeyError(f"the pattern has no hole {name!r}; its holes: {names}")
        return self.takes[name]

    def node_of(self, name: str) -> Node:
        """Return the one node that the hole `name` took."""
        capture = self[name]
        if isinstance(capture, Node):
            return capture
        raise TypeError(f"the hole {name!r} took a run of nodes, not one")

    def run_of(self, name: str) -> tuple[Node, ...]:
        """Return what the hole `name` took as a run, one node being a run of one."""
        capture = self[name]
        return (capture,) if isinstance(capture, Node) else capture

    def taken(self, name: str) -> tuple[Node, ...]:
        """Return what a hole, or a part of a head that goes by its number, took as a run."""
        capture = self.takes[name]
        return (capture,) if isinstance(capture, Node) else capture


_LONGEST = 1000
"""Bytes that are told of what a hole took: code in code would be told once a level."""


def holes_of(match: Match) -> list[tuple[str, str]]:
    """Return what each hole of the match's pattern took, as written, if that is not very long."""
    results = []
    source = match.tree.source
    for name in match.pattern.holes:
        run = match.run_of(name)
        start, end = (run[0].start, run[-1].end) if run else (0, 0)
        cut = min(end, start + _LONGEST)
        while cut < end and source.data[cut] & 0xC0 == 0x80:  # in the middle of a character
            cut -= 1
        results.append((name, source.text(Span(start, cut)) + ("…" if cut < end else "")))
    return results


def match_at(
    pattern: Pattern, node: Node, initial: Captures | None = None, until: int | None = None
) -> Match | None:
    """Lay `pattern` over `node` (the first node of several); None when it does not fit.

    Arguments: `initial` is what holes took already: a hole of that name must take equal code;
    `until` is the byte at which the last of several statements has to end.
    """
    initial = initial or {}
    hole = pattern.roots[0].hole
    if len(pattern.roots) == 1 and not (hole is not None and hole.many):
        if node.kind in node.tree.language.chained and _is_link(node):
            return None
        if pattern.ended and node.outermost.kind not in node.tree.language.statements:
            return None
        takes = _first(pattern.roots[0], node, pattern.choice, initial)
        return None if takes is None else Match(pattern, (node,), takes)
    return _match_run(pattern, node, initial, until)


def _is_link(node: Node) -> bool:
    """Return whether a node is but a part of one of its own kind: `b = 1` of `a = b = 1`."""
    return node.parent is not None and node.parent.kind == node.kind


def _first(shape: PatternNode, node: Node, choice: bool, initial: Captures) -> Captures | None:
    if choice:
        return next(_ways(shape, node, initial), None)
    takes = dict(initial)
    return takes if fits(shape, node, takes) else None


def _match_run(
    pattern: Pattern, node: Node, initial: Captures, until: int | None = None
) -> Match | None:
    parent = node.parent
    if parent is None or parent.kind not in node.tree.language.bodies:
        return None
    items = parent.items
    start = next((i for i, item in enumerate(items) if item is node), None)
    if start is None:
        return None
    roots = pattern.roots
    several = any(root.hole is not None and root.hole.many for root in roots)
    ends = range(start + 1, len(items) + 1) if several else (start + len(roots),)
    for end in ends:
        run = items[start:end]
        if end > len(items):
            return None
        if until is not None and run[-1].end != until:
            continue
        ways_item = next(_ways_items(roots, run, initial), None)
        if ways_item is not None:
            return Match(pattern, run, ways_item)
    return None


def fits(shape: PatternNode, node: Node, takes: Captures) -> bool:
    """Match where there is but one way; `takes` is filled, and of no use after a False.

    A shape with choices matches in the first way.
    """
    language = node.tree.language
    if shape.needs_brackets and node.kind not in language.brackets:
        return False
    if shape.hole is not None:
        if shape.ended and node.kind in language.statements:
            if node.kind not in language.wrappers:
                return False
            node = node.core
        return take(shape, node.bare if shape.bracketed else node, takes)
    if node.kind in language.brackets or node.kind in language.wrappers:
        node = node.core
    if shape.meaning:
        if node.kind not in language.references or not semantics.facts_of(node.tree).means(
            node, shape.meaning
        ):
            return False
        takes[shape.key] = node
        return True
    is_same_kind = language.same_kinds.get(node.kind, node.kind) == shape.kind
    if shape.text is not None:
        return is_same_kind and fits_leaf(shape, node, language)
    if is_same_kind or (shape.more_kinds and node.kind in shape.more_kinds):
        items, shapes, many = node.items, shape.items, shape.many
    elif _is_list_of_one(node, shape.kind):
        # the brackets of the list are those of its only item
        items, shapes, many = (node,), shape.items[1:-1], tuple(at - 1 for at in shape.many)
    else:
        return False
    if shape.named:
        items = _in_order(shape.named, items, language)
    if not many:
        if len(items) != len(shapes):
            shapes = _without_absent(shape, items, takes)
            if len(items) != len(shapes):
                return False
        return all(_fits_item(*pair, node, takes) for pair in zip(shapes, items, strict=True))
    at = many[0]
    tail = len(shapes) - at - 1
    if len(items) < len(shapes) - 1:
        return False
    stop = len(items) - tail
    ahead, behind = zip(shapes[:at], items[:at]), zip(shapes[at + 1 :], items[stop:])
    return (
        all(_fits_item(*pair, node, takes) for pair in ahead)
        and take_run(shapes[at], items[at:stop], takes)
        and all(_fits_item(*pair, node, takes) for pair in behind)
    )


def _is_list_of_one(node: Node, kind: str) -> bool:
    """Return whether a node is all of a list of a kind: `f(a for a in b)`, `a => b`."""
    language = node.tree.language
    if language.sole_items.get(node.kind) == kind:
        return True
    listed = language.unbracketed.get(node.field or "") if language.unbracketed else None
    return listed is not None and listed[0] == kind


def _fits_item(shape: PatternNode, item: Node, above: Node, takes: Captures) -> bool:
    """Return whether a shape fits an item of the node `above`, in its field."""
    return _is_in_field(shape, item, above) and fits(shape, item, takes)


def _is_in_field(shape: PatternNode, item: Node, above: Node | None) -> bool:
    """Return whether an item of the node `above` is in the field that a shape asks for."""
    if item is above:  # the only item of a list whose brackets it has
        return shape.field is None
    field = item.field
    if shape.field == field or (above is not None and above.kind in item.tree.language.spliced):
        return True
    listed = item.tree.language.unbracketed.get(field or "")
    return listed is not None and listed[1] == shape.field


def _in_order(
    names: tuple[bytes, ...], items: tuple[Node, ...], language: Language
) -> tuple[Node, ...]:
    """Return the items of a list with the named ones in the order of `names`."""
    there = {item.items[0].data: item for item in items if item.kind in language.named_items}
    target = iter([there[name] for name in names if name in there])
    return tuple(
        next(target, item)
        if item.kind in language.named_items and item.items[0].data in names
        else item
        for item in items
    )


def _without_absent(
    shape: PatternNode, items: tuple[Node, ...], takes: Captures
) -> tuple[PatternNode, ...]:
    """Leave out the nodes that are not there where they are empty, such as a list or a body."""
    remaining: list[PatternNode] = []
    for inner in shape.items:
        at = len(remaining)
        if inner.may_be_absent and (at >= len(items) or items[at].core.kind != inner.kind):
            takes.update((item.key, ()) for item in inner.items)
        else:
            remaining.append(inner)
    return tuple(remaining)


def fits_leaf(shape: PatternNode, node: Node, language: Language) -> bool:
    """Return whether a leaf, or a literal, is spelled as a shape, or means the same."""
    assert shape.text is not None
    if node.data == shape.text or (language.ignores_case and node.folded == shape.text):
        return True
    if shape.kind in language.delimiters:
        return language.same_delimiter(shape.text.decode("utf-8"), node.text)
    return shape.literal and language.same_literal(shape.text.decode("utf-8"), node.text)


def take(shape: PatternNode, node: Node, takes: Captures) -> bool:
    """Let a hole of one take `node`, if its conditions allow."""
    if shape.kinds is not None:
        if not (
            node.kind in shape.kinds
            or node.bare.kind in shape.kinds
            or node.core.kind in shape.kinds
        ):
            return False
    elif node.core.kind in node.tree.language.only_in_runs or not node.named:
        return False
    if node.kind in node.tree.language.chained and _is_link(node):
        return False
    if shape.regex is not None and shape.regex.fullmatch(node.text) is None:
        return False
    return _remember(shape, node, takes)


def take_run(shape: PatternNode, run: tuple[Node, ...], takes: Captures) -> bool:
    """Let a hole of several take the neighbours `run`, if its conditions allow."""
    hole = shape.hole
    assert hole is not None
    if len(run) < hole.least or (hole.most is not None and len(run) > hole.most):
        return False
    plain = shape.field is None and shape.kinds is None and shape.regex is None
    for node in () if plain else run:
        if shape.field is not None and node.field != shape.field:
            return False
        if shape.kinds is not None and not (
            node.kind in shape.kinds or node.core.kind in shape.kinds
        ):
            return False
        if shape.regex is not None and shape.regex.fullmatch(node.text) is None:
            return False
    return _remember(shape, run, takes)


def _with_separators(run: tuple[Node, ...]) -> tuple[Node, ...]:
    """Return what a part of a head took, with the separator between it and an item that is said."""
    parent = run[0].parent if run else None
    if parent is None or parent is not run[-1].parent:
        return run
    children, language = parent.children, parent.tree.language
    marks = language.separators - {language.terminator}
    first = next(at for at, child in enumerate(children) if child is run[0])
    if first and children[first - 1].kind in marks:
        return (children[first - 1], *run)
    last = next(at for at, child in enumerate(children) if child is run[-1])
    if last + 1 < len(children) and children[last + 1].kind in marks:
        return (*run, children[last + 1])
    return run


def _remember(shape: PatternNode, capture: Capture, takes: Captures) -> bool:
    hole = shape.hole
    assert hole is not None
    if hole.form == "open":
        assert not isinstance(capture, Node)
        before = takes.get(shape.key, ()) if shape.continues else ()
        assert not isinstance(before, Node)
        takes[shape.key] = (*before, *_with_separators(capture))
        return True
    if shape.may_lack and isinstance(capture, Node):
        capture = (capture,)
    if hole.remembered and (first := takes.get(hole.name)) is not None:
        if isinstance(first, Node):
            if not isinstance(capture, Node) or not same_code(first, capture):
                return False
        elif isinstance(capture, Node) or not same_run(first, capture):
            return False
    takes[shape.key] = capture
    return True


def _ways(shape: PatternNode, node: Node, takes: Captures) -> Iterator[Captures]:
    """Yield every way to lay `shape` over `node`, earlier holes taking as little as they can."""
    if not shape.choice:
        mine = dict(takes)
        if fits(shape, node, mine):
            yield mine
        return
    language = node.tree.language
    if shape.needs_brackets and node.kind not in language.brackets:
        return
    node = node.core
    if language.same_kind(node.kind) == shape.kind or node.kind in shape.more_kinds:
        items = _in_order(shape.named, node.items, language) if shape.named else node.items
        is_grouped = shape.is_open and any(item.kind in language.groups for item in items)
        for row in (items, _ungrouped(items)) if is_grouped else (items,):
            for shapes, lacking in shape.variants:
                absent = takes | dict.fromkeys(lacking, ()) if lacking else takes
                yield from _ways_items(shapes, row, absent, node)
    elif _is_list_of_one(node, shape.kind):
        yield from _ways_items(shape.items[1:-1], (node,), takes, node)


def _ungrouped(items: tuple[Node, ...]) -> tuple[Node, ...]:
    """Return items with those of a group, of modifiers for instance, in the place of the group."""
    groups = items[0].tree.language.groups
    return tuple(
        inner for item in items for inner in (item.items if item.kind in groups else (item,))
    )


def _ways_items(
    shapes: tuple[PatternNode, ...],
    items: tuple[Node, ...],
    takes: Captures,
    above: Node | None = None,
) -> Iterator[Captures]:
    """Yield every way to lay a list of shapes over a list of nodes.

    Arguments: `above` is the node whose items they are; the only item of a list whose brackets it
    has is its own; None for statements in a row.
    A state is a position in both lists and what the holes that are asked for again took; one
    that led nowhere is not tried twice, which keeps the time polynomial.
    """
    again = _asked_again(shapes)
    barren: set[tuple[object, ...]] = set()
    prospect = _Prospect(shapes, items)

    def go(i: int, j: int, takes: Captures) -> Iterator[Captures]:
        if i == len(shapes):
            if j == len(items):
                yield takes
            return
        state = (i, j, *(id(takes.get(name)) for name in again[i]))
        if state in barren:
            return
        hit = False
        for way in step(i, j, takes):
            hit = True
            yield way
        if not hit:
            barren.add(state)

    def step(i: int, j: int, takes: Captures) -> Iterator[Captures]:
        shape = shapes[i]
        hole = shape.hole
        if hole is not None and hole.many:
            limit = len(items) if hole.most is None else j + hole.most
            for end in range(j + hole.least, min(limit, len(items)) + 1):
                if not prospect.can_go_on(i + 1, end, takes):
                    continue
                if shape.is_optional:
                    for mine in _ways_items(shape.items, items[j:end], takes, above):
                        own: Captures = {shape.key: items[j:end]} if shape.key else {}
                        yield from go(i + 1, end, mine | own)
                    continue
                mine = dict(takes)
                if take_run(shape, items[j:end], mine):
                    yield from go(i + 1, end, mine)
        elif j < len(items) and _is_in_field(shape, items[j], above):
            for mine in _ways(shape, items[j], takes):
                yield from go(i + 1, j + 1, mine)

    return go(0, 0, takes)


class _Prospect:
    """Tells at once that a list cannot go on at an item, so that few ways are tried.

    A name that stands again in the list needs the same code again further on: a table of where
    each piece of code stands last answers that without comparing every pair.
    """

    def __init__(self, shapes: tuple[PatternNode, ...], items: tuple[Node, ...]) -> None:
        self.shapes = shapes
        self.items = items
        names = [s.hole.name if s.hole is not None and not s.hole.many else "_" for s in shapes]
        self.again = [name != "_" and name in names[i + 1 :] for i, name in enumerate(names)]

    @cached_property
    def keys(self) -> list[object]:
        """The comparison key of each item."""
        return [code_key(item) for item in self.items]

    @cached_property
    def last(self) -> dict[object, int]:
        """The last position of each piece of code."""
        return {key: at for at, key in enumerate(self.keys)}

    def can_go_on(self, i: int, j: int, takes: Captures) -> bool:
        """Return whether shape `i` may fit item `j`; a False is certain."""
        if i == len(self.shapes):
            return j == len(self.items)
        shape = self.shapes[i]
        hole = shape.hole
        if hole is not None and hole.many:
            return True
        if j >= len(self.items):
            return False
        if hole is None:
            return shape.text is None or shape.literal or self.items[j].core.folded == shape.text
        if self.again[i] and hole.name not in takes:
            return self.last[self.keys[j]] > j
        return True


def _asked_again(shapes: tuple[PatternNode, ...]) -> list[tuple[str, ...]]:
    """For each position: names of holes taken before it that stand again at or after it."""
    names = [frozenset(_names(shape)) for shape in shapes]
    after: list[frozenset[str]] = [frozenset()] * (len(shapes) + 1)
    for i in range(len(shapes) - 1, -1, -1):
        after[i] = after[i + 1] | names[i]
    result, before = [], frozenset[str]()
    for i in range(len(shapes)):
        result.append(tuple(sorted(before & after[i])))
        before |= names[i]
    return result


def _names(shape: PatternNode) -> Iterator[str]:
    if shape.hole is not None and shape.hole.remembered:
        yield shape.hole.name
    for item in shape.items:
        yield from _names(item)
