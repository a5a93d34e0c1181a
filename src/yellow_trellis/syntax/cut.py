"""Nodes of a tree of which not all is parsed: they take note of who asks for the rest."""

from __future__ import annotations

from yellow_trellis.syntax.node import Node


class CutNode(Node):
    """A node of which parts may not be parsed: whoever wants more than its kind looks beyond."""

    __slots__ = ("_end",)

    @property
    def children(self) -> tuple[Node, ...]:
        self.tree.look_beyond()
        return super().children

    @property
    def items(self) -> tuple[Node, ...]:
        self.tree.look_beyond()
        return super().items

    @property
    def end(self) -> int:
        """Where it ends, as far as it is parsed."""
        only = self.tree.only
        if only is None or not only.is_end(self._end):
            self.tree.look_beyond()
        return self._end

    @end.setter
    def end(self, value: int) -> None:
        self._end = value


class UnknownNode(CutNode):
    """The root of a tree of statements without what is around them: it stands for all of that."""

    __slots__ = ("_kind", "_start")

    @property
    def kind(self) -> str:
        """What it would be if nothing were around them."""
        self.tree.look_beyond()
        return self._kind

    @kind.setter
    def kind(self, value: str) -> None:
        self._kind = value

    @property
    def start(self) -> int:
        """Where the first of them starts, or the file."""
        self.tree.look_beyond()
        return self._start

    @start.setter
    def start(self, value: int) -> None:
        self._start = value

    @property
    def parent(self) -> Node | None:
        self.tree.look_beyond()
        return None
