"""Laying a pattern over the parser's own nodes, of which ours are made only for what holes take.

One of our nodes costs several times as much as one of the parser's, and most of what a pattern is
laid over is tokens. What takes more than kinds, order and text is left to the matcher that knows
all: a plain pattern has no choice, and asks for no meaning and no order of its own. What fits here
fits there, and takes the same.
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from yellow_trellis.patterns.match import Takes, fits_leaf, take, take_run
from yellow_trellis.patterns.pattern import Pattern, Shape
from yellow_trellis.records import record

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.languages import Language
    from yellow_trellis.syntax import Tree

_NONE: frozenset[int] = frozenset()
_NO_KINDS: frozenset[str] = frozenset()

Items = list[tuple[int, "tree_sitter.Node", int]]
"""Children of a node, each with its place among all of them, and its kind."""


@record(frozen=True, eq=False)
class Form:
    """A shape in the numbers that the parser has for kinds."""

    shape: Shape
    field: str | None
    kinds: frozenset[int]
    """Those that fit; none for a hole."""
    text: bytes | None = None
    """What a leaf must look like, if its kind does not tell."""
    items: tuple[Form, ...] = ()
    many: int = -1
    """Which of the items is a hole for several, if one is."""
    token: bool = False
    """Whether the kind is all that counts."""


class Numbers:
    """The kinds of a language that matter to a match, in the parser's numbers."""

    def __init__(self, language: Language) -> None:
        self.thin = language.numbers(language.thin)
        self.brackets = language.numbers(language.brackets)
        self.skipped = language.numbers(language.comments | language.space_kinds)
        self.separators = language.numbers(language.separators, named=False)
        self.unmeant = self.skipped | self.separators
        self.opening = language.numbers(("(", "[", "{"))
        self.closing = language.numbers((")", "]", "}"))
        self.round = language.numbers(("(", ")"))
        self.counted = language.numbers(language.counted_separators)
        self.only_in_runs = language.numbers(language.only_in_runs)
        self.chained = language.numbers(language.chained)
        self.sole = {
            number: language.numbers((around,))
            for kind, around in language.sole_items.items()
            for number in language.numbers((kind,))
        }
        self.optional = {
            number: language.numbers(tokens)
            for kind, tokens in language.optional_tokens.items()
            for number in language.numbers((kind,))
        }
        self.optional.update(dict.fromkeys(self.brackets, self.round))


numbers_of = lru_cache(maxsize=None)(Numbers)


@lru_cache(maxsize=4096)
def plain(pattern: Pattern) -> Form | None:
    """Return the form of a pattern that can be laid over the parser's nodes; None if it cannot."""
    if pattern.language.hides_text is None or len(pattern.roots) != 1 or pattern.choice:
        return None
    return _form(pattern.roots[0], pattern.language)


def _form(shape: Shape, language: Language) -> Form | None:
    if shape.hole is not None:
        return Form(shape, shape.field, _NONE)
    hidden = language.hides_text or _NO_KINDS
    if shape.meaning or shape.named or shape.kind in language.omitted_when_empty:
        return None
    if shape.items and shape.kind in hidden:
        return None
    same = {kind for kind, as_ in language.same_kinds.items() if as_ == shape.kind}
    kinds = language.numbers({shape.kind, *same})
    text = shape.text
    if text is not None and shape.kind == text.decode("utf-8", "replace"):
        text = None
    items = [_form(item, language) for item in shape.items]
    if not kinds or not all(items) or (shape.text is None and not items):
        return None
    many = shape.many[0] if shape.many else -1
    token = text is None and not items and shape.kind not in language.thin
    return Form(shape, shape.field, kinds, text, tuple(filter(None, items)), many, token)


def _is_link(raw: tree_sitter.Node) -> bool:
    return raw.parent is not None and raw.parent.kind_id == raw.kind_id


class Laid:
    """One pattern over one tree that has no errors.

    Arguments: `only_fits` says that it does not matter what holes take.
    """

    def __init__(self, form: Form, tree: Tree, *, only_fits: bool = False) -> None:
        self._only_fits = only_fits
        self._form = form
        self.tree = tree
        self._data = tree.source.data
        self._numbers = numbers_of(tree.language)

    def takes(self, raw: tree_sitter.Node) -> Takes | None:
        """Return what the holes take when it is laid over `raw`; None where it does not fit."""
        takes: Takes = {}
        if raw.kind_id in self._numbers.chained and _is_link(raw):
            return None
        return takes if self._fits(self._form, raw, raw.kind_id, takes) else None

    def _fits(self, form: Form, raw: tree_sitter.Node, kind: int, takes: Takes) -> bool:
        if form.shape.hole is not None:
            return self._take(form.shape, raw, kind, takes)
        if kind in self._numbers.thin:
            raw = self._core(raw)
            kind = raw.kind_id
        forms, at = form.items, form.many
        if kind not in form.kinds:
            if kind not in self._numbers.sole or not form.kinds & self._numbers.sole[kind]:
                return False
            return self._fits_sole(form, raw, kind, takes)
        if not forms:
            return form.text is None or self._looks_like(form, raw)
        items = self._items(raw, kind)
        if at < 0:
            return len(items) == len(forms) and self._fit(forms, items, raw, takes)
        stop = len(items) - (len(forms) - at - 1)
        return (
            stop >= at
            and self._fit(forms[:at], items[:at], raw, takes)
            and self._take_run(forms[at].shape, items[at:stop], raw, takes)
            and self._fit(forms[at + 1 :], items[stop:], raw, takes)
        )

    def _fits_sole(self, form: Form, raw: tree_sitter.Node, kind: int, takes: Takes) -> bool:
        """Return whether a list fits the only item that it has, whose brackets are its own."""
        forms = form.items[1:-1]
        if len(forms) != 1 or forms[0].field is not None:
            return False
        if form.many < 0:
            return self._fits(forms[0], raw, kind, takes)
        shape = forms[0].shape
        if self._only_fits and shape.takes_all and shape.hole is not None:
            return True
        return take_run(shape, (self.tree.wrap(raw),), takes)

    def _fit(
        self, forms: tuple[Form, ...], items: Items, above: tree_sitter.Node, takes: Takes
    ) -> bool:
        """Return whether forms fit as many items of a node, each in its field."""
        for form, (at, raw, kind) in zip(forms, items, strict=True):
            if form.token:
                if kind not in form.kinds:
                    return False
            elif not self._fits(form, raw, kind, takes):
                return False
            if above.field_name_for_child(at) != form.field:
                return False
        return True

    def _take(self, shape: Shape, raw: tree_sitter.Node, kind: int, takes: Takes) -> bool:
        if shape.kinds is None:
            if kind in self._numbers.only_in_runs or not raw.is_named:
                return False
            if kind in self._numbers.chained and _is_link(raw):
                return False
            if self._only_fits and shape.takes_all:
                return True
        return take(shape, self.tree.wrap(raw), takes)

    def _take_run(self, shape: Shape, items: Items, above: tree_sitter.Node, takes: Takes) -> bool:
        hole = shape.hole
        if self._only_fits and shape.takes_all and hole is not None and hole.most is None:
            return len(items) >= hole.least
        run = []
        for at, raw, _ in items:
            node = self.tree.wrap(raw)
            if shape.field is not None:
                node._field = above.field_name_for_child(at) or ""
            run.append(node)
        return take_run(shape, tuple(run), takes)

    def _looks_like(self, form: Form, raw: tree_sitter.Node) -> bool:
        if self._data[raw.start_byte : raw.end_byte] == form.text:
            return True
        shape, language = form.shape, self.tree.language
        if shape.literal or shape.kind in language.delimiters:
            return fits_leaf(shape, self.tree.wrap(raw), language)
        return False

    def _core(self, raw: tree_sitter.Node) -> tree_sitter.Node:
        """Return what brackets and wrappers around one node hold."""
        kind = raw.kind_id
        while kind in self._numbers.thin:
            items = self._items(raw, kind)
            if len(items) != 1:
                break
            _, raw, kind = items[0]
        return raw

    def _items(self, raw: tree_sitter.Node, kind: int) -> Items:
        """Return the children of a node that carry meaning; see `Node.items`."""
        numbers = self._numbers
        children = [(at, one, one.kind_id) for at, one in enumerate(raw.children)]
        optional = numbers.optional.get(kind, _NONE)
        if not optional and numbers.unmeant.isdisjoint([its for _, _, its in children]):
            return children
        found: Items = []
        bare = True  # nothing stands before the next separator
        last = None
        for child in children:
            its = child[2]
            if its in numbers.skipped:
                continue
            if its in numbers.separators:
                if bare:
                    found.append(child)
                bare, last = True, child
                continue
            if its not in numbers.closing:
                last = None
            if its not in optional:
                found.append(child)
            bare = its in numbers.opening
        if last is not None and kind in numbers.counted:
            found.append(last)
        return found
