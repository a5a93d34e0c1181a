"""Comparison of the readings of compiler and parser, where fixes find code and where they write it.

All else in the proof compares trees of the parser. Where these are not what the compiler of the
language reads, a fix was made for code that is not there, or writes code that says something else.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable
from itertools import accumulate, islice, takewhile

from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


def misread_before(tree: Tree, writes: Iterable[Span]) -> list[Span]:
    """Return the statements that the compiler reads otherwise and fixes write in.

    Arguments: `writes` are the spans that fixes write over, or insert at.
    """
    spans = sorted(writes)
    starts = [span.start for span in spans]
    ends = list(accumulate((span.end for span in spans), max))

    def is_written(start: int, end: int) -> bool:
        at = bisect_left(starts, start)
        if at and ends[at - 1] > start:
            return True
        inside = takewhile(lambda span: span.start < end, islice(spans, at, None))
        return any(span.end > start for span in inside)

    ask = tree.language.misread_statements
    return [Span(*span) for span in ask(tree.raw_root, tree.source.data, is_written)]


def misread_after(before: Tree, after: Tree) -> list[Span]:
    """Return the statements of a new text that the compiler reads otherwise.

    Statements that were there before, to the letter, are not asked about.
    """
    language = after.language
    old, new = before.source.data, after.source.data
    remaining = {new[node.start_byte : node.end_byte] for node in after.raw_root.named_children}
    known: set[bytes] = set()
    for node in before.raw_root.named_children:
        text = old[node.start_byte : node.end_byte]
        known.add(text)
        if text not in remaining:
            known.update(old[start:end] for start, end in language.spans_read(node))

    def is_new(start: int, end: int) -> bool:
        return new[start:end] not in known

    return [Span(*span) for span in language.misread_statements(after.raw_root, new, is_new)]
