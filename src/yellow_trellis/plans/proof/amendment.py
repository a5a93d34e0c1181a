"""Edits to a text that fixes have made, and where each byte of it is after them."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable

from msgspec import Struct, field

from yellow_trellis.edits import Edit, New
from yellow_trellis.plans.proof.claims import Region
from yellow_trellis.plans.proof.regions import Move, Replacement
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


class ProofText(Struct):
    """A text in the making."""

    tree: Tree
    extents: dict[int, list[Span]]
    """By number of a fix: where the code that it is about came to stand.

    Several spans where a slice was duplicated, none where it was dropped.
    """
    regions: list[Region]
    """Where all that the fixes claim is."""
    replaced: list[Replacement]
    """What the fixes say they replace."""
    added: list[Span] = field(default_factory=list)
    """What no fix has made, such as a statement in a body that would be empty."""

    def moved(self, data: bytes, move: Move, added: Iterable[Span] = ()) -> ProofText:
        """Return the draft with another text, in which `move` says where all that was is now.

        Arguments: `added` are spans of the new text that no fix has made.
        """
        extents = {fix: [move(span, True) for span in all_] for fix, all_ in self.extents.items()}
        regions = [region._replace(new=move(region.new, True)) for region in self.regions]
        replaced = [item.moved(move) for item in self.replaced]
        old = [move(span, True) for span in self.added]
        return ProofText(self.tree.with_data(data), extents, regions, replaced, [*old, *added])


class _Amendment:
    """Edits of new text that lie apart from each other, applied to the text of `tree`.

    What an edit inserts at a byte stands before that byte.
    """

    def __init__(self, tree: Tree, edits: Iterable[Edit]) -> None:
        data = tree.source.data
        parts: list[bytes] = []
        self._ends: list[int] = []
        self._shifts = [0]
        self.added: list[Span] = []
        """The spans of the new text that the edits made."""
        pos = 0
        for edit in sorted(edits, key=lambda e: e.span):
            start, end = max(edit.span.start, pos), max(edit.span.end, pos)
            text = "".join(p.text for p in edit.pieces if isinstance(p, New)).encode()
            new = text.replace(b"\n", tree.source.newline_at(start))
            parts += [data[pos:start], new]
            at = start + self._shifts[-1]
            self.added.append(Span(at, at + len(new)))
            self._ends.append(end)
            self._shifts.append(self._shifts[-1] + len(new) - (end - start))
            pos = end
        self.data = b"".join([*parts, data[pos:]])

    def moved(self, span: Span, _: bool) -> Span:
        """Return where a span of the text before is in the text after."""
        start, end = (at + self._shifts[bisect_right(self._ends, at)] for at in span)
        return Span(start, end)


def amended(draft: ProofText, edits: list[Edit]) -> ProofText:
    """Return `draft` with `edits`."""
    if not edits:
        return draft
    result = _Amendment(draft.tree, edits)
    return draft.moved(result.data, result.moved, result.added)
