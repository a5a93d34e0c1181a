"""The model of a fix: edits that go together, and what the proof has to know of them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple

from msgspec import Struct

from yellow_trellis.edits import Edit
from yellow_trellis.semantics import RequiredImport
from yellow_trellis.source import Span

if TYPE_CHECKING:
    from yellow_trellis.patterns import Pattern

Safety = Literal["safe", "review"]


class TemplateUse(NamedTuple):
    """A template in the place of some code."""

    span: Span
    """The code, in bytes."""
    shape: Pattern
    """What must match in the new text where `span` was."""
    keeps: tuple[Span, ...]
    """What holes took that stand in the template, in place or elsewhere."""
    runs: frozenset[Span]
    """Those of them that are neighbours in a list or body, of whatever number."""
    edits: tuple[Edit, ...]


class Fix(Struct, frozen=True):
    """Edits that go together, all or none."""

    title: str
    edits: tuple[Edit, ...]
    extent: Span
    """The code the fix is about; at least all spans of its edits."""
    safety: Safety = "safe"
    drops_comments: bool = False
    """Whether comments in replaced code may be lost."""
    imports: tuple[RequiredImport, ...] = ()
    """What the new text needs to be imported."""
    width: int | None = None
    """How long a line may get, in characters, before a list that the fix wrote is broken."""
    clash: str = ""
    """Why its names would bind or reach another thing than meant, if they would."""
    fault: str = ""
    """Why it cannot be made, if it cannot."""
    puts: tuple[TemplateUse, ...] = ()
    """The templates in it, with those of its edits that make them."""
