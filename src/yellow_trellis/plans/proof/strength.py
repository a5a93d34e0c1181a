"""Brackets around code that its place would otherwise take apart.

A fix is made for the code that it finds. What comes of it when fixes compose is known here only:
`1 in y` in the place of a call, in what another fix has put on the right of `|`. So whether code
needs brackets is read off the tree of the new text: what was one expression has to be one still.
"""

from __future__ import annotations

from collections.abc import Iterable

from yellow_trellis.plans.proof.amendment import ProofText
from yellow_trellis.source import Span


def bracketed(draft: ProofText, loose: Iterable[Span]) -> ProofText:
    """Return the draft with brackets around each of `loose`."""
    spans = sorted(set(loose), key=lambda span: (span.start, -span.end))
    data = draft.tree.source.data
    opening = [(span.start, 1, at, b"(") for at, span in enumerate(spans)]
    closing = [(span.end, 0, -at, b")") for at, span in enumerate(spans)]
    parts, pos = [], 0
    for at, _, _, mark in sorted(opening + closing):
        parts += [data[pos:at], mark]
        pos = at

    def moved(span: Span, takes: bool) -> Span:
        start, end = span
        for item in spans:
            if item.holds(span) and not (takes and item == span):
                start, end = start + 1, end + 1
            elif span.holds(item):
                end += 2
            elif item.end <= span.start:
                start, end = start + 2, end + 2
        return Span(start, end)

    return draft.moved(b"".join([*parts, data[pos:]]), moved)
