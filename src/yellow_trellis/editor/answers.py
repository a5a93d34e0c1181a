"""Answers about open files and workspaces: plain data, which goes between processes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple, get_args

if TYPE_CHECKING:
    from yellow_trellis.editor.text_change import TextChange
    from yellow_trellis.editor.positions import Range
    from yellow_trellis.findings.finding import Level
    from yellow_trellis.fixes import Safety

Scope = Literal["line", "definition", "file"]
"""What a comment leaves alone."""

SCOPES: tuple[Scope, ...] = get_args(Scope)

REASON = "(say why)"
"""What stands for the reason of such a comment until somebody writes it."""


class OpenFinding(NamedTuple):
    """A finding as an editor shows it."""

    rule: str
    level: Level
    range: Range
    message: str
    fixes: tuple[tuple[str, Safety], ...]
    """Titles and safety of its fixes."""
    tags: tuple[str, ...]
    page: str
    """Where the rule is explained: the path of its file, and the line."""


class OpenFindings(NamedTuple):
    """The findings in an open file, and what could not be looked at."""

    findings: tuple[OpenFinding, ...] = ()
    problems: tuple[str, ...] = ()


class Location(NamedTuple):
    """A range in a file."""

    path: str
    range: Range


class Related(NamedTuple):
    """Another place that has to do with the findings of a rule at a range."""

    rule: str
    range: Range
    message: str
    other: Location


class WorkspaceFindings(NamedTuple):
    """The findings in all files of a workspace, and what could not be looked at."""

    findings: dict[str, tuple[OpenFinding, ...]]
    """By path: those of the files that have any."""
    problems: tuple[str, ...] = ()


class WorkspaceChanges(NamedTuple):
    """The changes of several files that belong together, and what is to be told of the rest."""

    changes: dict[str, list[TextChange]]
    notes: tuple[str, ...] = ()


class WrittenRule(NamedTuple):
    """A rule of a rule file: its name, and its line, from 0."""

    name: str
    line: int


class RuleMatches(NamedTuple):
    """The places that a rule of a rule file finds, and in words those that it passes over."""

    places: list[PatternPlace]
    opened: str = ""


class PatternPlace(NamedTuple):
    """A place that a rule finds, as a line of a list shows it: places from 1, in characters."""

    location: Location
    line: int
    column: int
    message: str
