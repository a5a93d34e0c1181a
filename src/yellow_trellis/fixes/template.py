"""A template: the code to put, as units with the space the author wrote before each."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis.edits.whitespace import encloses
from yellow_trellis.fixes.template_parts import (
    optional_parts,
    refuse_unbound_parts,
    resolved,
    unwritten_parts,
)
from yellow_trellis.fixes.tokens import LAST_SEPARATOR, depth_of, stands_in_body, token_sign
from yellow_trellis.languages.precedence import ANYTHING, Demand
from yellow_trellis.patterns import Hole, Pattern, PatternError, PatternNode, compile_pattern
from yellow_trellis.patterns.compile import stand_in_of, with_parts
from yellow_trellis.patterns.pattern import PlacedPart
from yellow_trellis.syntax import Node


class Slot(NamedTuple):
    """One token or hole of a template."""

    sign: str
    text: str
    gap: str
    """The space the author wrote before it."""
    hole: Hole | None = None
    demand: Demand = ANYTHING
    """What its place asks of an expression that is to stand there without brackets."""
    plain: bool = False
    """Whether no brackets may stand around it: a parameter, the name of an attribute."""
    enclosed: bool = False
    """Whether the template has brackets around it, so that line breaks are free."""
    gap_enclosed: bool = False
    """Whether the space before it is in brackets."""
    body: bool = False
    """Whether it stands for statements."""
    depth: int | None = None
    """In how many bodies it stands; None where it does not start a line outside of brackets."""
    separator: bool = False
    calls: bool = False
    """Whether it is the opening bracket of a list whose brackets may be those of its only item."""
    closes: bool = False
    tuple_size: int = 0
    """Of the closing bracket of a tuple: how many items the template has in it."""
    starts: bool = False
    """Whether a token is the first of a statement of a body."""
    meaning: str = ""
    """The dotted name that it says, in whatever way the file does."""
    is_called: bool = False
    """Whether that is called, where only a member of a type can be."""
    own_line: str | None = None
    """The indentation of the line of its own that the code asks for, if it does."""
    start: int = 0
    """The byte of the template's code at which it stands."""
    gap_behind: str = ""
    """Of a part of a head: the space behind it, where it took something."""

    @property
    def is_open(self) -> bool:
        """Return whether whatever else stands in a head comes to stand here."""
        return self.hole is not None and self.hole.form == "open"


class Template(Struct, frozen=True, eq=False):
    """A compiled template. `shape` is the pattern that must match what it makes."""

    text: str
    shape: Pattern
    slots: tuple[Slot, ...]
    kinds: frozenset[str]
    """The kinds of its nodes, one for all spellings of a kind."""
    root: Node
    """The template's own node; for several statements the first."""
    indent_unit: str
    origin: str = ""
    """The text with the parts that are not always written, if it has any."""

    def written(self, find: Pattern, empty: frozenset[str]) -> Template:
        """Return the template as it is written where the holes `empty` took nothing."""
        if not self.origin:
            return self
        named = frozenset(part.hole.name for part in optional_parts(self.origin))
        sure = frozenset(find.holes) - empty
        return _compiled(resolved(self.origin, find, empty), find, named, sure)


@lru_cache(maxsize=4096)
def compile_template(text: str, find: Pattern) -> Template:
    """Compile the template `text` for matches of `find`.

    Parts of it that are not always written are taken as written; see `Template.written`.
    Errors: `PatternError` when it does not parse or uses a hole that `find` does not bind.
    """
    parts = optional_parts(text)
    if not parts:
        return _compiled(text, find)
    every = frozenset((*find.holes, *(part.hole.name for part in find.parts)))
    named = frozenset(part.hole.name for part in parts)
    _compiled(resolved(text, find, every), find, named)
    usual = _compiled(resolved(text, find, ()), find, named, every)
    return replace(usual, origin=text)


@lru_cache(maxsize=4096)
def _compiled(
    text: str,
    find: Pattern,
    named: frozenset[str] = frozenset(),
    sure: frozenset[str] = frozenset(),
) -> Template:
    """Compile a template without parts that are not always written.

    Arguments: `named` are the parts of `find` that the template says itself when to write; `sure`
    are holes that may take nothing and have taken something.
    """
    shape = compile_pattern(
        text, find.language, part=find.part, any_order=find.any_order, template=True
    )
    text = shape.text
    for stand_in in shape.stand_ins.values():
        _refuse_unbound(stand_in, find, text, sure)
    refuse_unbound_parts(shape, find)
    comments = Counter(comment.text for comment in find.comments)
    if find.parts:
        old, new = list(_slots(find, Counter())), list(_slots(shape, comments.copy()))
        shape = with_parts(shape, unwritten_parts(find, shape, old, new, named))
    slots = _with_last_separators(list(_slots(shape, comments)))
    unit = shape.tree.source.indent_unit.decode()
    same = find.language.same_kind
    kinds = frozenset(same(node.kind) for root in shape.nodes for node in root.walk())
    return Template(text, shape, slots, kinds, shape.nodes[0], unit)


def _refuse_unbound(
    shape: PatternNode, find: Pattern, text: str, sure: frozenset[str]
) -> None:
    hole = shape.hole
    assert hole is not None
    if not hole.remembered:
        raise PatternError(
            "a template cannot put `@{_}`: nothing is remembered under it",
            text,
            hole.at,
            "name the hole in `find` and here",
        )
    if hole.name not in find.holes:
        names = ", ".join(f"`{name}`" for name in find.holes) or "no names"
        raise PatternError(
            f"the template uses the hole `{hole.name}`, which the pattern does not have",
            text,
            hole.at,
            f"the pattern `{_first_line(find.text)}` remembers {names}",
        )
    if hole.many != find.holes[hole.name].many and hole.name not in sure:
        mark = {(0, 1): "?", (0, None): "*", (1, None): "+"}.get(
            (find.holes[hole.name].least, find.holes[hole.name].most), ""
        )
        raise PatternError(
            f"the hole `{hole.name}` takes another number of nodes in the pattern",
            text,
            hole.at,
            f"write `@{{{hole.name}{mark}}}` in both",
        )


def _first_line(text: str) -> str:
    return text if "\n" not in text else text.split("\n", 1)[0] + " ..."


def _slots(shape: Pattern, known: Counter[str]) -> Iterator[Slot]:
    """Yield the slots of a template.

    Arguments: `known` are the comments of its pattern: code that has them keeps its own.
    """
    source, language = shape.tree.source, shape.language
    first, last = shape.nodes[0], shape.nodes[-1]
    around = depth_of(first)
    begin, stop = _with_comments(shape)
    end = begin
    parts = [part for part in shape.parts if part.hole.form == "open"]  # none else in a template
    for node in _tokens(shape.tree.root, shape):
        if node.start < begin or node.end > stop:
            continue  # what the pattern stands in to be parsed
        while parts and parts[0].start <= node.start:
            yield _slot_of_part(parts.pop(0))
        gap = source.data[end : node.start].decode("utf-8")
        end = node.end
        if node.is_comment and known[node.text]:
            known[node.text] -= 1
            continue
        inside = _is_enclosed(node)
        body = stands_in_body(node)
        starts = ("\n" in gap or body) and not inside and "\\" not in gap
        depth = depth_of(node) - around if starts else None
        stand_in = shape.stand_ins.get(stand_in_of(node, shape.stand_ins) or "")
        hole = stand_in.hole if stand_in is not None else None
        if hole is None:
            meaning = shape.meant.get(node.text, "")
            yield Slot(
                f"@<{meaning}>" if meaning else token_sign(node, language),
                node.text,
                gap,
                meaning=meaning,
                is_called=(_kind_above(node), node.outermost.field) in language.called,
                gap_enclosed=inside,
                depth=depth,
                separator=node.kind in language.separators and node.kind != language.terminator,
                calls=node.kind == "(" and _kind_above(node) in language.sole_items.values(),
                closes=node.kind in (")", "]", "}"),
                tuple_size=_tuple_size(node),
                starts=_starts_statement(node),
                start=node.start,
            )
            continue
        place = node.outermost
        parent = place.parent
        yield Slot(
            "@" + hole.name,
            node.text,
            gap,
            hole,
            demand=language.precedence.demand(parent, place.field) if parent else ANYTHING,
            plain=_is_plain(place),
            enclosed=inside,
            gap_enclosed=inside,
            body=body,
            depth=depth,
            start=node.start,
        )
    yield from map(_slot_of_part, parts)


def _slot_of_part(part: PlacedPart) -> Slot:
    return Slot(
        "@" + part.hole.name,
        "",
        part.gap,
        part.hole,
        start=part.start,
        gap_behind=part.gap_behind,
    )



def _starts_statement(node: Node) -> bool:
    """Return whether a token is the first of a statement of a body."""
    start, bodies = node.start, node.tree.language.bodies
    while (above := node.parent) is not None and above.start == start and above.kind not in bodies:
        node = above
    return stands_in_body(node)


def _is_enclosed(node: Node) -> bool:
    """Return whether brackets in the statement around a node make line breaks free there."""
    for above in node.ancestors():
        if above.kind in above.tree.language.bodies:
            return False
        if encloses(above, node):
            return True
    return False


def _with_comments(shape: Pattern) -> tuple[int, int]:
    """Return where the code of a pattern starts and ends, with the comments before and behind."""
    begin, stop = shape.nodes[0].start, shape.nodes[-1].end
    text = shape.tree.source.data
    comments = [comment for comment in shape.comments if comment.text in shape.text]
    for comment in reversed(comments):
        if comment.end <= begin and not text[comment.end : begin].strip():
            begin = comment.start
    for comment in comments:
        if comment.start >= stop and not text[stop : comment.start].strip():
            stop = comment.end
    return begin, stop


def _with_last_separators(slots: list[Slot]) -> tuple[Slot, ...]:
    """Let the separator at the end of a list be aligned with its like only."""
    for at, slot in enumerate(slots[:-1]):
        if slot.separator and slots[at + 1].closes:
            slots[at] = slot._replace(sign=LAST_SEPARATOR)
    return tuple(slots)


def _tokens(node: Node, shape: Pattern) -> Iterator[Node]:
    if stand_in_of(node, shape.stand_ins) is not None:
        yield node
    elif not node.children or node.is_comment:
        if node.end > node.start:
            yield node
    elif shape.language.is_literal(node.kind) and not any(
        below.text in shape.stand_ins for below in node.walk()
    ):
        yield node
    else:
        for child in node.children:
            yield from _tokens(child, shape)


def _tuple_size(node: Node) -> int:
    """Return how many items a tuple has of which `node` is the closing bracket; else 0."""
    language = node.tree.language
    if node.kind != ")" or language.same_kind(_kind_above(node)) != language.many_in_brackets:
        return 0
    assert node.parent is not None
    return sum(item.kind not in language.separators for item in node.parent.items)


def _kind_above(node: Node) -> str:
    return node.parent.kind if node.parent is not None else ""


def _is_plain(place: Node) -> bool:
    parent, bare = place.parent, place.tree.language.no_brackets
    return parent is not None and not bare.isdisjoint(
        {(parent.kind, place.field), (parent.kind, None)}
    )


def slots_for(template: Template, empty: frozenset[str]) -> tuple[Slot, ...]:
    """Return the slots that are left when the holes named in `empty` took nothing.

    A separator goes with the hole; where a body would be empty, the language's filler stands.
    """
    remaining = _without_parts(template.slots, empty)
    filler = template.shape.language.empty_body
    for at in range(len(remaining) - 1, -1, -1):
        slot = remaining[at]
        if slot.hole is None or slot.hole.name not in empty:
            continue
        if slot.body and filler:
            if not _has_neighbour(remaining, at, empty):
                remaining[at] = slot._replace(hole=None, sign=filler, text=filler)
                continue
            if not at:
                remaining[1] = remaining[1]._replace(gap=slot.gap)
            del remaining[at]
            continue
        del remaining[at]
        if at < len(remaining) and remaining[at].separator:
            del remaining[at]
            if at < len(remaining):
                remaining[at] = remaining[at]._replace(gap=slot.gap)
        elif at and remaining[at - 1].separator:
            del remaining[at - 1]
    return tuple(_with_commas_of_one(remaining, empty))


def _without_parts(slots: tuple[Slot, ...], empty: frozenset[str]) -> list[Slot]:
    """Leave out the parts of heads that took nothing."""
    results: list[Slot] = []
    behind = ""
    for slot in slots:
        if slot.hole is not None and slot.hole.form and slot.hole.name in empty:
            continue
        if behind and not slot.gap:
            slot = slot._replace(gap=behind)
        behind = slot.gap_behind
        results.append(slot if results else slot._replace(gap=""))
    return results


def _has_neighbour(slots: list[Slot], at: int, empty: frozenset[str]) -> bool:
    """Return whether other statements stand in the body of the slot `at`, be they before or after.

    Arguments: `empty` are the holes that took nothing.
    """
    depth = slots[at].depth or 0
    for row in (reversed(slots[:at]), slots[at + 1 :]):
        for slot in row:
            if not slot.starts and slot.depth is None:
                continue
            if (slot.depth or 0) < depth:
                break
            is_gone = slot.hole is not None and slot.hole.name in empty
            if (slot.depth or 0) == depth and not is_gone:
                return True
    return False


def _with_commas_of_one(slots: list[Slot], empty: frozenset[str]) -> Iterator[Slot]:
    """Yield the slots; a tuple that is left with one item gets the comma that makes it one."""
    for at, slot in enumerate(slots):
        if slot.tuple_size and empty:
            inner = slots[_opening(slots, at) + 1 : at]
            if inner and not any(item.separator for item in inner):
                yield Slot(LAST_SEPARATOR, ",", "", separator=True)
        yield slot


def _opening(slots: list[Slot], closing: int) -> int:
    """Return the position of the bracket that a closing one belongs to."""
    depth = 0
    for at in range(closing, -1, -1):
        depth += slots[at].closes - (slots[at].text in ("(", "[", "{") and not slots[at].hole)
        if not depth:
            return at
    return -1
