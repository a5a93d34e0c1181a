"""Edits of one file that belong together, as semantics makes them: fixes are made of them."""

from __future__ import annotations

from typing import NamedTuple

from yellow_trellis.edits import Edit
from yellow_trellis.semantics.required_import import RequiredImport
from yellow_trellis.source import Span


class EditGroup(NamedTuple):
    """Edits to apply all or none."""

    edits: tuple[Edit, ...]
    extent: Span
    """The code they are about, in bytes."""
    imports: tuple[RequiredImport, ...] = ()
    """The imports that the new text needs."""
    clash: str = ""
    """Why its names would bind or reach another thing than meant, if they would."""
