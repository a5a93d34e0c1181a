"""Reports on files, findings and runs: plain data, which goes from process to process."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from msgspec import Struct, field

from yellow_trellis.data_frames import data_frame
from yellow_trellis.notebook_html import table
from yellow_trellis.project.file_options import SkippedFile
from yellow_trellis.runs.report_types import Change, OutcomeRecord, Problem, TextEdit, certain

if TYPE_CHECKING:
    from collections.abc import Iterable

    import pandas

    from yellow_trellis import plans
    from yellow_trellis.findings.finding import Level
    from yellow_trellis.fixes import Safety
    from yellow_trellis.plans import Conflict
    from yellow_trellis.project.dependency_trace import Dependencies
    from yellow_trellis.rules import Fingerprint
    from yellow_trellis.source import Place, Source, Span

COLUMNS = (
    *("rule", "level", "path", "line", "column", "end_line", "end_column", "message"),
    *("code", "fixes", "safety"),
)
"""The columns of a data frame of findings; `safety` is ``safe``, ``review`` or empty."""

_SHOWN = ("rule", "level", "place", "message")


class FindingRecord(NamedTuple):
    """A finding as it is shown: plain data, places from 1."""

    rule: str
    level: Level
    path: str
    start: Place
    end: Place
    message: str
    line: str
    """The first line of the code found; a part of it if it is long."""
    fixes: tuple[tuple[str, str], ...]
    """Title and safety of each fix offered."""
    holes: tuple[tuple[str, str], ...] = ()
    """What each hole of a declared rule's pattern took, on one line, if that was asked for."""
    mark: Fingerprint | None = None
    """By what it is known again after edits, if that was asked for."""
    left_out: int = 0
    """How many characters of the line stand before what `line` has of it."""
    edits: tuple[TextEdit, ...] = ()
    """The edits of its fix, proved, if these were asked for, and it stands for itself."""
    unfixed: str = ""
    """Why it has no such edits, though it has a fix."""
    left: str = ""
    """Why a comment leaves it alone, if one does."""

    def _repr_html_(self) -> str:
        return table(_SHOWN, [_cells(self)])

    @property
    def safety(self) -> Safety | None:
        """``safe`` with a safe fix, ``review`` with none but fixes to review, None without one."""
        if not self.fixes:
            return None
        return "safe" if any(safety == "safe" for _, safety in self.fixes) else "review"

    @property
    def identity(self) -> tuple[str, Place, Place, str]:
        """The values that tell it from the other findings of its file."""
        return self.rule, self.start, self.end, self.message

    @classmethod
    def of(
        cls,
        source: Source,
        span: Span,
        rule: str,
        level: Level,
        message: str,
        fixes: tuple[tuple[str, str], ...] = (),
        holes: Iterable[tuple[str, str]] = (),
    ) -> FindingRecord:
        """Return what is shown of a finding in `source` at the bytes of `span`."""
        start, end, line = source.lines.shown(*span)
        return cls(
            rule,
            level,
            source.path,
            start,
            end,
            message,
            line.text,
            fixes,
            tuple((name, " ".join(code.split())) for name, code in holes),
            left_out=line.left_out,
        )


def row_of(finding: FindingRecord) -> tuple[object, ...]:
    """Return the values of `COLUMNS` for a finding."""
    return (
        *(finding.rule, finding.level, finding.path, *finding.start, *finding.end),
        *(finding.message, finding.line, len(finding.fixes), finding.safety or ""),
    )


def _cells(finding: FindingRecord) -> tuple[str, str, str, str]:
    return finding.rule, finding.level, f"{finding.path}:{finding.start}", finding.message


class FileReport(NamedTuple):
    """All there is to tell of one file."""

    path: str
    size: int = 0
    lines: int = 0
    parsed: bool = False
    findings: tuple[FindingRecord, ...] = ()
    conflicts: tuple[plans.Conflict, ...] = ()
    problems: tuple[Problem, ...] = ()
    fates: tuple[OutcomeRecord, ...] = ()
    rounds: int = 0
    change: Change | None = None
    trials: tuple[plans.Trial, ...] = ()
    excused: int = 0
    """How many findings comments leave alone; they are not among the findings."""
    doubts: tuple[str, ...] = ()
    """What is wrong with such comments, each with its place."""
    left: str = ""
    """Why the file was not looked at, if it was not."""
    digest: str = ""
    """SHA-256 of the bytes read, in hexadecimal."""
    suppressed: tuple[FindingRecord, ...] = ()
    """The findings that comments leave alone, if these were asked for."""
    used: Dependencies | None = None
    """What of the code base the findings rest on; None if on the file alone."""
    phase_seconds: tuple[tuple[str, float], ...] = ()
    """What each part of the work took, if that was asked for."""
    rule_seconds: tuple[tuple[str, float], ...] = ()
    """What each rule took, if that was asked for."""

    @property
    def is_partial(self) -> bool:
        """Return whether more is missing in it than what does not parse."""
        return any(problem.place is None for problem in self.problems)

    def detailed(self, other: FileReport | None) -> FileReport:
        """Return the report with what another one, of the same bytes, tells of its fixes.

        Where that one does not have a finding, it is said why its fix was not tried.
        """
        same = other is not None and other.digest == self.digest
        known = {item.identity: item for item in other.findings} if other and same else {}
        problems = other.problems if other is not None else ()
        reason = problems[0].reason if problems else "the file changed meanwhile"
        findings = tuple(
            known.get(item.identity)
            or item._replace(unfixed=f"not tried: {reason}" if item.fixes else "")
            for item in self.findings
        )
        return self._replace(
            findings=findings, suppressed=other.suppressed if other and same else ()
        )

    @classmethod
    def failed(cls, path: str, reason: str, size: int = 0) -> FileReport:
        """Return the report of a file that could not be looked at."""
        return cls(path, size, problems=(Problem(path, reason),))


class Run(Struct):
    """The result of a run. `reports` are in the order of their paths."""

    reports: list[FileReport]
    root: Path
    """The folder that the run is rooted in: what `undo` is asked with."""
    left: list[SkippedFile] = field(default_factory=list)
    """The files that were found and not looked at, each with the reason."""
    known: int = 0
    """How many of the reports were known from an earlier run."""
    notes: list[str] = field(default_factory=list)
    """What else is to be told, of no file in particular."""
    missed: list[Problem] = field(default_factory=list)
    """The folders that could not be read, so that nobody knows what is in them."""
    seconds: dict[str, float] = field(default_factory=dict)
    """What the parts of the run took, in this process."""

    def __repr__(self) -> str:
        counts = f"{len(self.reports)} files, {len(self.findings)} findings"
        return f"<Run {counts}, {len(self.changed)} changes, {len(self.problems)} problems>"

    def _repr_html_(self) -> str:
        return table(_SHOWN, map(_cells, self.findings))

    def frame(self) -> pandas.DataFrame:
        """Return the findings as a data frame: a row each, places from 1, columns in characters.

        Errors: `DataFrameError`, where pandas is not installed.
        """
        return data_frame(COLUMNS, map(row_of, self.findings))

    @property
    def findings(self) -> list[FindingRecord]:
        """All findings, by path and place."""
        return [finding for report in self.reports for finding in report.findings]

    @property
    def problems(self) -> list[Problem]:
        """All that could not be handled."""
        return [*self.missed, *(problem for report in self.reports for problem in report.problems)]

    @property
    def unhandled(self) -> list[Problem]:
        """Those of the problems that are certain: they cost exit status 3."""
        return certain(self.problems)

    @property
    def lines(self) -> int:
        """The number of lines processed."""
        return sum(report.lines for report in self.reports)

    @property
    def conflicts(self) -> list[Conflict]:
        """All conflicts, by path."""
        return [conflict for report in self.reports for conflict in report.conflicts]

    @property
    def changes(self) -> list[Change]:
        """The changes of the files that get other bytes."""
        return [report.change for report in self.reports if report.change is not None]

    @property
    def changed(self) -> list[FileReport]:
        """The reports of files that get other bytes."""
        return [report for report in self.reports if report.change is not None]
