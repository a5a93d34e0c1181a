"""A trace of the parts of a code base that one file's findings depend on."""

from __future__ import annotations

from typing import NamedTuple

from msgspec import Struct, field


_MOST = 200
"""Of a file that asked about more modules than this, the whole code base is taken to matter."""


class Dependencies(NamedTuple):
    """The dependencies of the findings in a file beside the file itself.

    `modules` are paths with the mark of what was known of each; `whole` says that anything in the
    code base may matter.
    """

    modules: tuple[tuple[str, str], ...] = ()
    whole: bool = False


class DependencyTrace(Struct):
    """Gathers what is asked for."""

    is_used: bool = False
    """Whether the code base was asked for anything at all."""
    whole: bool = False
    marks: dict[str, str] = field(default_factory=dict)

    def settled(self) -> Dependencies | None:
        """Return what was asked for; None if nothing was."""
        if not self.is_used:
            return None
        if self.whole or len(self.marks) > _MOST:
            return Dependencies(whole=True)
        return Dependencies(tuple(sorted(self.marks.items())))
