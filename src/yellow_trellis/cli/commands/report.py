"""`ytr report`: what surveys found over time."""

from __future__ import annotations

import sys
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, UsageError, file_to_write, option
from yellow_trellis.cli.console import (
    ASK,
    BAD,
    DIM,
    GOOD,
    PLACE,
    RULE,
    console,
    counted,
    listed,
    tell_problems,
)
from yellow_trellis.cli.exit_codes import UNHANDLED
from yellow_trellis.cli.gate_options import HELD, GateOptions, OwnFile, history_here
from yellow_trellis.cli.options import LOOK, PATHS, RULES, RuleChoice, LookOptions, format_option
from yellow_trellis.cli.output import Output, styled, write, write_report
from yellow_trellis.errors import TrellisError
from yellow_trellis.reports.csv import history_csv
from yellow_trellis.reports.formats import FORMATS
from yellow_trellis.reports.history import NAME, Progress, Totals, progress, read
from yellow_trellis.reports.json import VERSION, dumped
from yellow_trellis.reports.plots import draw_history

_WORST = 6


EXAMPLE = "ytr report --since 2026-11-01    ytr report --html report.html"
TAKES: Takes = (
    option(
        "--history",
        metavar="FILE",
        help="The history; as the configuration says if left out. Example: --history night.jsonl",
    ),
    option(
        "--since",
        metavar="DATE|COMMIT",
        help="Tell what changed since the first survey of a day or commit, not since the last. "
        "Example: --since 2026-11-01",
    ),
    option(
        "--html",
        metavar="FILE",
        type=file_to_write,
        help="Survey the code anew, and write one page to read and search: totals, findings, "
        "fixes, conflicts and what was refused. Example: --html report.html",
    ),
    option(
        "--picture",
        metavar="FILE",
        help="Draw findings over time, and the worst folders. Example: --picture history.png",
    ),
    format_option("text", "csv", "json"),
    PATHS,
    RULES,
    HELD,
    LOOK,
)


def command(
    history: str | None,
    since: str | None,
    html: str | None,
    picture: str | None,
    form: str,
    paths: tuple[str, ...],
    choice: RuleChoice,
    gate_options: GateOptions,
    look: LookOptions,
) -> None:
    """Show what changed since the last survey that was recorded: what was fixed, what came back.

    `ytr survey --record` adds a survey to the history. Findings are counted by rule and folder, and
    per 1,000 lines. CSV has all surveys, a row for each folder, rule and level. With `--html` PATHS
    are surveyed now, and no history is needed.
    """
    if html is not None:
        _write_page(html, paths, choice, gate_options, look)
        return
    if paths:
        raise UsageError("PATHS are what --html surveys: add --html FILE")
    source = OwnFile(Path(history)) if history is not None else history_here()
    remainder = source or OwnFile(Path(NAME))
    surveys = read(*remainder)
    if not surveys:
        raise TrellisError("the history is empty: `ytr survey --record` adds to it")
    result = progress(surveys, since)
    if picture is not None:
        draw_history(
            [survey for survey in surveys if survey.paths == result.now.paths], Path(picture)
        )
    if form == "csv":
        write(history_csv(surveys))
    elif form == "json":
        write(dumped(_as_json(result)))
    else:
        _show(console(), result, len(surveys))
        if picture is not None:
            console().print(f"Drew {picture}.")


def _write_page(
    file: str,
    paths: tuple[str, ...],
    choice: RuleChoice,
    gate_options: GateOptions,
    look: LookOptions,
) -> None:
    """Survey the code, and write a page about it."""
    from yellow_trellis.cli.surveying import survey_report

    page = FORMATS["html"]
    report = survey_report(paths, choice.spec(), look, gate_options, [page])
    write_report(page.parts(report), file)
    console().print(f"Wrote {file}. {report.done.verdict()}")
    tell_problems(report.done.run.problems)
    if report.done.run.unhandled:
        sys.exit(UNHANDLED)


def _rate(count: int, lines: int) -> float:
    """Return findings per 1,000 lines."""
    return 1000 * count / lines if lines else 0.0


def _show(out: Output, progress: Progress, surveys: int) -> None:
    now, before = progress.now, progress.before
    out.print(
        styled(
            (counted(now.count, "finding"), "bold"),
            f" on {_when(now)} in {listed(now.paths)}: "
            f"{_rate(now.count, now.line_count):.1f} per 1,000 lines "
            f"({counted(now.line_count, 'line')}).",
        )
    )
    if before is None:
        extra = "" if surveys == 1 else " of the same paths"
        out.print(
            styled(f"It is the first survey{extra}: the next one says what changed.", style=DIM)
        )
    else:
        came = sum(progress.came_back.values())
        out.print(f"Since {_when(before)}, when there were {before.count:,}:")
        out.print(styled("  ", (f"{progress.fixed:,} fixed", GOOD if progress.fixed else DIM)))
        back = f", {came:,} of them came back after they were gone" if came else ""
        out.print(styled("  ", (f"{progress.new:,} new{back}", BAD if progress.new else DIM)))
        for (folder, rule), count in sorted(progress.came_back.items()):
            message = styled("    ", (folder, PLACE), "  ", (rule, RULE), f"  {count:,} again")
            out.print(message)
        for rule, count in progress.new_rules.items():
            out.print(styled(f"  {counted(count, 'finding')} of the new rule {rule}", style=ASK))
    _show_rules(out, now, before)
    _show_folders(out, now, before)


def _when(totals: Totals) -> str:
    return totals.day + (f" ({totals.revision[:7]})" if totals.revision else "")


def _show_rules(out: Output, now: Totals, before: Totals | None) -> None:
    ours = now.by_rule()
    theirs = before.by_rule() if before is not None else ours
    names = sorted({*ours, *theirs}, key=lambda rule: (-ours[rule], rule))
    if not names:
        return
    out.print()
    width = max(4, *map(len, names))
    out.print(styled(f"{'rule':<{width}}  findings  change", style=DIM))
    for name in names:
        change = _change(ours[name] - theirs[name])
        out.print(styled((f"{name:<{width}}", RULE), f"  {ours[name]:>8,}  ", change))


def _show_folders(out: Output, now: Totals, before: Totals | None) -> None:
    result = now.by_folder()
    earlier = before.by_folder() if before is not None else result
    worst = sorted(result, key=lambda f: (-_rate(result[f], now.lines.get(f, 0)), f))[:_WORST]
    if not worst:
        return
    out.print()
    width = max(len("worst folders"), *map(len, worst))
    head = f"{'worst folders':<{width}}  {'per 1,000 lines':>19}  findings  change"
    out.print(styled(head, style=DIM))
    for folder in worst:
        rate = _rate(result[folder], now.lines.get(folder, 0))
        change = _change(result[folder] - earlier[folder])
        place = (f"{folder:<{width}}", PLACE)
        out.print(styled(place, f"  {rate:>19.1f}  {result[folder]:>8,}  ", change))


def _change(number: int) -> tuple[str, str]:
    """Return a change as it is shown, with its style; nothing for none."""
    if not number:
        return "", ""
    return f"{number:>+6,}", BAD if number > 0 else GOOD


def _as_json(progress: Progress) -> dict[str, object]:
    now, before = progress.now, progress.before
    return {
        "version": VERSION,
        "now": _survey(now),
        "before": _survey(before) if before is not None else None,
        "fixed": progress.fixed,
        "new": progress.new,
        "came_back": [
            {"folder": folder, "rule": rule, "findings": count}
            for (folder, rule), count in sorted(progress.came_back.items())
        ],
        "new_rules": progress.new_rules,
    }


def _survey(totals: Totals) -> dict[str, object]:
    return {
        "time": totals.time.isoformat(),
        "revision": totals.revision,
        "paths": list(totals.paths),
        "files": totals.files,
        "lines": totals.line_count,
        "findings": totals.count,
        "per_thousand_lines": round(_rate(totals.count, totals.line_count), 3),
        "levels": dict(sorted(totals.by_level().items())),
        "rules": dict(sorted(totals.by_rule().items())),
        "folders": dict(sorted(totals.by_folder().items())),
    }
