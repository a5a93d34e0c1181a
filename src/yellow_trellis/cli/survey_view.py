"""The output of a survey: the findings rule by rule, and their totals."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from itertools import groupby
from typing import TYPE_CHECKING

from yellow_trellis.cli.console import (
    ASK,
    BAD,
    DIM,
    GOOD,
    RULE,
    counted,
    place_width,
    show_code,
    shown_place,
)
from yellow_trellis.cli.output import Output, styled
from yellow_trellis.cli.presentation import presentation
from yellow_trellis.findings.finding import LEVELS
from yellow_trellis.reports.gate import fix_counts
from yellow_trellis.visible_text import visible

if TYPE_CHECKING:
    from yellow_trellis.reports.baseline import Compared
    from yellow_trellis.reports.survey_report import SurveyReport
    from yellow_trellis.runs.file_report import FindingRecord, Run

_SHOWN = 8
_LEVEL_STYLE = {"error": BAD, "warning": "yellow", "note": "blue"}


Governing = Callable[["FindingRecord"], str]
"""Returns the place of the setting that gives a finding its level."""


def show_survey(
    out: Output,
    report: SurveyReport,
    *,
    everything: bool,
    governing: Governing | None,
) -> None:
    """Print the findings that no baseline accepts, and what there is to say of the rest."""
    done = report.done
    if presentation().quiet:
        out.print(report.done.verdict())
        return
    summaries = {name: rule.summary for name, rule in report.rules.items()}
    findings = sorted(done.new, key=lambda f: (LEVELS.index(f.level), f.rule, f.path, f.start))
    for _, group in groupby(findings, key=lambda f: (f.level, f.rule)):
        _show_rule(out, list(group), everything, summaries, governing)
    _show_summary(out, report)


def _show_rule(
    out: Output,
    findings: list[FindingRecord],
    everything: bool,
    summaries: dict[str, str],
    governing: Governing | None,
) -> None:
    safe, to_review = fix_counts(findings)
    parts = (
        f", {safe:,} with a safe fix" if safe else "",
        f", {to_review:,} with a fix to review" if to_review else "",
    )
    rule, level = findings[0].rule, findings[0].level
    summary = summaries[rule]
    out.print(
        styled(
            (rule, RULE),
            "  ",
            (level, _LEVEL_STYLE[level]),
            f"  {counted(len(findings), 'place')}",
            ("".join(parts) or ", no fix", DIM),
        )
    )
    out.print(f"  {summary}")
    if governing is not None:
        for place in sorted({governing(f) for f in findings}):
            out.print(styled(f"  {level}, says {shown_place(place)}", style=DIM))
    message = {f.message for f in findings} - {summary}
    if len(message) == 1 and all(f.message in message for f in findings):
        summary = message.pop()
        out.print(styled(f"  {visible(summary)}", style=DIM))
    shown = findings if everything else findings[:_SHOWN]
    width = place_width(shown)
    for item in shown:
        _show_place(out, item, summary, width)
    if len(shown) < len(findings):
        tail = len(findings) - len(shown)
        out.print(styled(f"  and {counted(tail, 'more place')}: --all shows them", style=DIM))
    out.print()


def _show_place(out: Output, finding: FindingRecord, entry: str, width: int) -> None:
    to_review = finding.safety == "review"
    tail = styled("  its fix asks for review", style=ASK) if to_review else ""
    show_code(out, finding, tail, width)
    if finding.message != entry:
        out.print(styled(f"{'':<{width + 4}}{visible(finding.message)}", style=DIM))


def _show_summary(out: Output, report: SurveyReport) -> None:
    done, run, findings = report.done, report.done.run, report.done.new
    size = f"{counted(len(run.reports), 'file')}, {counted(run.lines, 'line')}"
    scan = f"{size}, {report.seconds:.1f} s"
    _show_left(out, run)
    excused = sum(report.excused for report in run.reports)
    if excused:
        message = f"{counted(excused, 'finding')} left alone by comments in the code"
        out.print(styled(message, style=DIM))
    new = ""
    if done.compared is not None:
        new = "new "
        _show_compared(out, done.compared)
    if not run.reports:
        out.print("No file to look at: none here is in a language that the rules are for.")
        _show_verdict(out, report)
        return
    if not findings:
        out.print(f"Nothing {new}found ({scan}).")
        _show_verdict(out, report)
        return
    rules = len({f.rule for f in findings})
    files = len({f.path for f in findings})
    safe, to_review = fix_counts(findings)
    out.print(
        styled(
            (counted(len(findings), f"{new}finding"), "bold"),
            f" by {counted(rules, 'rule')} in {counted(files, 'file')} ({scan}).",
        )
    )
    conflicts = len(run.conflicts)
    if safe:
        out.print(f"{safe:,} with a safe fix: `ytr preview` shows it, or why it is refused.")
    if to_review:
        out.print(f"{to_review:,} with a fix to review: `ytr preview --with-review` shows it.")
    if conflicts:
        out.print(
            styled(
                f"{counted(conflicts, 'conflict')} among fixes that touch each other: "
                "`ytr clashes` tries all, round after round.",
                style=ASK,
            )
        )
    _show_verdict(out, report)


def _show_compared(out: Output, compared: Compared) -> None:
    out.print(styled(f"{counted(len(compared.known), 'finding')} {compared.reason}", style=DIM))
    if compared.gone:
        verb, label = ("is", "it") if len(compared.gone) == 1 else ("are", "them")
        count = f"{len(compared.gone):,} accepted before {verb} gone"
        message = f"{count}: `ytr baseline` drops {label}"
        out.print(styled(message, style=DIM))


def _show_verdict(out: Output, report: SurveyReport) -> None:
    """Say whether it passes, and why."""
    word, _, reason = report.done.verdict().partition(":")
    out.print(styled((word, BAD if report.done.fails else GOOD), f":{reason}"))


def _show_left(out: Output, run: Run) -> None:
    """Say how many files were found and not looked at, by reason."""
    for reason, number in Counter(item.reason for item in run.left).most_common():
        message = f"{counted(number, 'file')} not looked at: {reason}"
        out.print(styled(message, style=DIM))
