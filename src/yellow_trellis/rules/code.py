"""What a code rule is handed: one file's tree, to seek in and to report on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Union

from yellow_trellis.fixes import FixBuilder
from yellow_trellis.patterns import Match, compile_pattern, seek
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree

Where = Union[Node, Match, tuple[Node, ...]]
"""A place in the code: a node, a match, or what a hole of several took."""


@dataclass(frozen=True, slots=True)
class Draft:
    """A finding before its rule has signed it."""

    span: Span
    message: str | None
    fixes: tuple[FixBuilder, ...]


class Code:
    """One file, as a rule sees it."""

    def __init__(self, tree: Tree) -> None:
        self.tree = tree

    @property
    def root(self) -> Node:
        """The node of the whole file."""
        return self.tree.root

    @property
    def path(self) -> str:
        """The file's path, for messages."""
        return self.tree.source.path

    def seek(self, where: Where | None, pattern: str) -> Iterator[Match]:
        """Yield the matches of `pattern` inside `where`, or in the whole file for None.

        Errors: `PatternError`.
        """
        compiled = compile_pattern(pattern, self.tree.language)
        if where is None:
            return seek(compiled, self.tree)
        if isinstance(where, tuple) and not where:
            return iter(())
        return seek(compiled, self.tree, span_of(where))

    def contains(self, where: Where | None, pattern: str) -> bool:
        """Tell whether `pattern` matches anywhere inside `where`."""
        return next(self.seek(where, pattern), None) is not None

    def finding(
        self, at: Where, message: str | None = None, fixes: Iterable[FixBuilder] = ()
    ) -> Draft:
        """Report `at`.

        Arguments: `message` says what is wrong there (the rule's summary if left out); `fixes`
        are offered to choose from, the best first.
        """
        return Draft(span_of(at), message, tuple(fixes))


def span_of(where: Where) -> Span:
    """Return the bytes of a place.

    Errors: `ValueError` for an empty run, which is nowhere.
    """
    if isinstance(where, tuple):
        if not where:
            raise ValueError("an empty run of nodes is no place")
        return Span(where[0].start, where[-1].end)
    return where.span
