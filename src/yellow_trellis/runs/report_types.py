"""Parts of a report beside its findings: outcomes, changes and problems."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from yellow_trellis import plans
from yellow_trellis.notebook_html import Diff
from yellow_trellis.source import Place
from yellow_trellis.source.diff import Hunk


class Problem(NamedTuple):
    """Something that could not be handled: where, and why. It costs exit status 3."""

    path: str
    reason: str
    rule: str = ""
    place: Place | None = None
    """The place in the file, where one is known."""
    is_doubtful: bool = False
    """Whether nobody but our parser sees anything wrong with the code: it costs no status then."""

    @property
    def costs_file(self) -> bool:
        """Return whether nothing of the file was handled."""
        return not self.rule and self.place is None

    def where(self, path: str) -> str:
        """Return the place as it is shown, in a file that is shown as `path`."""
        return path if self.place is None else f"{path}:{self.place}"


def certain(problems: Iterable[Problem]) -> list[Problem]:
    """Return those of the problems that cost exit status 3."""
    return [problem for problem in problems if not problem.is_doubtful]


class TextEdit(NamedTuple):
    """New text in place of the text between two places: lines and characters from 1."""

    start: Place
    end: Place
    text: str


class OutcomeRecord(NamedTuple):
    """The outcome of a finding, as it is shown."""

    rule: str
    state: plans.State
    start: Place
    reason: str
    round: int
    knock_on: bool = False
    """Whether a fix of this run caused the finding."""


class Change(NamedTuple):
    """A file's new bytes, and how to tell that it is still what was read."""

    path: str
    language: str
    """The name of the language that the file was read in."""
    digest: str
    """SHA-256 of the bytes read, in hexadecimal."""
    raw: bytes
    hunks: tuple[Hunk, ...]
    codec: str
    patch: bytes
    """The unified diff."""
    together: frozenset[str] = frozenset()
    """The rules in it whose fixes belong together with those in other files."""

    @property
    def diff(self) -> Diff:
        """The unified diff as text; bytes that are no UTF-8 are shown as question marks."""
        return Diff(self.patch.decode("utf-8", "replace"))
