"""Finding fingerprint, stable under edits of other lines."""

from __future__ import annotations

from collections.abc import Iterator
from hashlib import blake2b
from typing import NamedTuple

from yellow_trellis.findings.finding import Finding
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.equivalence import code_key

_NEAR, _WIDER = 2, 12
"""How many statements on each side stand around a finding, and how many in its neighbourhood."""


class Fingerprint(NamedTuple):
    """The identity of a finding without places: space, comments and line breaks do not count."""

    scope: str
    """The names of the definitions around it, with dots; with a colon behind the last one where it
    is about that definition as a whole."""
    steps: str
    """The way to its statement from there: which statement of each body, from 0, with dots."""
    code: str
    """A digest of the code, that of bodies inside aside."""
    around: tuple[str, ...]
    """Digests of the statements next to it, and of what its body belongs to."""
    wider: tuple[str, ...] = ()
    """The same for more statements, as others may have come between; not kept in a baseline."""


class Fingerprints:
    """The fingerprints of findings in one tree; what several share is worked out once."""

    def __init__(self, tree: Tree) -> None:
        self._tree = tree
        self._bodies = tree.language.bodies
        self._digests: dict[Node, str] = {}
        self._places: dict[Node, dict[Node, int]] = {}

    def of(self, finding: Finding) -> Fingerprint:
        """Return the fingerprint of a finding."""
        span = finding.span
        node = self._tree.leaf_at(span.start, max(span.end, span.start + 1)) or self._tree.root
        if node.kind in self._bodies:  # several statements, or the whole file
            items = node.items
            nodes = [item for item in items if span.start <= item.start and item.end <= span.end]
        else:
            nodes = [node]
        code = [code_key(node.outermost, self._bodies) for node in nodes] or [node.kind]
        start = nodes[0] if nodes else node
        scope, owner = _scope(start)
        return Fingerprint(
            scope,
            self._steps(start, owner),
            _digest(code, 6),
            tuple(self._around(start, _NEAR)),
            tuple(self._around(start, _WIDER)),
        )

    def _steps(self, node: Node, owner: Node | None) -> str:
        steps: list[int] = []
        while node is not owner and (above := node.parent) is not None:
            if above.kind in self._bodies:
                steps.append(self._place(node, above))
            node = above
        return ".".join(map(str, reversed(steps)))

    def _around(self, node: Node, near: int) -> Iterator[str]:
        """Yield digests of up to `near` statements on each side, and of what holds the body."""
        node = node.statement
        body = node.parent
        if body is None:
            return
        items = body.items
        at = self._place(node, body)
        for item in (*items[max(at - near, 0) : at], *items[at + 1 : at + 1 + near]):
            yield self._digest_of(item)
        if body.parent is not None:
            yield self._digest_of(body.parent)

    def _place(self, node: Node, body: Node) -> int:
        """Return which item of a body a node is, from 0."""
        places = self._places.get(body)
        if places is None:
            places = self._places[body] = {item: at for at, item in enumerate(body.items)}
        return places[node]

    def _digest_of(self, node: Node) -> str:
        digest = self._digests.get(node)
        if digest is None:
            digest = self._digests[node] = _digest(code_key(node, self._bodies), 4)
        return digest


def _scope(node: Node) -> tuple[str, Node | None]:
    """Return the names of the definitions around `node`, and the innermost; None for the file."""
    language = node.tree.language
    kinds = (language.family("function") or frozenset()) | (language.family("class") or frozenset())
    results = [node.bare, *node.bare.ancestors()]
    names = [
        (above, name.text)
        for above in results
        if above.kind in kinds and (name := above.child("name")) is not None
    ]
    itself = ":" if names and names[0][0] is node.bare else ""
    return ".".join(name for _, name in reversed(names)) + itself, names[0][0] if names else None


def _digest(key: object, size: int) -> str:
    return blake2b(repr(key).encode(), digest_size=size).hexdigest()
