"""Options of a run: one value, from whoever asks for it to the worker that looks at a file."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from msgspec import Struct, field

from yellow_trellis.project.file_options import EVERYTHING, FileFilter
from yellow_trellis.rules.known_findings import KnownFinding

Mode = Literal["survey", "rework", "trial"]
"""``survey`` to find and to check fixes against each other, ``rework`` to apply them, round after
round, ``trial`` to do that and to try the rules on each other."""

Versions = tuple[tuple[str, tuple[int, int]], ...]


class SyntaxChecks(Struct, frozen=True):
    """Requirements on changed files beyond the compiler that the library runs in.

    `versions` are pairs of a language and the oldest version of it that they must be read by, as
    (3, 9); `commands` are pairs of a language and a command that gets the path of a changed file as
    its last word.
    """

    versions: Versions = ()
    commands: tuple[tuple[str, str], ...] = ()


def python_versions(version: tuple[int, int] | None) -> Versions:
    """Return the requirement that changed files be read by a version of Python, if one is given."""
    return (("python", version),) if version is not None else ()


class Limits(Struct, frozen=True):
    """Seconds for one rule on one file and for one file as a whole, bytes for a worker process.

    None is no limit.
    """

    rule: float | None = 20.0
    file: float | None = 120.0
    memory: int | None = None


class RunOptions(Struct, frozen=True, kw_only=True):
    """Options of a run."""

    mode: Mode = "survey"
    """Whether it finds, or also makes the new text of each file."""
    with_review: bool = False
    """Whether fixes that may change behaviour are applied too."""
    with_holes: bool = False
    """Whether each finding shows what the holes of its pattern took."""
    with_marks: bool = False
    """Whether each finding gets a mark by which it is known after edits."""
    with_details: bool = False
    """Whether a survey also tells the edits of fixes, and what comments leave alone."""
    whole_files: bool = False
    """Whether every file with a candidate rule is parsed whole: no shortcut is taken."""
    file_filter: FileFilter = EVERYTHING
    """Which of the files to look at, and of what size at most."""
    limits: Limits = Limits()
    """What one file may cost."""
    syntax: SyntaxChecks = SyntaxChecks()
    """What changed files are held to; its commands are for `write_changes`."""
    cache: bool = False
    """Whether what is known from earlier runs is used, and what is found kept; of a few named files
    no reports are kept, as they are looked at sooner."""
    accepted: Mapping[str, tuple[KnownFinding, ...]] = field(default_factory=dict)
    """By path of a file as the run has it: the findings in it that no fix is applied for."""
    timed: bool = False
    """Whether each report says what the parts of the work took."""
    workers: int | None = None
    """How many processes; as many as there are processors if None, none of them started where the
    code is too small to be worth it, but one where rules are programs or `limits` has a memory.
    Rules given as a `Ruleset` are used in this process, as functions cannot be sent to another."""

    def of_report(self) -> tuple[object, ...]:
        """Return those that the report of a file depends on."""
        flags = (self.with_review, self.with_holes, self.with_marks, self.with_details)
        of_files = self.file_filter.generated, self.file_filter.empty_macros
        accepted = sorted(self.accepted.items())
        return self.mode, flags, self.whole_files, self.syntax.versions, of_files, accepted


USUAL = RunOptions()
