"""A pattern as the matcher needs it: shapes instead of nodes, and what any match must contain."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from functools import cached_property
from itertools import combinations
from typing import TYPE_CHECKING, Any, NamedTuple

from msgspec import Struct, field

from yellow_trellis.languages import Language
from yellow_trellis.patterns.notation import Hole
from yellow_trellis.source import TokenSequence
from yellow_trellis.syntax import Node, Tree

if TYPE_CHECKING:
    from yellow_trellis.patterns.match import Match


class PlacedPart(Struct, frozen=True):
    """A part of a head in the bytes of the code of a pattern; ends are equal where it is open."""

    hole: Hole
    start: int
    end: int
    gap: str = ""
    gap_behind: str = ""
    holes: frozenset[str] = frozenset()
    """The names of the holes in it."""


class PatternNode(Struct, frozen=True, eq=False, dict=True):
    """A node of a pattern: the requirements on one node of the code."""

    kind: str
    """The kind, one for all its spellings."""
    field: str | None = None
    """The field of the parent in which the node stands."""
    text: bytes | None = None
    """The code of a leaf; None where `items` say it."""
    literal: bool = False
    """Whether other spellings of the same value fit."""
    items: tuple[PatternNode, ...] = ()
    hole: Hole | None = None
    key: str = ""
    """The hole's name, made different for each use: ``x``, ``x#1``, ``_#0``."""
    kinds: frozenset[str] | None = None
    """The kinds a hole takes, if it asks for some."""
    regex: re.Pattern[str] | None = None
    meaning: str = ""
    """The dotted name of what the node must refer to, if that is asked for."""
    named: tuple[bytes, ...] = ()
    """The names of items of a list, in order, where the code may have them in another."""
    bracketed: bool = False
    """Whether a hole stands in brackets, which it does not take."""
    needs_brackets: bool = False
    """Whether the code must stand in brackets: the pattern has some where none are ever needed."""
    ended: bool = False
    """Whether a hole is an expression that a token ends as a statement, which it does not take."""
    continues: bool = False
    """Whether an open part goes on with what it has taken of the node before."""
    may_lack: bool = False
    """Whether a hole stands in a part that code may lack, so that it takes none or one."""
    more_kinds: tuple[str, ...] = ()
    """Kinds that are the same head with words in it that an open part takes."""

    @property
    def notation(self) -> str:
        """The hole in the notation of patterns."""
        hole = self.hole
        assert hole is not None
        if hole.form == "optional":
            return "@{? ...}" if hole.numbered else f"@{{{hole.name}?= ...}}"
        if hole.form == "open":
            return "@{~}" if hole.numbered else f"@{{{hole.name}~}}"
        mark = {(1, 1): "", (0, 1): "?", (0, None): "*", (1, None): "+"}[hole.least, hole.most]
        kind = f": {hole.kind}" if hole.kind else ""
        regex = f" like {hole.regex}" if hole.regex else ""
        return f"@{{{hole.name}{mark}{kind}{regex}}}"

    @cached_property
    def many(self) -> tuple[int, ...]:
        """The positions in `items` of holes that take other than one node."""
        return tuple(i for i, s in enumerate(self.items) if s.hole is not None and s.hole.many)

    @cached_property
    def asks_brackets(self) -> bool:
        """Return whether the code of this node, or of one in it, must stand in brackets."""
        return self.needs_brackets or any(item.asks_brackets for item in self.items)

    @cached_property
    def choice(self) -> bool:
        """Return whether there may be several ways to match one node."""
        absent = sum(item.may_be_absent for item in self.items) if self.many else 0
        if len(self.many) + absent > 1 or self.is_optional or self.is_open:
            return True
        return any(item.choice for item in self.items)

    @cached_property
    def is_open(self) -> bool:
        """Return whether whatever else may stand among its items."""
        return any(item.hole is not None and item.hole.form == "open" for item in self.items)

    @property
    def is_optional(self) -> bool:
        """Return whether it is code that may be missing, its `items`."""
        return self.hole is not None and self.hole.form == "optional"

    @cached_property
    def may_be_absent(self) -> bool:
        """Return whether code has no such node where its holes take nothing: an empty body."""
        holes = [item.hole for item in self.items]
        return bool(holes) and all(hole is not None and not hole.least for hole in holes)

    @cached_property
    def variants(self) -> tuple[tuple[tuple[PatternNode, ...], tuple[str, ...]], ...]:
        """The items with and without what may be missing, and the keys of holes left out.

        Those with the most parts come first.
        """
        optional = [
            at for at, item in enumerate(self.items) if item.is_optional or item.may_be_absent
        ]
        results = []
        for count in range(len(optional), -1, -1):
            for kept in combinations(optional, count):
                gone = set(optional).difference(kept)
                items = tuple(item for at, item in enumerate(self.items) if at not in gone)
                results.append((items, tuple(k for at in gone for k in self.items[at].keys())))
        return tuple(results)

    def keys(self) -> Iterator[str]:
        """Yield the keys of all holes in a node of a pattern."""
        if self.key:
            yield self.key
        for item in self.items:
            yield from item.keys()


class Anchor(Struct, frozen=True):
    """Something that every match contains, and the way from it to the match."""

    chain: TokenSequence | None
    """Tokens to look for in the bytes; none where a meaning is looked for."""
    steps: int
    """How many nodes to climb from the smallest one around it, brackets and wrappers aside."""
    root: int
    """Below which of the pattern's roots it stands."""
    alone: bool = False
    """Whether it is a single token, and the smallest node must be just that."""
    before: tuple[re.Pattern[bytes], ...] = ()
    """What stands before it in the same root, in order."""
    after: tuple[re.Pattern[bytes], ...] = ()
    """What stands after it in the same root, in order."""
    meaning: str = ""
    """The dotted name of what is referred to, instead of tokens."""

    def follows(self, data: bytes, start: int, at: int) -> bool:
        """Return whether what stands before it in a root may be in the bytes `start` to `at`."""
        for form in self.before:
            match = form.search(data, start, at)
            if match is None:
                return False
            start = match.end()
        return True

    def stands(self, data: bytes, start: int, at: int, end: int, stop: int) -> bool:
        """Return whether the rest of a root may stand around the clue at `at` to `end`.

        Arguments: all of the root lies in the bytes `start` to `stop` of `data`.
        """
        if self.before and not self.follows(data, start, at):
            return False
        for form in self.after:
            match = form.search(data, end, stop)
            if match is None:
                return False
            end = match.end()
        return True


class Anchors(NamedTuple):
    """The literal anchors of a pattern."""

    needs: tuple[bytes, ...]
    """Tokens that every match contains, rarest first."""
    words: tuple[bytes, ...]
    """Those of them that are words of their own."""
    lead: Anchor | None
    """What leads to a match at the least cost; none when only a visit of the tree finds matches."""


class Pattern(Struct, frozen=True, eq=False, dict=True):
    """A compiled pattern.

    One root is an expression, statement or other single node; several are statements in a row.
    """

    text: str
    language: Language
    roots: tuple[PatternNode, ...]
    holes: dict[str, Hole]
    """By name; without ``_``."""
    tree: Tree
    """The tree of the pattern's own code, each hole a name in it, and of what it stands in."""
    nodes: tuple[Node, ...]
    """The nodes of that tree that are the pattern."""
    stand_ins: dict[str, PatternNode]
    """By stand-in name: the shape of the hole it stands for."""
    find_anchors: Callable[[tuple[PatternNode, ...], Language], Anchors]
    """Works out what any match must contain, when that is first needed."""
    find: Callable[[Pattern, Tree], Iterator[Any]]
    """Finds its matches in a tree."""
    meant: Mapping[str, str] = field(default_factory=dict)
    """By stand-in name: the dotted names of what the pattern asks for by meaning."""
    part: str | None = None
    """The part that it is, if it had to be said."""
    any_order: bool = False
    """Whether named arguments may stand in another order."""
    without: Pattern | None = None
    """The pattern of the same code without what may be left out around it: its decorators."""
    ended: bool = False
    """Whether it is an expression that must be all of a statement, as the token at its end says."""
    given: Mapping[str, tuple[Node, ...]] = field(default_factory=dict)
    """What the holes took that were left out."""
    parts: tuple[PlacedPart, ...] = ()
    """The parts of its heads that code may lack, in order."""

    def __repr__(self) -> str:
        return f"<Pattern {' '.join(self.text.split())[:80]!r} {self.language.name}>"

    def search(self, code: str | Tree) -> list[Match]:
        """Return the matches in `code`, in source order, an outer one before those inside it."""
        if isinstance(code, str):
            code = self.tree.like(code)
        return list(self.find(self, code))

    @cached_property
    def comments(self) -> tuple[Node, ...]:
        """The comments in its text, in order.

        They are found by a walk: a query takes longer to be compiled than a pattern to be walked.
        """
        kinds = self.language.comments
        return tuple(node for node in self.tree.root.walk() if node.kind in kinds)

    @cached_property
    def trail(self) -> Anchors:
        """The literal anchors, computed when first needed."""
        return self.find_anchors(self.roots, self.language)

    @cached_property
    def lead(self) -> Anchor | None:
        """The cheapest anchor; None when only a query of the tree finds matches."""
        return self.trail.lead

    @cached_property
    def needs(self) -> tuple[bytes, ...]:
        """Tokens that every match contains, rarest first."""
        return (self.without or self).trail.needs

    @cached_property
    def words(self) -> tuple[bytes, ...]:
        """Those of them that are words of their own."""
        return (self.without or self).trail.words

    @cached_property
    def choice(self) -> bool:
        """Return whether there may be several ways to match at one place."""
        runs = sum(1 for root in self.roots if root.hole is not None and root.hole.many)
        return runs > 1 or any(root.choice for root in self.roots)

    @cached_property
    def others(self) -> tuple[bytes, ...]:
        """The tokens that every match contains and that are no words of their own."""
        return tuple(token for token in self.needs if token not in self.words)

    @cached_property
    def open_keys(self) -> frozenset[str]:
        """The names of the parts in which whatever else may stand."""
        return frozenset(p.hole.name for p in self.parts if p.hole.form == "open")


    @cached_property
    def kinds(self) -> frozenset[str]:
        """The node kinds at which a match can start; empty means any."""
        first = self.roots[0]
        if first.meaning:
            return self.language.references
        if first.hole is not None:
            return first.kinds or frozenset()
        same = {k for k, v in self.language.same_kinds.items() if v == first.kind}
        return frozenset({first.kind, *same, *first.more_kinds})
