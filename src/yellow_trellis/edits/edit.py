"""Edits: spans replaced by pieces, each piece new text or a slice that is kept."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple, Union

from msgspec import Struct

from yellow_trellis.source import Span

Side = Literal["before", "after"]
Order = Union[int, str]
"""Which of several insertions at one point comes first: numbers before texts."""


class New(NamedTuple):
    """New text. Each ``\\n`` becomes the line ending of the file."""

    text: str


class Slice(NamedTuple):
    """A slice of the original, moved or left in place, with whatever other fixes do inside it.

    `indent` is a pair (old, new): the start of each further line changes from one to the other.
    """

    span: Span
    indent: tuple[str, str] | None = None


Piece = Union[New, Slice]


class Edit(Struct, frozen=True):
    """`span`, in bytes, replaced by `pieces`.

    An edit of an empty span is an insertion. It clings to `anchor`, code that starts or ends
    there, on the given `side` of it: it moves with that code. Of several insertions that cling to
    the same code, `order` says which comes first.
    """

    span: Span
    pieces: tuple[Piece, ...] = ()
    anchor: Span | None = None
    side: Side | None = None
    order: Order | None = None

    def __post_init__(self) -> None:
        if self.span.start > self.span.end:
            raise ValueError(f"an edit cannot end before it starts: {self.span}")
        if self.span.start == self.span.end:
            edge = None
            if self.anchor is not None:
                edge = self.anchor.start if self.side == "before" else self.anchor.end
            if edge != self.span.start:
                raise ValueError("an insertion needs the code it clings to, and the side of it")

    @property
    def inserts(self) -> bool:
        """Return whether the edit only inserts."""
        return self.span.start == self.span.end

    @classmethod
    def at(cls, span: Span, follow: Span, *pieces: Piece) -> Edit:
        """Put `pieces` where `span` is, which ends where the code `follow` starts."""
        return cls(span, pieces) if span.start < span.end else cls.before(follow, *pieces)

    @classmethod
    def before(cls, anchor: Span, *pieces: Piece, order: Order | None = None) -> Edit:
        """Insert `pieces` directly before the code `anchor`."""
        return cls(Span(anchor.start, anchor.start), pieces, anchor, "before", order)

    @classmethod
    def after(cls, anchor: Span, *pieces: Piece, order: Order | None = None) -> Edit:
        """Insert `pieces` directly after the code `anchor`."""
        return cls(Span(anchor.end, anchor.end), pieces, anchor, "after", order)


def joined_pieces(pieces: Iterable[Piece]) -> Iterator[Piece]:
    """Yield pieces with new text that stands in a row made one."""
    text = ""
    for piece in pieces:
        if isinstance(piece, New):
            text += piece.text
            continue
        if text:
            yield New(text)
            text = ""
        yield piece
    if text:
        yield New(text)
