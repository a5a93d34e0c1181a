"""Showing changes: hunks under the rules that made them."""

from __future__ import annotations

from collections import Counter
from itertools import groupby

from yellow_trellis.cli.console import BAD, DIM, GOOD, PLACE, RULE, counted, listed, shown_path
from yellow_trellis.cli.output import Output, styled
from yellow_trellis.plans.outcome import DOUBT, FOR_REVIEW, STATES
from yellow_trellis.runs.file_report import Run
from yellow_trellis.source.diff import Hunk
from yellow_trellis.visible_text import visible

_STYLE = {"+": GOOD, "-": BAD, " ": ""}
_DONE = ("applied", "composed", "merged")


def show_changes(out: Output, run: Run, most: int | None = None) -> None:
    """Print the hunks, grouped by the rules that made them.

    Arguments: `most` is about how many lines of them are shown.
    """
    room, hidden = most if most is not None else 10**9, 0
    hunks = [
        (hunk.rules, report.path, hunk, report.change.codec)
        for report in run.changed
        if report.change is not None
        for hunk in report.change.hunks
    ]
    hunks.sort(key=lambda h: (h[0], h[1], h[2].old_start))
    for rules, group in groupby(hunks, key=lambda h: h[0]):
        members = list(group)
        if room <= 0:
            hidden += len(members)
            continue
        files = len({path for _, path, _, _ in members})
        out.print(
            styled(
                (listed(rules), RULE),
                f"  {counted(len(members), 'change')} in {counted(files, 'file')}",
            )
        )
        shown = [members[0]]
        room -= len(members[0][2].lines)
        for member in members[1:]:
            if room < len(member[2].lines):
                break
            room -= len(member[2].lines)
            shown.append(member)
        for path, here in groupby(shown, key=lambda h: h[1]):
            out.print(styled("  ", (shown_path(path), PLACE)))
            for _, _, hunk, codec in here:
                show_hunk(out, hunk, codec)
        if len(shown) < len(members):
            hidden += len(members) - len(shown)
            text = f"  and {counted(len(members) - len(shown), 'more change')}"
            out.print(styled(text, style=DIM))
        out.print()
    if hidden:
        out.print(styled(f"{counted(hidden, 'change')} not shown: --all shows them", style=DIM))


def show_hunk(out: Output, hunk: Hunk, codec: str) -> None:
    """Print one hunk."""
    out.print(styled(f"  {hunk.header}", style=DIM))
    for line in hunk.lines:
        text = line.decode(codec, "surrogateescape").rstrip("\r\n")
        out.print(styled("  " + text[:1] + visible(text[1:]), style=_STYLE[text[:1]]))


_MEANINGS = {
    "composed": "the fix is written inside or around another one",
    "merged": "another finding has the same fix, which serves both",
    "deferred": "an earlier rule went first; in the next round the place was looked at again",
}
"""By outcome that does not speak for itself: what it means."""


def show_fates(out: Output, run: Run) -> None:
    """Print what became of the findings, rule by rule, and in sum; less common words explained."""
    fates = [fate for report in run.reports for fate in report.fates]
    by_rule: dict[str, Counter[str]] = {}
    for fate in fates:
        by_rule.setdefault(fate.rule, Counter())[fate.state] += 1
    width = max((len(rule) for rule in by_rule), default=0)
    for rule, states in sorted(by_rule.items()):
        text = ", ".join(f"{states[s]:,} {s}" for s in STATES if states[s])
        out.print(styled("  ", (f"{rule:<{width}}", RULE), f"  {text}"))
    total = Counter(fate.state for fate in fates)
    if len(by_rule) > 1:
        text = ", ".join(f"{total[s]:,} {s}" for s in STATES if total[s])
        out.print(styled(f"  {'together':<{width}}  {len(fates):,} findings: {text}", style="bold"))
    for state in STATES:
        if total[state] and state in _MEANINGS:
            out.print(styled(f"  {state}: {_MEANINGS[state]}", style=DIM))
    caused = sum(fate.knock_on for fate in fates)
    if caused:
        text = "finding was" if caused == 1 else "findings were"
        out.print(f"{caused:,} {text} caused by a fix of this run.")
    review = sum(fate.reason == FOR_REVIEW for fate in fates)
    if review:
        text = "fix asks" if review == 1 else "fixes ask"
        out.print(f"{review:,} {text} for review: --with-review takes them too.")
    show_refused(out, run)
    show_doubts(out, run)


def show_doubts(out: Output, run: Run) -> None:
    """Print the places that a rule over many files leaves to a person."""
    results = []
    for report in run.reports:
        starts = {(fate.rule, fate.start) for fate in report.fates if fate.reason == DOUBT}
        results += [
            finding for finding in report.findings if (finding.rule, finding.start) in starts
        ]
    if not results:
        return
    rules = {result.rule for result in results}
    done = any(f.state in _DONE and f.rule in rules for r in run.reports for f in r.fates)
    out.print(f"{counted(len(results), 'place')} for a person to look at:")
    results.sort(key=lambda item: (item.rule, item.message))
    for (rule, message), places in groupby(results, key=lambda item: (item.rule, item.message)):
        out.print(f"  {rule}: {visible(message)}")
        for finding in places:
            place = f"{shown_path(finding.path)}:{finding.start}"
            out.print(styled("    ", (place, PLACE), f"  {visible(finding.line.strip())}"))
    if not done:
        out.print("With --with-review the rest is renamed, and these stay as they are.")


def show_refused(out: Output, run: Run, most: int = 5) -> None:
    """Print the refused fixes, each with its reason."""
    refused = [
        (report.path, fate)
        for report in run.reports
        for fate in report.fates
        if fate.state == "refused"
    ]
    if not refused:
        return
    out.print(f"{counted(len(refused), 'fix', 'fixes')} refused:")
    by_reason: dict[tuple[str, str], list[str]] = {}
    for path, fate in refused:
        place = f"{shown_path(path)}:{fate.start}"
        by_reason.setdefault((fate.rule, fate.reason), []).append(place)
    for (rule, reason), places in list(by_reason.items())[:most]:
        extra = f" and {counted(len(places) - 1, 'more place')}" if len(places) > 1 else ""
        first, *others = reason.split("\n")
        out.print(styled("  ", (places[0], PLACE), f"{extra}  {rule}: {visible(first)}"))
        for line in others:
            out.print(styled(f"      {visible(line)}", style=DIM))
    if len(by_reason) > most:
        tail = sum(len(places) for places in list(by_reason.values())[most:])
        out.print(styled(f"  and {tail:,} more", style=DIM))


def applied_rules(run: Run) -> list[str]:
    """Return the names of the rules whose fixes are in the new text."""
    return sorted({f.rule for r in run.reports for f in r.fates if f.state in _DONE})
