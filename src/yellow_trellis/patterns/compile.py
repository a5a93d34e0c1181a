"""From the text of a pattern to its shapes, refusing at once what could never work."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from functools import lru_cache

from msgspec.structs import replace

from yellow_trellis.languages import DEFAULT, Language
from yellow_trellis.languages import language as language_called
from yellow_trellis.patterns.head_parts import Insertion, insertions, placed_parts
from yellow_trellis.patterns.literal_anchors import trail_of
from yellow_trellis.patterns.notation import PLAIN, Hole, PatternError, SymbolRef, read_notation
from yellow_trellis.patterns.pattern import Pattern, PatternNode, PlacedPart
from yellow_trellis.patterns.pattern_parse import parse_pattern, roots_of
from yellow_trellis.patterns.rest_of_head import refuse_other_code
from yellow_trellis.patterns.search import seek
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.equivalence import are_idle_brackets


def compile_pattern(
    text: str,
    language: Language | str = DEFAULT,
    *,
    part: str | None = None,
    any_order: bool = False,
    template: bool = False,
) -> Pattern:
    """Compile `text`, code of `language` with holes.

    Arguments: `language` is a language, or its name; `part` says that the text is an ``argument``
    or a ``parameter``, which alone would parse as something else; `any_order` lets named arguments
    stand in any order; `template` allows what only a template may be, such as nothing but a hole.
    Errors: `PatternError` with the place in `text` and the reason; `MissingLanguageError`.
    """
    spoken = language_called(language) if isinstance(language, str) else language
    return _compiled(text, spoken, part, any_order, template)


def with_parts(pattern: Pattern, parts: Iterable[PlacedPart]) -> Pattern:
    """Return a template with more parts of heads, in the bytes of its code, than it writes."""
    return _compiled(
        pattern.text, pattern.language, pattern.part, pattern.any_order, True, tuple(parts)
    )


@lru_cache(maxsize=4096)
def _compiled(
    text: str,
    language: Language,
    part: str | None,
    any_order: bool,
    template: bool,
    more: tuple[PlacedPart, ...] = (),
) -> Pattern:
    text = text.strip("\n")
    notation = read_notation(text)
    if not notation.code.strip():
        raise PatternError("the pattern is empty", hint="write code, with `@{name}` for any code")
    if not template:
        notation.refuse_same_names(text)
    parsed = parse_pattern(text, notation, language, part)
    if len(text) > _DEEPEST and _is_deep(parsed.tree):
        raise PatternError(
            f"this code is nested more than {_DEEPEST} deep",
            text,
            hint="find the inner code, and say where it stands in a condition",
        )
    nodes = roots_of(parsed)
    own = placed_parts(notation, parsed, "~~" if template else "~")
    parts = tuple(sorted((*own, *more), key=lambda part: part.start))
    builder = _Builder(text, language, parsed.holes, notation.meant, any_order, parts)
    builder.insertions = insertions(parts, nodes, text) if parts else {}
    roots = tuple(builder.shape(node) for node in nodes)
    builder.refuse_lost_holes()
    builder.refuse_lost_names()
    if not template:
        _refuse_boundless(roots, text)
    pattern = Pattern(
        text=text,
        language=language,
        roots=roots,
        holes=builder.by_name,
        tree=parsed.tree,
        nodes=nodes,
        stand_ins=builder.shapes,
        find_anchors=trail_of,
        find=seek,
        meant={name: item.name for name, item in notation.meant.items()},
        part=part or parsed.part,
        any_order=any_order,
        ended=_ends_statement(nodes, parsed.span),
        parts=parts,
    )
    if not template:
        builder.refuse_member_calls(nodes)
        refuse_other_code(
            pattern, notation, lambda t: _compiled(t, language, pattern.part, any_order, False)
        )
    inner = _inside_optional(roots[0], language) if len(roots) == 1 else None
    if inner is None:
        return pattern
    arguments = {item.key: () for item in roots[0].items[:-1]}
    return replace(pattern, without=replace(pattern, roots=(inner,), given=arguments))


def _inside_optional(root: PatternNode, language: Language) -> PatternNode | None:
    """Return what a definition is without its decorators, where the pattern asks for none."""
    if root.kind not in language.optional_around or not root.items:
        return None
    *around, inner = root.items
    if all(item.hole is not None and not item.hole.least for item in around):
        return replace(inner, field=None)
    return None


_DEEPEST = 150
"""How deep the code of a pattern may be nested."""


def _is_deep(tree: Tree) -> bool:
    """Return whether code is nested deeper than a pattern may be."""
    cursor = tree.raw_root.walk()
    while cursor.depth <= _DEEPEST:
        if cursor.goto_first_child():
            continue
        while not cursor.goto_next_sibling():
            if not cursor.goto_parent():
                return False
    return True


def _refuse_boundless(roots: tuple[PatternNode, ...], text: str) -> None:
    if len(roots) == 1 and (hole := roots[0].hole) is not None and not (hole.kind or hole.regex):
        raise PatternError(
            "this pattern takes every node there is",
            text,
            hole.at,
            f"give the hole a kind, for instance `@{{{hole.name}: call}}`",
        )
    if any(r.hole is not None and r.hole.many for r in (roots[0], roots[-1])):
        raise PatternError(
            "a hole for any number cannot stand at the edge of a pattern",
            text,
            0,
            "leave it out: code before and after is not looked at",
        )


def stand_in_of(node: Node, holes: Mapping[str, object]) -> str | None:
    """Return which of `holes`, by what stands for it, `node` is; None when it is other code.

    A node around a stand-in has the same text and is not meant; a node that a hole for several
    takes whole, such as a decorator, is.
    """
    text = node.text.rstrip()
    if text in holes:
        is_item = node.parent is not None and node.parent.kind in node.tree.language.sequences
        if not node.items or not text.isidentifier() or (is_item and _is_many(holes[text])):
            return text
    if node.kind in node.tree.language.lifted:
        inner = node.items[-1].text
        if _is_many(holes.get(inner)):
            return inner
    return None


def _all_of(items: tuple[PatternNode, ...]) -> tuple[PatternNode, ...]:
    """Let a hole for several that is all of a list or body take each item, in whatever field."""
    holes = [item for item in items if item.text is None or item.text != item.kind.encode()]
    if len(holes) != 1 or not _is_many(holes[0]):
        return items
    return tuple(replace(i, field=None) if i is holes[0] and i.field else i for i in items)


def _is_many(target: object) -> bool:
    hole = target.hole if isinstance(target, PatternNode) else target
    return isinstance(hole, Hole) and hole.many


def _is_ended(node: Node) -> bool:
    """Return whether a node is an expression with the token that makes a statement of it."""
    language = node.tree.language
    if not language.terminator or node.kind not in language.wrappers or not node.children:
        return False
    return node.children[-1].kind == language.terminator


def _ends_statement(nodes: tuple[Node, ...], span: Span) -> bool:
    """Return whether a pattern is an expression that is all of a statement, by its own token."""
    around = nodes[0].outermost
    return len(nodes) == 1 and around.end <= span.end and _is_ended(around)


class _Builder:
    """Turns nodes of a pattern's tree into shapes and keeps account of its holes."""

    def __init__(
        self,
        text: str,
        language: Language,
        holes: dict[str, Hole],
        symbols: dict[str, SymbolRef],
        any_order: bool,
        parts: tuple[PlacedPart, ...] = (),
    ) -> None:
        self.insertions: Mapping[int, list[Insertion]] = {}
        self.lacking = frozenset().union(*(part.holes for part in parts))
        self.meant = symbols
        self.seen: set[str] = set()
        self.any_order = any_order
        self.text = text
        self.language = language
        self.holes = holes
        self.shapes: dict[str, PatternNode] = {}
        self.by_name: dict[str, Hole] = {
            part.hole.name: part.hole for part in parts if not part.hole.numbered
        }
        self._uses: dict[str, int] = {}

    def shape(self, node: Node, field: str | None = None) -> PatternNode:
        if (many := self._many_in_brackets(node)) is not None:
            return PatternNode(
                self.language.many_in_brackets, field, items=(self._hole(*many, None),)
            )
        if (stand_in := self._statement(node)) is not None:
            return self._hole(stand_in, node, field)
        around, node = node, node.core
        shape = self._of_core(around, node, field)
        if not are_idle_brackets(around):
            return shape
        shape = replace(shape, needs_brackets=True)
        if shape.hole is not None and (stand_in := stand_in_of(node, self.holes)) is not None:
            self.shapes[stand_in] = shape
        return shape

    def _of_core(self, around: Node, node: Node, field: str | None) -> PatternNode:
        """Return the shape of `node`, which stands for the same code as `around`."""
        data = node.data
        if (stand_in := stand_in_of(node, self.holes)) is not None:
            return self._hole(stand_in, node, field, around)
        item = self.meant.get(node.text)
        if item is not None and node.kind in self.language.references:
            self._refuse_no_reference(node, item)
            key = f"<{item.name}>#{len(self.seen)}"
            self.seen.add(node.text)
            return PatternNode("", field, meaning=item.name, key=key)
        kind = self.language.same_kind(node.kind)
        if (
            self.language.is_literal(node.kind)
            and not self._has_hole(node)
            and (self.language.has_value(node.text) or self.language.ignores_case)
        ):
            return PatternNode(kind, field, data, literal=True)
        if not node.items:
            return PatternNode(kind, field, self.language.folded(data))
        items = tuple(self._item(i) for i in node.items)
        if id(node) in self.insertions:
            items = self._with_parts(node, items)
            if all(item.is_optional for item in items):  # without them it is not there itself
                inner = PatternNode(kind, field, items=items)
                hole = Hole("_", 0, None, form="optional")
                return PatternNode(kind, hole=hole, items=(inner,))
            shape = PatternNode(kind, field, items=items)
            more = self.language.more_heads(kind) if shape.is_open else ()
            return replace(shape, more_kinds=more)
        if kind in self.language.sequences:
            items = _all_of(items)
        return PatternNode(kind, field, items=items, named=self._argument_names(node))

    def _with_parts(self, node: Node, items: tuple[PatternNode, ...]) -> tuple[PatternNode, ...]:
        """Put the parts that code may lack among the items of `node`."""
        results: list[PatternNode] = []
        end = 0
        for entry in self.insertions[id(node)]:
            hole = entry.part.hole
            results += items[end : entry.start]
            results.append(
                PatternNode(
                    "",
                    items=items[entry.start : entry.end],
                    hole=hole,
                    key=hole.name,
                    continues=entry.continues,
                )
            )
            end = entry.end
        return (*results, *items[end:])

    def _statement(self, node: Node) -> str | None:
        """Return the hole that a whole statement stands for, with the token that ends it."""
        stand_in = stand_in_of(node, self.holes) if node.kind in self.language.wrappers else None
        return None if stand_in == node.core.text else stand_in

    def _item(self, node: Node) -> PatternNode:
        """Return the shape of an item; one that stands for a list of one is that list."""
        listed = self.language.unbracketed.get(node.field or "")
        if listed is None:
            return self.shape(node, node.field)
        opening, closing = (PatternNode(mark, None) for mark in "()")
        return PatternNode(*listed, items=(opening, self.shape(node), closing))

    def _many_in_brackets(self, node: Node) -> tuple[str, Node] | None:
        """Return the hole for several that is alone in brackets, and its node."""
        if node.kind not in self.language.brackets or not self.language.many_in_brackets:
            return None
        stand_in = stand_in_of(node.core, self.holes)
        many = stand_in is not None and self.holes[stand_in].many
        return (stand_in, node.core) if many and stand_in is not None else None

    def _argument_names(self, node: Node) -> tuple[bytes, ...]:
        if not self.any_order:
            return ()
        kinds = self.language.named_items
        names = (item.items[0].data for item in node.items if item.kind in kinds)
        return tuple(name for name in names if name.decode("utf-8") not in self.holes)

    def _has_hole(self, node: Node) -> bool:
        return any(below.text in self.holes or below.text in self.meant for below in node.walk())

    def _refuse_no_reference(self, node: Node, symbol_ref: SymbolRef) -> None:
        """Refuse a name by meaning where the language refers to nothing."""
        if not self.language.references:
            reason = f"what names mean is not understood for {self.language.name}"
            raise PatternError(
                reason, self.text, symbol_ref.at, "write the name as the code spells it"
            )
        if PLAIN.fullmatch(symbol_ref.name) is None and not self.language.has_paths:
            raise PatternError(
                f"modules have no paths in {self.language.name}: a name is words and dots",
                self.text,
                symbol_ref.at,
                "write `@<package.module.name>`",
            )
        place = node.outermost
        above = place.parent
        kind = above.kind if above is not None else ""
        if (kind, place.field) in self.language.no_references or any(
            a.kind in self.language.imports for a in node.ancestors()
        ):
            raise PatternError(
                "a name by meaning stands where code refers to nothing",
                self.text,
                symbol_ref.at,
                "it stands for a name or attribute that is read; imports follow by themselves",
            )

    def _hole(
        self, stand_in: str, node: Node, field: str | None, around: Node | None = None
    ) -> PatternNode:
        """Return the shape of a hole. `around` is the node with its brackets or its terminator."""
        own = hole = self.holes[stand_in]
        may_lack = not hole.many and hole.name in self.lacking
        if may_lack:
            hole = replace(hole, least=0)
        entry = self.by_name.get(hole.name)
        if entry is not None and entry.many != hole.many:
            raise PatternError(
                f"the hole `{hole.name}` stands for one node here and for several elsewhere",
                self.text,
                hole.at,
                "give one of the two another name",
            )
        if hole.remembered:
            self._refuse_two_kinds(hole)
            self.by_name.setdefault(hole.name, hole)
        key = self._next_key(hole)
        shape = PatternNode(
            node.kind,
            field,
            hole=own,
            key=key,
            kinds=self._kinds(hole),
            regex=re.compile(hole.regex, re.DOTALL) if hole.regex is not None else None,
            bracketed=around is not None and around.kind in self.language.brackets,
            ended=around is not None and not own.many and _is_ended(around),
            may_lack=may_lack,
        )
        self.shapes[stand_in] = shape
        return shape

    def _next_key(self, hole: Hole) -> str:
        """Return the key of one more use of a hole."""
        use = self._uses.get(hole.name, 0)
        self._uses[hole.name] = use + 1
        return f"{hole.name}#{use}" if use or not hole.remembered else hole.name

    def _refuse_two_kinds(self, hole: Hole) -> None:
        """Refuse a name that must be of two kinds that no node is both of."""
        first = self.by_name.get(hole.name)
        ours, theirs = self._kinds(hole), self._kinds(first) if first is not None else None
        if first is not None and ours is not None and theirs is not None and not ours & theirs:
            raise PatternError(
                f"the hole `{hole.name}` would have to be `{first.kind}` and `{hole.kind}` at "
                "once: this can never match",
                self.text,
                hole.at,
                "give one of the two another name, or the same kind",
            )

    def _kinds(self, hole: Hole) -> frozenset[str] | None:
        if hole.kind is None:
            return None
        kinds = self.language.family(hole.kind)
        if kinds is None:
            entries = sorted({*self.language.family_names(), *self.language.kinds})
            from difflib import get_close_matches  # it is only for those who mistype

            near = get_close_matches(hole.kind, entries, 3)
            raise PatternError(
                f"{self.language.name} has no kind or family `{hole.kind}`",
                self.text,
                hole.at,
                f"did you mean {' or '.join(f'`{n}`' for n in near)}?"
                if near
                else f"the families are {', '.join(self.language.family_names())}",
            )
        return kinds

    def refuse_member_calls(self, nodes: tuple[Node, ...]) -> None:
        """Refuse members by meaning where calls have no node for a type and its member."""
        for node in (inner for root in nodes for inner in root.walk()):
            item = self.meant.get(node.text)
            kind = node.parent.kind if node.parent is not None else ""
            if item is not None and (kind, node.field) in self.language.member_calls:
                owner, _, member = item.name.rpartition(".")
                raise PatternError(
                    f"what a called member belongs to is not known in {self.language.name}",
                    self.text,
                    item.at,
                    f"write the type by meaning and the member by name: `@<{owner}>.{member}(...)`",
                )

    def refuse_lost_holes(self) -> None:
        for stand_in, hole in self.holes.items():
            if stand_in not in self.shapes:
                raise PatternError(
                    f"the hole `{hole.name}` stands inside a piece of text",
                    self.text,
                    hole.at,
                    "a hole takes whole nodes; use `@{name: string}` or a condition on its text",
                )

    def refuse_lost_names(self) -> None:
        for name, item in self.meant.items():
            if name not in self.seen:
                raise PatternError(
                    f"the name by meaning `{item.name}` stands inside a piece of text",
                    self.text,
                    item.at,
                    "write it where the code refers to it",
                )
