"""Edits: spans replaced by pieces, each piece new text or a slice that is kept."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple, Union

from msgspec import Struct
from msgspec.structs import replace

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


class Neighbour(NamedTuple):
    """The statement, body or item of a list that new ones are put beside, or around."""

    span: Span
    is_body: bool = False
    """Whether it is a body: what is put at its ends stands outside of what is at its statements."""
    is_wrapped: bool = False
    """Whether it comes to stand inside of a new statement."""
    is_template: bool = False
    """Whether a template writes it: others may change what its holes took, and no more."""

    @property
    def level(self) -> int:
        """The rank of what is put beside it: the higher stands outside; in a statement it is 0."""
        return (BESIDE_RUN if self.is_run else BESIDE_BODY) if self.is_body else 1

    @property
    def is_run(self) -> bool:
        """Return whether it is a run that a hole of a template took."""
        return self.is_body and self.is_template


BESIDE_BODY, AROUND_RUN, BESIDE_RUN = 2, 3, 4
"""Levels of what is put at the ends of a body, of the ends of a run that a hole took, into which
that goes, and of what the template itself puts beside the run."""


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
    neighbour: Neighbour | None = None
    """What new statements are about; None for new code within a statement."""

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


def put_before(
    neighbour: Neighbour | None, anchor: Span, *pieces: Piece, order: Order | None = None
) -> Edit:
    """Insert code before `anchor`: a statement or an item beside `neighbour`, if one is given."""
    return replace(Edit.before(anchor, *pieces, order=order), neighbour=neighbour)


def put_after(
    neighbour: Neighbour | None, anchor: Span, *pieces: Piece, order: Order | None = None
) -> Edit:
    """Insert code after `anchor`: a statement or an item beside `neighbour`, if one is given."""
    return replace(Edit.after(anchor, *pieces, order=order), neighbour=neighbour)


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
