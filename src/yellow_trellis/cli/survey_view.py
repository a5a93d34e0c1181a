"""The output of a survey: the findings rule by rule, and their totals."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from itertools import groupby

from yellow_trellis.cli.console import (
    ASK,
    BAD,
    DIM,
    GOOD,
    PLACE,
    RULE,
    code_line,
    counted,
    shown_path,
    shown_place,
)
from yellow_trellis.cli.output import Output, styled, visible
from yellow_trellis.findings.finding import LEVELS
from yellow_trellis.reports.baseline import Compared
from yellow_trellis.reports.gate import Surveyed
from yellow_trellis.runs.file_report import FindingRecord, Run

_SHOWN = 8
_LEVEL_STYLE = {"error": BAD, "warning": "yellow", "note": "blue"}


Governing = Callable[[FindingRecord], str]
"""Returns the place of the setting that gives a finding its level."""


def show_survey(
    out: Output,
    done: Surveyed,
    seconds: float,
    summaries: dict[str, str],
    *,
    everything: bool,
    governing: Governing | None,
) -> None:
    """Print the findings that no baseline accepts, and what there is to say of the rest."""
    findings = sorted(done.new, key=lambda f: (LEVELS.index(f.level), f.rule, f.path, f.start))
    for _, group in groupby(findings, key=lambda f: (f.level, f.rule)):
        _show_rule(out, list(group), everything, summaries, governing)
    _show_summary(out, done, seconds)


def _show_rule(
    out: Output,
    findings: list[FindingRecord],
    everything: bool,
    summaries: dict[str, str],
    governing: Governing | None,
) -> None:
    fixable = sum(bool(f.fixes) for f in findings)
    rule, level = findings[0].rule, findings[0].level
    summary = summaries[rule]
    out.print(
        styled(
            (rule, RULE),
            "  ",
            (level, _LEVEL_STYLE[level]),
            f"  {counted(len(findings), 'place')}",
            (f", {fixable:,} with a fix" if fixable else ", no fix", DIM),
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
    for path, here in groupby(shown, key=lambda f: f.path):
        out.print(styled("  ", (shown_path(path), PLACE)))
        for item in here:
            _show_place(out, item, summary)
    if len(shown) < len(findings):
        tail = len(findings) - len(shown)
        out.print(styled(f"  and {counted(tail, 'more place')}: --all shows them", style=DIM))
    out.print()


def _show_place(out: Output, finding: FindingRecord, entry: str) -> None:
    text = code_line(finding)
    if finding.fixes and all(safety == "review" for _, safety in finding.fixes):
        text += styled("  its fix asks for review", style=ASK)
    out.print(text)
    if finding.message != entry:
        out.print(styled(f"           {visible(finding.message)}", style=DIM))


def _show_summary(out: Output, done: Surveyed, seconds: float) -> None:
    run, findings = done.run, done.new
    scan = f"{counted(len(run.reports), 'file')}, {counted(run.lines, 'line')}, {seconds:.1f} s"
    _show_left(out, run)
    excused = sum(report.excused for report in run.reports)
    if excused:
        message = f"{counted(excused, 'finding')} left alone by comments in the code"
        out.print(styled(message, style=DIM))
    new = ""
    if done.compared is not None:
        new = "new "
        _show_compared(out, done.compared)
    if not findings:
        out.print(f"Nothing {new}found ({scan}).")
        return
    rules = len({f.rule for f in findings})
    files = len({f.path for f in findings})
    safe = sum(any(safety == "safe" for _, safety in f.fixes) for f in findings)
    to_review = sum(bool(f.fixes) for f in findings) - safe
    out.print(
        styled(
            (counted(len(findings), f"{new}finding"), "bold"),
            f" by {counted(rules, 'rule')} in {counted(files, 'file')} ({scan}).",
        )
    )
    conflicts = sum(len(report.conflicts) for report in run.reports)
    if safe:
        out.print(f"{safe:,} with a safe fix: `ytr preview` shows it, or why it is refused.")
    if to_review:
        out.print(f"{to_review:,} with a fix to review: `ytr preview --with-review` shows it.")
    if conflicts:
        out.print(
            styled(
                f"{counted(conflicts, 'conflict')} among the fixes: `ytr clashes` shows which.",
                style=ASK,
            )
        )
    _show_verdict(out, done)


def _show_compared(out: Output, compared: Compared) -> None:
    out.print(
        styled(f"{counted(len(compared.known), 'finding')} accepted by the baseline", style=DIM)
    )
    if compared.gone:
        verb, label = ("is", "it") if len(compared.gone) == 1 else ("are", "them")
        count = f"{len(compared.gone):,} accepted before {verb} gone"
        message = f"{count}: `ytr baseline` drops {label}"
        out.print(styled(message, style=DIM))


def _show_verdict(out: Output, done: Surveyed) -> None:
    """Say what decides, where it is not just whether there is a finding."""
    bar, count = done.bar, len(done.failing)
    if not bar.at_most and count == len(done.new):
        return
    word, style = ("Fails", BAD) if done.fails else ("Passes", GOOD)
    if bar.fail_at == "never":
        message = "findings are not to make it fail"
    else:
        message = f"{counted(count, 'finding')} at `{bar.fail_at}` or above"
        message += " without a fix" if bar.fixable_passes else ""
        message += f", {bar.at_most:,} may stand" if bar.at_most else ""
    out.print(styled((word, style), f": {message}."))


def _show_left(out: Output, run: Run) -> None:
    """Say how many files were found and not looked at, by reason."""
    for reason, number in Counter(item.reason for item in run.left).most_common():
        message = f"{counted(number, 'file')} not looked at: {reason}"
        out.print(styled(message, style=DIM))
