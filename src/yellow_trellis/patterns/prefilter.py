"""Necessary conditions of a match, checked on the parser's own nodes before any of ours is made.

A node of ours costs ten times as much as one of the parser's, and most candidates fail by a count
of children, a kind, a token, or because what must be the same twice is not. Everything here may
only reject what the exact matcher would reject: where brackets, comments or other spellings leave a
doubt, the node is admitted.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from typing import NamedTuple

import tree_sitter

from yellow_trellis.languages import Language
from yellow_trellis.patterns.pattern import Pattern, PatternNode

_ONE_SPELLING = re.compile(rb"[A-Za-z_][\w.]*|(['\"])[^'\"\\\r\n]*\1")
"""Code that is the same as other code like it only if the bytes are, the quotes aside: names with
dots between them, and strings without anything special in them."""


_QUOTES = b"\"'"


class HoleConstraint(NamedTuple):
    """A requirement of a rule on all that a hole takes."""

    hole: str
    kinds: frozenset[str] | None = None
    regex: re.Pattern[str] | None = None


class Prefilter(NamedTuple):
    """Requirements on a node for a pattern node to match it, as far as they are cheap to check."""

    language: Language
    kinds: frozenset[str] | None
    """The kinds that fit, besides brackets and wrappers; None for any."""
    inner: str = ""
    """The kind of node in which the parts are looked for."""
    least: int = 0
    most: int | None = None
    """How many named children such a node has, comments and other extras aside."""
    text: bytes | None = None
    """What a leaf must be, if it has one spelling."""
    regex: re.Pattern[str] | None = None
    same_as: str = ""
    """The hole that this part is, if that stands more than once in the pattern."""
    fields: tuple[tuple[str, Prefilter], ...] = ()
    """The parts that are alone in a field."""
    places: tuple[tuple[int, Prefilter], ...] = ()
    """The parts by their place among the named children, if their number is fixed."""

    @property
    def beyond_form(self) -> bool:
        """Return whether it requires more than the kinds and counts that a query tells."""
        parts = (*self.fields, *self.places)
        own = self.text is not None or self.regex is not None or self.same_as != ""
        own = own or (self.kinds is not None and not self.inner)
        return own or any(part.beyond_form for _, part in parts)

    def admits(self, node: tree_sitter.Node, data: bytes) -> bool:
        """Return whether the shape may fit `node`, in a tree of `data`; a False is certain."""
        return self._admits(node, data, {})

    def _admits(
        self, node: tree_sitter.Node, data: bytes, bound: dict[str, tree_sitter.Node]
    ) -> bool:
        language = self.language
        kind = language.kind_names.get(node.kind_id, "")
        is_fit = self.kinds is None or kind in self.kinds
        while kind in language.thin:
            if node.child_count != 1:
                return True
            node = node.children[0]
            kind = language.kind_names.get(node.kind_id, "")
            is_fit = is_fit or kind in (self.kinds or ())
        if not is_fit:
            return False
        if self.regex is not None:
            code = data[node.start_byte : node.end_byte].decode("utf-8", "replace")
            if self.regex.fullmatch(code) is None:
                return False
        if self.same_as:
            first = bound.setdefault(self.same_as, node)
            if first is not node and not self._may_be_same(first, node, data):
                return False
        if kind != self.inner:
            return True
        if self.text is not None:
            return data[node.start_byte : node.end_byte] == self.text
        count = node.named_child_count
        if self.most is not None and count > self.most:
            extras = language.extras
            count -= sum(child.type in extras for child in node.named_children)
        if count < self.least or (self.most is not None and count > self.most):
            return False
        for field, part in self.fields:
            inner = node.child_by_field_name(field)
            if inner is not None and not part._admits(inner, data, bound):
                return False
        if self.places and node.named_child_count == self.least == self.most:
            children = node.named_children
            return all(part._admits(children[at], data, bound) for at, part in self.places)
        return True

    def _may_be_same(self, node: tree_sitter.Node, second: tree_sitter.Node, data: bytes) -> bool:
        names, language = self.language.kind_names, self.language
        kind, others = names.get(node.kind_id, ""), names.get(second.kind_id, "")
        if kind in language.thin or others in language.thin or language.ignores_case:
            return True
        if language.same_kind(kind) != language.same_kind(others):
            return False
        code = data[node.start_byte : node.end_byte]
        spelled = data[second.start_byte : second.end_byte]
        if code == spelled or not _ONE_SPELLING.fullmatch(code):
            return True
        if not _ONE_SPELLING.fullmatch(spelled):
            return True
        return code.strip(_QUOTES) == spelled.strip(_QUOTES)


def prefilter(
    root: PatternNode, pattern: Pattern, constraints: Iterable[HoleConstraint] = ()
) -> Prefilter:
    """Return what a node must be like for `root`, a root of `pattern`, to fit it."""
    by_hole: dict[str, list[HoleConstraint]] = {}
    for constraint in constraints:
        by_hole.setdefault(constraint.hole, []).append(constraint)
    names = Counter(
        shape.hole.name
        for shape in pattern.stand_ins.values()
        if shape.hole is not None and shape.hole.remembered and not shape.hole.many
    )
    repeated = frozenset(name for name, count in names.items() if count > 1)
    return _prefilter(root, pattern.language, by_hole, repeated)


def admits_run(
    prefilters: tuple[Prefilter, ...], first: tree_sitter.Node, data: bytes
) -> bool:
    """Return whether shapes may fit a statement and those that follow it; a False is certain."""
    bound: dict[str, tree_sitter.Node] = {}
    node: tree_sitter.Node | None = first
    for part in prefilters:
        while node is not None and node.type in part.language.extras:
            node = node.next_named_sibling
        if node is None or not part._admits(node, data, bound):
            return False
        node = node.next_named_sibling
    return True


def _prefilter(
    shape: PatternNode,
    language: Language,
    by_hole: Mapping[str, list[HoleConstraint]],
    repeated: frozenset[str],
) -> Prefilter:
    hole = shape.hole
    if hole is not None:
        if hole.many:
            return Prefilter(language, None)
        kinds, regex = shape.kinds, shape.regex
        for constraint in by_hole.get(hole.name, ()):
            regex = regex or constraint.regex
            if constraint.kinds is not None:
                kinds = constraint.kinds if kinds is None else kinds & constraint.kinds
        same_as = hole.name if hole.name in repeated else ""
        return Prefilter(language, kinds, regex=regex, same_as=same_as)
    spellings = language.spellings_of(shape.kind, shape.field)
    if shape.meaning or spellings is None:
        return Prefilter(language, None)
    kinds = frozenset(spellings) | frozenset(shape.more_kinds)
    if shape.text is not None:
        fixed = not (language.ignores_case or shape.literal or shape.kind in language.delimiters)
        return Prefilter(language, kinds, shape.kind, text=shape.text if fixed else None)
    if not shape.items or shape.named:
        return Prefilter(language, kinds)
    least, limit = _named_children(shape, language)
    parts = [(item, _prefilter(item, language, by_hole, repeated)) for item in shape.items]
    useful = [(item, part) for item, part in parts if part != Prefilter(language, None)]
    uses = Counter(item.field for item in shape.items)
    has_runs = any(item.hole is not None and item.hole.many for item in shape.items)
    fields = tuple(
        (item.field, part)
        for item, part in useful
        if item.field is not None and uses[item.field] == 1 and not has_runs
    )
    places: tuple[tuple[int, Prefilter], ...] = ()
    if least == limit:
        names = [pair for pair in parts if _is_named(pair[0], language)]
        entries = {item.field for item, _ in useful if item.field and uses[item.field] == 1}
        places = tuple(
            (at, part)
            for at, (item, part) in enumerate(names)
            if part != Prefilter(language, None) and item.field not in entries
        )
    return Prefilter(
        language, kinds, shape.kind, least, limit, fields=fields, places=places
    )


def _is_named(item: PatternNode, language: Language) -> bool:
    return item.hole is not None or bool(item.meaning) or item.kind in language.kinds


def _named_children(shape: PatternNode, language: Language) -> tuple[int, int | None]:
    """Return how many named children a node has that a shape of several items fits."""
    least, limit, is_open = 0, 0, False
    for item in shape.items:
        if item.hole is not None:
            least += item.hole.least if not language.word_expressions else 0
            limit += item.hole.most or 0
            is_open = is_open or item.hole.most is None
        elif item.meaning:
            least, limit = least + 1, limit + 1
        elif item.kind in language.kinds:
            is_sure = not language.is_token(item.kind)
            is_sure = is_sure and not item.may_be_absent
            least += is_sure
            limit += 1
        elif item.kind in language.word_expressions:
            limit += 1  # it has a wrapper, or none
    return least, None if is_open else limit
