"""From the text of a pattern to its shapes, refusing at once what could never work."""

from __future__ import annotations

import re
from collections.abc import Iterator
from difflib import get_close_matches
from functools import lru_cache

from yellow_trellis.languages import Language
from yellow_trellis.patterns.notation import Hole, Notation, PatternError, read_notation
from yellow_trellis.patterns.pattern import Anchor, Pattern, Shape
from yellow_trellis.source import Source
from yellow_trellis.syntax import Node, Tree

_WORD = re.compile(rb"[\w\x80-\xff]+")


@lru_cache(maxsize=4096)
def compile_pattern(text: str, language: Language, *, template: bool = False) -> Pattern:
    """Compile `text`, code of `language` with holes.

    Arguments: `template` allows what only a template may be, such as nothing but a hole.

    Errors: `PatternError` with the place in `text` and the reason.
    """
    notation = read_notation(text.strip("\n"))
    text = text.strip("\n")
    if not notation.code.strip():
        raise PatternError("the pattern is empty", hint="write code, with `@{name}` for any code")
    tree = Tree(Source(notation.code.encode("utf-8")), language)
    _refuse_broken(tree, text, notation)
    builder = _Builder(text, language, notation)
    roots = tuple(builder.shape(node) for node in _roots(tree))
    builder.refuse_lost_holes()
    if not template:
        _refuse_boundless(roots, text)
    anchor, needs = _anchor(roots, language)
    return Pattern(text, language, roots, builder.by_name, tree, builder.shapes, needs, anchor)


def _refuse_boundless(roots: tuple[Shape, ...], text: str) -> None:
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


def _refuse_broken(tree: Tree, text: str, notation: Notation) -> None:
    if not tree.broken:
        return
    data = tree.source.data
    at = tree.broken[0].start
    broken = tree.leaf_at(at)
    if broken is not None and broken.kind == "ERROR":
        leaf = next((n for n in broken.leaves() if n.end > n.start), broken)
        at = leaf.start
    at = notation.origin(len(data[:at].decode("utf-8")))
    rest = text[at:].split("\n", 1)[0].strip()
    near = f"near `{rest[:30]}`" if rest else "at its end"
    raise PatternError(
        f"the pattern is no {tree.language.name} code: it does not parse {near}",
        text,
        min(at, len(text)),
        "a pattern is code of the language, with `@{name}` where any code may stand",
    )


def _roots(tree: Tree) -> tuple[Node, ...]:
    statements = tree.root.items
    if len(statements) != 1:
        return statements
    return (statements[0].core,)


class _Builder:
    """Turns nodes of a pattern's tree into shapes and keeps account of its holes."""

    def __init__(self, text: str, language: Language, notation: Notation) -> None:
        self.text = text
        self.language = language
        self.holes = notation.holes
        self.shapes: dict[str, Shape] = {}
        self.by_name: dict[str, Hole] = {}
        self._uses: dict[str, int] = {}

    def shape(self, node: Node, field: str | None = None) -> Shape:
        node = node.core
        data = node.data
        if (stand_in := data.decode("utf-8")) in self.holes and not node.items:
            return self._hole(stand_in, node, field)
        kind = self.language.same_kind(node.kind)
        if self.language.is_literal(node.kind) and not self._has_hole(node):
            return Shape(kind, field, data, literal=True)
        if not node.items:
            return Shape(kind, field, data)
        return Shape(kind, field, items=tuple(self.shape(i, i.field) for i in node.items))

    def _has_hole(self, node: Node) -> bool:
        return any(leaf.text in self.holes for leaf in node.leaves())

    def _hole(self, stand_in: str, node: Node, field: str | None) -> Shape:
        hole = self.holes[stand_in]
        known = self.by_name.get(hole.name)
        if known is not None and known.many != hole.many:
            raise PatternError(
                f"the hole `{hole.name}` stands for one node here and for several elsewhere",
                self.text,
                hole.at,
                "give one of the two another name",
            )
        if hole.remembered:
            self.by_name.setdefault(hole.name, hole)
        use = self._uses.get(hole.name, 0)
        self._uses[hole.name] = use + 1
        key = f"{hole.name}#{use}" if use or not hole.remembered else hole.name
        shape = Shape(
            node.kind,
            field,
            hole=hole,
            key=key,
            kinds=self._kinds(hole),
            regex=re.compile(hole.regex, re.DOTALL) if hole.regex is not None else None,
        )
        self.shapes[stand_in] = shape
        return shape

    def _kinds(self, hole: Hole) -> frozenset[str] | None:
        if hole.kind is None:
            return None
        kinds = self.language.family(hole.kind)
        if kinds is None:
            known = sorted({*self.language.family_names(), *self.language.kinds})
            near = get_close_matches(hole.kind, known, 3)
            raise PatternError(
                f"{self.language.name} has no kind or family `{hole.kind}`",
                self.text,
                hole.at,
                f"did you mean {' or '.join(f'`{n}`' for n in near)}?"
                if near
                else f"the families are {', '.join(self.language.family_names())}",
            )
        return kinds

    def refuse_lost_holes(self) -> None:
        for stand_in, hole in self.holes.items():
            if stand_in not in self.shapes:
                raise PatternError(
                    f"the hole `{hole.name}` stands inside a piece of text",
                    self.text,
                    hole.at,
                    "a hole takes whole nodes; use `@{name: string}` or a condition on its text",
                )


def _anchor(
    roots: tuple[Shape, ...], language: Language
) -> tuple[Anchor | None, tuple[bytes, ...]]:
    """Choose the token to look for, and list all tokens a match must hold, rarest first.

    A name is rarer than an operator, a long one rarer than a short one; keywords come last.
    """
    found: list[tuple[tuple[int, int], Anchor]] = []
    for index, root in enumerate(roots):
        for text, steps in _tokens(root, 0):
            word = _WORD.fullmatch(text) is not None
            common = text.decode("utf-8", "replace") in language.keywords or not word
            usable = word or len(text) > 1
            if usable:
                found.append(((common, -len(text)), Anchor(text, steps, index, word)))
    found.sort(key=lambda pair: (pair[0], pair[1].root, pair[1].text))
    needs = tuple(dict.fromkeys(anchor.text for _, anchor in found))
    return (found[0][1] if found else None), needs


def _tokens(shape: Shape, depth: int) -> Iterator[tuple[bytes, int]]:
    if shape.text is not None and not shape.literal:
        yield shape.text, depth
    for item in shape.items:
        yield from _tokens(item, depth + 1)
