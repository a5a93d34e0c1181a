"""Precedence of expressions as tables: what holds together how strongly, and what a place asks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple, TypeVar

from msgspec import Struct, field


if TYPE_CHECKING:
    from typing import Protocol

    class ExpressionNode(Protocol):
        """As much of a node as the tables look at."""

        @property
        def kind(self) -> str:
            """Return the kind of the node."""
            ...

        def child(self, field: str) -> ExpressionNode | None:
            """Return the first child in the field `field`."""
            ...

        @property
        def children(self) -> Sequence[ExpressionNode]:
            """All children, tokens too."""
            ...


Place = tuple[str, "str | None"]
"""Kind of a node and one of its fields; None for all fields that are not named."""

T = TypeVar("T")


def places(table: Mapping[T, str]) -> dict[Place, T]:
    """Return by place what is said of several: ``{1: "kind.field kind"}`` read the other way."""
    result: dict[Place, T] = {}
    for value, texts in table.items():
        for text in texts.split():
            kind, _, field_name = text.partition(".")
            result[kind, field_name or None] = value
    return result


def strengths(table: Mapping[int, str]) -> dict[str, int]:
    """Return by kind or operator what is said of several: ``{14: "+ -"}`` read the other way."""
    return {text: value for value, texts in table.items() for text in texts.split()}


class Demand(NamedTuple):
    """The demand of a place on an expression in it that has no brackets around."""

    least: int = 0
    """The strength it needs; where that is within `Precedence.loose`, a set of flags."""
    refused: frozenset[str] = frozenset()
    """Kinds that need brackets there although they are strong enough."""


ANYTHING = Demand()


class Precedence(Struct, frozen=True, eq=False):
    """The strengths of expressions, the weakest lowest, and the demands of their places.

    Expressions that may stand without brackets in some places only, and in no order of strength,
    have one bit each of `loose`: such a place asks for the bits that it takes.
    """

    primary: int = 100
    """The strength of what no table names."""
    kinds: Mapping[str, int] = field(default_factory=dict)
    """By kind: its strength."""
    operations: frozenset[str] = frozenset()
    """Kinds whose strength is that of the token in their field ``operator``."""
    operators: Mapping[str, int] = field(default_factory=dict)
    """By operator: its strength. Its left operand must be as strong, its right one stronger."""
    operands: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    """By operator: what its operands must be instead, left and right."""
    places: Mapping[Place, int] = field(default_factory=dict)
    """By kind of the parent and field (None: any other): what is asked for there."""
    refused: Mapping[Place, frozenset[str]] = field(default_factory=dict)
    """By kind and field: kinds that need brackets there although they are strong enough."""
    elsewhere: int = 0
    """What all other places ask for."""
    chains: frozenset[str] = frozenset()
    """Kinds of links of a chain that ends as a whole where `chain_mark` says: what is joined to it
    is part of it, so that it needs brackets at the start of another."""
    chain_mark: str = ""
    loose: int = 0
    """All bits of expressions in no order."""

    def strength(self, node: ExpressionNode) -> int:
        """Return how strongly an expression holds together."""
        if node.kind in self.operations:
            operator = node.child("operator")
            return self.operators.get(operator.kind if operator else "", self.primary)
        if node.kind in self.chains and self._is_marked(node):
            return self.primary - 1
        return self.kinds.get(node.kind, self.primary)

    def _is_marked(self, node: ExpressionNode) -> bool:
        """Return whether a link of a chain, or one before it, bears the mark."""
        link: ExpressionNode | None = node
        while link is not None and link.kind in self.chains:
            if any(child.kind == self.chain_mark for child in link.children):
                return True
            link = link.child("object") or link.child("function")
        return False

    def demand(self, parent: ExpressionNode, field: str | None) -> Demand:
        """Return what the place `field` in the node `parent` asks of an expression in it."""
        place = (parent.kind, field)
        key = place if place in self.places else (parent.kind, None)
        refused = self.refused.get(place) or self.refused.get((parent.kind, None), frozenset())
        if key in self.places:
            return Demand(self.places[key], refused)
        if parent.kind not in self.operations:
            return Demand(self.elsewhere, refused)
        operator = token.kind if (token := parent.child("operator")) else ""
        own = self.operators.get(operator, self.primary)
        left, right = self.operands.get(operator, (own, own + 1))
        return Demand(left if field in ("left", "lhs") else right, refused)

    def stands_bare(self, node: ExpressionNode, demand: Demand) -> bool:
        """Return whether an expression needs no brackets in a place that asks for `demand`."""
        strength = self.strength(node)
        if node.kind in demand.refused:
            return False
        if demand.least <= self.loose:
            return strength > self.loose or bool(strength & demand.least)
        return strength >= demand.least
