"""A look at a few files by one pattern, without all that a run over a code base takes to load."""

from __future__ import annotations

import os
from collections.abc import Iterable

from yellow_trellis.engine.reports import FileReport, FindingRecord, Glance
from yellow_trellis.engine.wanted import LARGEST
from yellow_trellis.languages import language_of
from yellow_trellis.patterns.match import holes_of
from yellow_trellis.patterns.pattern import Pattern
from yellow_trellis.patterns.search import may_hold, seek
from yellow_trellis.source import Sightings, Source, Unreadable, line_count
from yellow_trellis.syntax import Tree

FEW = 3
"""Files up to which a look costs less than getting ready for a run."""
_PECULIAR = (b"trellis:", b"generated")
"""Words in a file that a run has more to say to: it may be left alone, in parts or as a whole."""


def glance(paths: Iterable[str], pattern: Pattern) -> Glance | None:
    """Return what a run with `pattern` alone reports of some files, holes and all.

    Returns: None where it takes a run to say: of folders or many files, of what cannot be read as
    it is, and for patterns that ask for what names mean, or that a limit of time may have to stop.
    """
    named = sorted({os.path.normpath(path) for path in paths})
    if len(named) > FEW or pattern.meant or pattern.asks_for_text:
        return None
    if not all(map(os.path.isfile, named)):
        return None
    reports = []
    for path in named:
        report = _looked_at(path, pattern)
        if report is None:
            return None
        reports.append(report)
    return Glance(reports)


def _looked_at(path: str, pattern: Pattern) -> FileReport | None:
    tongue = pattern.language
    if language_of(path) != tongue.name:
        return None
    try:
        with open(path, "rb") as file:
            raw = file.read(LARGEST + 1)
        if len(raw) > LARGEST or any(word in raw.lower() for word in _PECULIAR):
            return None
        source = Source.read(raw, path=path, declarations=tongue.declares_encoding)
        nothing = FileReport(path, len(raw), line_count(raw))
        seen = Sightings(source.data)
        if not may_hold(pattern, seen):
            return nothing
        tree = Tree(source, tongue, sightings=seen)
        matches = list(seek(pattern, tree))
    except (OSError, Unreadable, RecursionError, MemoryError):
        return None
    found = tuple(
        FindingRecord.of(source, one.span, "seek", "warning", "seek", holes=holes_of(one))
        for one in matches
    )
    return nothing._replace(parsed=True, findings=found)
