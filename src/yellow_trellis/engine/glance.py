"""A look at a few files by one pattern, without all that a run over a code base takes to load."""

from __future__ import annotations

import os
from collections.abc import Iterable
from typing import TYPE_CHECKING

from yellow_trellis.engine.home import HOME, MARK
from yellow_trellis.engine.limits import limited
from yellow_trellis.engine.wanted import LARGEST, USUAL
from yellow_trellis.languages import language_of
from yellow_trellis.patterns.match import Match, holes_of
from yellow_trellis.patterns.pattern import Pattern
from yellow_trellis.patterns.search import may_hold, seek
from yellow_trellis.records import record
from yellow_trellis.source import Place, Sightings, Source, Unreadable, line_count
from yellow_trellis.syntax import Tree

if TYPE_CHECKING:
    from yellow_trellis.engine.notices import Problem
    from yellow_trellis.engine.reports import FileReport

FEW = 3
"""Files up to which a look costs less than getting ready for a run."""
_PECULIAR = (b"trellis:", b"generated")
"""Words in a file that a run has more to say to: it may be left alone, in parts or as a whole."""


@record(frozen=True)
class Sight:
    """A place where the pattern fits, as it is shown: as much of a finding as there is to tell."""

    path: str
    start: Place
    end: Place
    line: str
    """The first line of the code."""
    holes: tuple[tuple[str, str], ...]
    """What each hole took, on one line."""
    left_out: int = 0
    """How many characters of the line stand before what `line` has of it."""


@record(frozen=True)
class Looked:
    """A file that was looked at."""

    path: str
    lines: int
    findings: tuple[Sight, ...]


@record(frozen=True)
class Glance:
    """What was seen; it answers to what is asked of a run."""

    reports: list[Looked]

    @property
    def findings(self) -> list[Sight]:
        """All places, by path and place."""
        return [one for report in self.reports for one in report.findings]

    @property
    def lines(self) -> int:
        """How many lines were looked at."""
        return sum(report.lines for report in self.reports)

    @property
    def changed(self) -> list[FileReport]:
        """Nothing: it changes no file."""
        return []

    @property
    def problems(self) -> list[Problem]:
        """Nothing: where there are any, it takes a run."""
        return []


def glance(paths: Iterable[str], pattern: Pattern) -> Glance | None:
    """Return what a run with `pattern` alone finds in some files, holes and all.

    Returns: None where it takes a run to say: of no or of many files, of folders, of what cannot be
    read as it is or lies outside of the current folder, where an apply was cut short, and for
    patterns that ask for what names mean, or that a limit of time may have to stop.
    Errors: `OutOfTime`, for a file that takes too long.
    """
    named = sorted({os.path.normpath(path) for path in paths})
    inside = os.path.join(os.getcwd(), "")
    if not named or not all(os.path.abspath(path).startswith(inside) for path in named):
        return None
    if os.path.exists(os.path.join(HOME, MARK)):
        return None
    if len(named) > FEW or pattern.meant or pattern.asks_for_text:
        return None
    if not all(map(os.path.isfile, named)):
        return None
    reports = []
    for path in named:
        with limited(USUAL.file):
            report = _looked_at(path, pattern)
        if report is None:
            return None
        reports.append(report)
    return Glance(reports)


def _looked_at(path: str, pattern: Pattern) -> Looked | None:
    tongue = pattern.language
    if language_of(path) != tongue.name:
        return None
    try:
        with open(path, "rb") as file:
            raw = file.read(LARGEST + 1)
        if len(raw) > LARGEST or any(word in raw.lower() for word in _PECULIAR):
            return None
        source = Source.read(raw, path=path, declarations=tongue.declares_encoding)
        seen = Sightings(source.data)
        matches: list[Match] = []
        if may_hold(pattern, seen):
            matches += seek(pattern, Tree(source, tongue, sightings=seen))
        return Looked(path, line_count(raw), tuple(_sight(source, one) for one in matches))
    except (OSError, Unreadable, RecursionError, MemoryError):
        return None


def _sight(source: Source, match: Match) -> Sight:
    start, end, line = source.lines.shown(*match.span)
    holes = tuple((name, " ".join(code.split())) for name, code in holes_of(match))
    return Sight(source.path, start, end, line.text, holes, line.left_out)
