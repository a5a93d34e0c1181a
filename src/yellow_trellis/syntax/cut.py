"""Nodes of a tree of which not all is parsed: they take note of who asks for the rest."""

from __future__ import annotations

from yellow_trellis.syntax.node import Node


class HeadNode(Node):
    """A statement, or a clause, of which only the header is parsed: where it ends is not known."""

    __slots__ = ("_end",)

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

    @property
    def _parsed_end(self) -> int:
        return self._end


class CutNode(HeadNode):
    """A node of which parts may not be parsed: whoever wants more than its kind looks beyond."""

    __slots__ = ()

    @property
    def children(self) -> tuple[Node, ...]:
        self.tree.look_beyond()
        return super().children

    @property
    def items(self) -> tuple[Node, ...]:
        self.tree.look_beyond()
        return super().items


class BodyNode(CutNode):
    """The body of a header: code that stands in it may have more around it than is parsed."""

    __slots__ = ("_start",)

    @property
    def start(self) -> int:
        """Where the first of its statements starts that is parsed."""
        self.tree.look_beyond()
        return self._start

    @start.setter
    def start(self, value: int) -> None:
        self._start = value

    @property
    def parent(self) -> Node | None:
        self.tree.look_beyond()
        return super().parent


class UnknownNode(BodyNode):
    """The root of a tree of statements without what is around them: it stands for all of that."""

    __slots__ = ("_kind",)

    @property
    def kind(self) -> str:
        """What it would be if nothing were around them."""
        self.tree.look_beyond()
        return self._kind

    @kind.setter
    def kind(self, value: str) -> None:
        self._kind = value
