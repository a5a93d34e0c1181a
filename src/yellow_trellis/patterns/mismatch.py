"""Why a pattern does not match: the first place where it and the code part, in words."""

from __future__ import annotations

from typing import NamedTuple

from msgspec import Struct, field

from yellow_trellis.patterns.match import Captures, Match, fits, match_at
from yellow_trellis.patterns.pattern import Pattern, PatternNode
from yellow_trellis.semantics import facts_of
from yellow_trellis.source import Place
from yellow_trellis.syntax import Node, Tree

_SHORT = 40
_TOGETHER = (
    "each part fits by itself, and all of them do not together: a hole takes equal code wherever "
    "its name stands, and several statements stand beside each other"
)
"""The reason where no single place can be named."""


class Row(NamedTuple):
    """One line of pattern and code side by side; either side may be empty."""

    depth: int
    pattern: str
    code: str
    agrees: bool


class Explanation(NamedTuple):
    """A comparison of a pattern with the code nearest to it.

    `match` is set where they fit; else `reason` says where they part, at `place`.
    """

    node: Node
    rows: tuple[Row, ...]
    match: Match | None = None
    reason: str = ""
    place: Place | None = None


def explain(pattern: Pattern, tree: Tree, line: int, column: int | None = None) -> Explanation:
    """Compare `pattern` with the code on a line (from 1) that comes nearest to it.

    Arguments: `column`, from 1, says where the code starts, if only that is meant.
    Errors: `ValueError` when there is no code on the line.
    """
    best: tuple[tuple[int, int, int], Explanation] | None = None
    for node in _on_line(tree, line, column):
        match = match_at(pattern, node)
        walk = _Walk()
        walk.compare_roots(pattern, node)
        if match is not None:
            return Explanation(node, tuple(walk.rows), match)
        size = len(node.data)
        score = (walk.weight, -size if walk.weight else size, -node.start)
        reason, place = walk.reason or _TOGETHER, walk.place or node.place
        explanation = Explanation(node, tuple(walk.rows), None, reason, place)
        if best is None or score > best[0]:
            best = (score, explanation)
    if best is None:
        raise ValueError(f"there is no code on line {line}")
    return best[1]


def _on_line(tree: Tree, line: int, column: int | None) -> list[Node]:
    results = []
    for node in tree.root.walk():
        if node.parent is None or not node.named or node.is_comment:
            continue
        if node.place.line == line and column in (None, node.place.column):
            results.append(node)
    return results


class _Walk(Struct):
    """One comparison under way: what agreed so far, and where it stopped."""

    rows: list[Row] = field(default_factory=list)
    weight: int = 0
    """How much agreed: a name or keyword counts more than a bracket, the root's kind most."""
    reason: str = ""
    place: Place | None = None
    takes: Captures = field(default_factory=dict)

    def compare_roots(self, pattern: Pattern, node: Node) -> None:
        roots = pattern.roots
        if len(roots) == 1:
            self.compare(roots[0], node, 0)
            return
        parent = node.parent
        assert parent is not None
        items = parent.items
        at = next((i for i, item in enumerate(items) if item is node), None)
        if at is None:
            self.part(node, "the pattern is several statements; this is a part of one")
            return
        self.compare_items(roots, items[at : at + len(roots)], parent, 0)

    def part(self, node: Node, reason: str, *, end: bool = False) -> bool:
        """Note where pattern and code part; returns False."""
        self.reason = reason
        source = node.tree.source
        self.place = source.place(node.end if end else node.start)
        return False

    def compare(self, shape: PatternNode, node: Node, depth: int) -> bool:
        """Compare one shape with one node; False once they part."""
        if shape.needs_brackets and node.kind not in node.tree.language.brackets:
            message = f"the pattern has brackets here, the code has none around {_describe(node)}"
            return self.part(node, message)
        if shape.hole is not None:
            return self.compare_hole(shape, node, depth)
        if shape.meaning:
            return self.compare_meaning(shape, node, depth)
        language = node.tree.language
        core = node.core
        same = language.same_kind(core.kind) == shape.kind
        leaf = shape.text is not None
        agrees = same and (not leaf or fits(shape, node, {}))
        label = (
            shape.text.decode("utf-8", "replace") if shape.text is not None else _kind(shape.kind)
        )
        shown = _short(core.text) if leaf or not core.items else _kind(core.kind)
        self.rows.append(Row(depth, label, shown, agrees))
        if agrees:
            self.weight += 8 if depth == 0 else 4 if leaf and label[:1].isalnum() else 1
        if not same:
            target = f"`{label}`" if leaf else f"{_article(_kind(shape.kind))}"
            return self.part(node, f"the pattern has {target} here, the code has {_describe(core)}")
        if leaf:
            if agrees:
                return True
            return self.part(
                node, f"the pattern says `{label}`, the code says `{_short(core.text)}`"
            )
        return self._compare_variants(shape, core, depth + 1)

    def _compare_variants(self, shape: PatternNode, core: Node, depth: int) -> bool:
        """Compare the items of a shape, with the parts that may be missing as they agree best."""
        best: _Walk | None = None
        for shapes, lacking in shape.variants:
            takes = self.takes | dict.fromkeys(lacking, ())
            walk = _Walk(list(self.rows), self.weight, takes=takes)
            agrees = walk.compare_items(_spliced(shapes), core.items, core, depth)
            if best is None or agrees or walk.weight > best.weight:
                best = walk
            if agrees:
                break
        assert best is not None
        self.rows, self.weight, self.takes = best.rows, best.weight, best.takes
        self.reason, self.place = best.reason, best.place
        return not best.reason

    def compare_meaning(self, shape: PatternNode, node: Node, depth: int) -> bool:
        core = node.core
        agrees = fits(shape, node, self.takes)
        self.rows.append(Row(depth, f"@<{shape.meaning}>", _short(core.text), agrees))
        if agrees:
            self.weight += 8 if depth == 0 else 4
            return True
        if core.kind not in core.tree.language.references:
            message = f"{_describe(core)}, which is no name"
        elif (target := facts_of(core.tree).meaning(core)) is not None:
            message = f"`{_short(core.text)}`, which is `{target}`"
        else:
            message = f"`{_short(core.text)}`, of which it is not known what it is"
        return self.part(node, f"the pattern means `{shape.meaning}`, the code has {message}")

    def compare_hole(self, shape: PatternNode, node: Node, depth: int) -> bool:
        hole = shape.hole
        assert hole is not None
        before = self.takes.get(hole.name)
        agrees = fits(shape, node, self.takes)
        self.rows.append(Row(depth, shape.notation, _short(node.text), agrees))
        if agrees:
            self.weight += 1
            return True
        core, language = node.core, node.tree.language
        if shape.kinds is not None and not {node.kind, node.bare.kind, core.kind} & shape.kinds:
            article = _article(hole.kind or "")
            return self.part(
                node, f"`{shape.notation}` takes {article}; here stands {_describe(core)}"
            )
        if shape.kinds is None and node.kind in language.only_in_runs:
            return self.part(
                node,
                f"{_describe(node)} is taken by a hole for several, `@{{{hole.name}*}}`, "
                f"or by one that asks for it, `@{{{hole.name}: {node.kind}}}`",
            )
        if shape.regex is not None and shape.regex.fullmatch(node.text) is None:
            return self.part(node, f"`{_short(node.text)}` does not match `{hole.regex}` in full")
        took = _short(before.text) if isinstance(before, Node) else "other code"
        here = _short(node.text)
        return self.part(node, f"`@{{{hole.name}}}` took `{took}` before; here stands `{here}`")

    def compare_items(
        self, shapes: tuple[PatternNode, ...], items: tuple[Node, ...], parent: Node, depth: int
    ) -> bool:
        """Compare lists; where their lengths differ, say what is too much or missing."""
        i = j = 0
        while i < len(shapes):
            shape = shapes[i]
            hole = shape.hole
            if hole is not None and hole.many:
                capture = self._run_length(shapes, i, items, j)
                run = items[j : j + capture]
                self.rows.append(
                    Row(depth, shape.notation, _short(" ".join(n.text for n in run)) or "-", True)
                )
                if capture < hole.least:
                    return self.part(
                        parent, f"`{shape.notation}` takes one at least; there is none", end=True
                    )
                self.takes[shape.key] = run
                i, j = i + 1, j + capture
                continue
            if j >= len(items):
                self.rows.append(Row(depth, _shape(shape), "", False))
                return self.part(
                    parent,
                    f"the pattern asks for {_shape(shape)} here; {_owner(parent)} has no more",
                    end=True,
                )
            if (extra := self._extra_item(shapes, i, items, j)) is not None:
                return self._extra(extra, parent, depth, shape)
            if self._is_missing(shapes, i, items, j):
                self.rows.append(Row(depth, _shape(shape), "", False))
                return self.part(
                    items[j],
                    f"the pattern asks for {_shape(shape)} here; {_owner(parent)} has none",
                )
            if not self.compare(shape, items[j], depth):
                return False
            i, j = i + 1, j + 1
        if j < len(items):
            return self._extra(items[j], parent, depth, None)
        return True

    def _run_length(
        self, shapes: tuple[PatternNode, ...], i: int, items: tuple[Node, ...], j: int
    ) -> int:
        """Return how many items a hole for several takes: up to where the next shape fits."""
        hole = shapes[i].hole
        assert hole is not None
        tail = [s for s in shapes[i + 1 :] if s.hole is None or not s.hole.many]
        if len(tail) == len(shapes) - i - 1 or not tail:
            remainder = max(len(items) - j - len(tail), 0)
            return remainder if hole.most is None else min(remainder, hole.most)
        for count in range(hole.least, len(items) - j + 1):
            if j + count < len(items) and fits(tail[0], items[j + count], dict(self.takes)):
                return count
        return hole.least

    def _extra_item(
        self, shapes: tuple[PatternNode, ...], i: int, items: tuple[Node, ...], j: int
    ) -> Node | None:
        """Return the first item that the pattern lacks, where shape `i` fits a later one."""
        shape = shapes[i]
        for at in range(j, len(items)):
            if at > j and len(items) - at < len(shapes) - i:
                break
            if shape.field == items[at].field and fits(shape, items[at], dict(self.takes)):
                between = items[j:at]
                return (
                    next((item for item in between if item.named), between[0]) if between else None
                )
        return items[j] if shape.field != items[j].field else None

    def _is_missing(
        self, shapes: tuple[PatternNode, ...], i: int, items: tuple[Node, ...], j: int
    ) -> bool:
        """Return whether the code lacks what shape `i` asks for, and goes on with the next."""
        if i + 1 >= len(shapes) or len(items) - j >= len(shapes) - i:
            return False
        return not fits(shapes[i], items[j], dict(self.takes)) and fits(
            shapes[i + 1], items[j], dict(self.takes)
        )

    def _extra(self, item: Node, parent: Node, depth: int, shape: PatternNode | None) -> bool:
        self.rows.append(Row(depth, "", _short(item.text), False))
        language = item.tree.language
        has = _describe(item)
        if item.field and item.named and parent.kind not in language.lists:
            has = f"{_article(_kind(item.field))} `{_short(item.text)}`"
        target = shape.text.decode("utf-8", "replace") if shape and shape.text else ""
        if target and target not in (")", "]", "}"):
            reason = f"{_owner(parent)} has {has} where the pattern has `{target}`"
        else:
            reason = f"{_owner(parent)} has {has}, the pattern has none"
            if parent.kind in language.lists | language.bodies:
                reason += ": `@{rest*}` would take it"
        return self.part(item, reason)


def _spliced(shapes: tuple[PatternNode, ...]) -> tuple[PatternNode, ...]:
    """Return shapes with the code of parts that may be missing in the place of these."""
    return tuple(
        item for shape in shapes for item in (shape.items if shape.is_optional else (shape,))
    )


def _owner(parent: Node) -> str:
    """Name what a list belongs to: arguments to their call, statements to what holds the body."""
    language = parent.tree.language
    above = parent.parent
    if parent.kind in language.lists | language.bodies and parent.field and above is not None:
        return f"the {_kind(above.kind)}"
    return f"the {_kind(parent.kind)}"


def _shape(shape: PatternNode) -> str:
    if shape.hole is not None:
        return f"`{shape.notation}`"
    if shape.meaning:
        return f"`@<{shape.meaning}>`"
    if shape.text is not None:
        return f"`{shape.text.decode('utf-8', 'replace')}`"
    return _article(_kind(shape.kind))


def _kind(kind: str) -> str:
    return kind.replace("_", " ")


def _article(noun: str) -> str:
    if noun.endswith("s") and not noun.endswith("ss"):
        return noun
    return f"{'an' if noun[:1] in 'aeiou' else 'a'} {noun}"


def _describe(node: Node) -> str:
    if not node.named:
        return f"`{_short(node.text)}`"
    return f"the {_kind(node.kind)} `{_short(node.text)}`"


def _short(text: str) -> str:
    line = " ".join(text.split())
    return line if len(line) <= _SHORT else line[: _SHORT - 3] + "..."
