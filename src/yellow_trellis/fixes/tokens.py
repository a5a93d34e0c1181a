"""The tokens of a match and of a template as one kind of thing, so that they can be aligned."""

from __future__ import annotations

from collections.abc import Container, Iterator
from typing import NamedTuple

from yellow_trellis.languages import Language
from yellow_trellis.patterns import Match
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.comment_ownership import run_reach
from yellow_trellis.syntax.equivalence import are_idle_brackets


class Unit(NamedTuple):
    """A token, or all that a hole took, in the code of a match."""

    sign: str
    """What it is aligned by: the token, or ``@name`` for a hole."""
    span: Span
    nodes: tuple[Node, ...]
    free: bool = False
    """Whether the code would mean the same without it: a last comma, redundant brackets."""

    @property
    def hole(self) -> bool:
        """Return whether the token is what a hole took."""
        return self.sign.startswith("@") and len(self.sign) > 1 and self.sign[1] != "="


_CLOSING = (")", "]", "}")


LAST_SEPARATOR = ",$"
"""The sign of a separator behind the last item of a list."""


def depth_of(node: Node) -> int:
    """Return in how many bodies a node stands; what closes one stands outside of it."""
    bodies = node.tree.language.bodies
    return sum(above.kind in bodies for above in node.ancestors()) - closes_body(node)


def closes_body(node: Node) -> bool:
    """Return whether a node is the token behind the statements of a body: a brace."""
    above = node.parent
    if above is None or node.named or above.kind not in above.tree.language.bodies:
        return False
    return node.end == above.end and node.kind not in above.tree.language.separators


def stands_in_body(node: Node) -> bool:
    """Return whether a node is a statement of a body."""
    place = node.outermost
    return place.parent is not None and place.parent.kind in node.tree.language.bodies


def run_span(run: tuple[Node, ...]) -> Span:
    """Return what is moved when `run` is: statements take along the comments they own."""
    parent = run[0].parent
    if parent is not None and parent.kind in parent.tree.language.bodies:
        return run_reach(run)
    return Span(run[0].start, run[-1].end)


def token_sign(node: Node, language: Language) -> str:
    """Return what a token is aligned by: other quotes, or another spelling, are no other token."""
    if language.same_kind(node.kind) in language.delimiters:
        return "quote " + node.text.strip("'\"").lower()
    if language.is_literal(node.kind):
        try:
            return f"{language.same_kind(node.kind)} {language.literal_forms.value(node.text)!r}"
        except ValueError:
            return node.text
    return node.folded.decode("utf-8", "surrogateescape")


def units_of(match: Match, written: Container[str]) -> list[Unit]:
    """Return the units of the matched code in source order; comments are none.

    Arguments: `written` are the names of the holes of the template: of a part of a head that is
    not among them the tokens are units.
    """
    gone = {p.hole.name for p in match.pattern.parts if p.hole.name not in written}
    singles: dict[int, str] = {}
    runs: dict[int, tuple[str, tuple[Node, ...]]] = {}
    until = -1
    for key, take in match.takes.items():
        if key in gone:
            continue
        if isinstance(take, Node):
            singles[id(take)] = key
        elif take:
            runs[id(take[0])] = (key, take)
    units: list[Unit] = []
    language = match.tree.language
    asks_brackets = any(root.asks_brackets for root in match.pattern.roots)

    def visit(node: Node, free: bool) -> None:
        key = singles.get(id(node))
        if key is not None:
            units.append(Unit(_sign(key), run_span((node,)), (node,)))
        elif not node.children or (
            language.is_literal(node.kind) and not any(id(c) in singles for c in node.children)
        ):
            if node.end > node.start:
                units.append(Unit(token_sign(node, language), node.span, (node,), free))
        else:
            meant = _is_head(node) or (asks_brackets and are_idle_brackets(node))
            visit_all(node.children, node.items, meant)

    def visit_all(
        children: tuple[Node, ...], items: tuple[Node, ...], needs_all: bool = False
    ) -> None:
        targets = {id(item) for item in items}
        nonlocal until
        last = max((item.start for item in items if item.kind not in _CLOSING), default=-1)
        for child in children:
            if child.start < until or child.is_comment:
                continue
            if id(child) in runs:
                key, run = runs[id(child)]
                span = run_span(run)
                until = span.end  # a last separator goes with the comment behind it
                units.append(Unit(_sign(key), span, run))
            else:
                between = child.kind in language.separators and child.start < last
                visit(child, not needs_all and id(child) not in targets and not between)

    if len(match.nodes) == 1:
        visit(match.node, False)
    else:
        parent = match.node.parent
        assert parent is not None
        inside = tuple(c for c in parent.children if match.span.holds(c.span))
        visit_all(inside, match.nodes)
    return units


def _is_head(node: Node) -> bool:
    """Return whether a node is the head of a statement, with brackets that belong to that."""
    language, above = node.tree.language, node.parent
    return above is not None and node.kind in language.brackets and (
        above.kind in language.bracketed_heads
    )


def _sign(key: str) -> str:
    return "@" + key.partition("#")[0] if not key.startswith("_#") else "@" + key


def bracket_pairs(units: list[Unit]) -> Iterator[tuple[int, int]]:
    """Yield the positions of redundant brackets, opening and closing."""
    open_at: list[int] = []
    for at, unit in enumerate(units):
        if unit.free and unit.sign == "(":
            open_at.append(at)
        elif unit.free and unit.sign == ")" and open_at:
            yield open_at.pop(), at
