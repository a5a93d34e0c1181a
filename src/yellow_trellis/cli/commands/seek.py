"""`ytr seek`: code found by a pattern, and a template tried on it, before there is any rule."""

from __future__ import annotations

import os
import sys
from collections import Counter
from itertools import groupby
from typing import TYPE_CHECKING

from msgspec.structs import replace

from yellow_trellis.cli.arguments import Takes, UsageError, flag, known_language, option, whole
from yellow_trellis.cli.console import (
    DIM,
    PLACE,
    console,
    counted,
    notes,
    place_width,
    run_shown,
    show_code,
    shown_path,
    tell_problems,
)
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    STRICT,
    UNCOMMITTED,
    LookOptions,
    configured_here,
    format_option,
    settings_here,
)
from yellow_trellis.cli.output import Output, styled, write
from yellow_trellis.languages import DEFAULT
from yellow_trellis.languages import language as tongue
from yellow_trellis.languages import names
from yellow_trellis.patterns import compile_pattern
from yellow_trellis.project.discovery import discover
from yellow_trellis.project.file_language import language_at
from yellow_trellis.runs.rule_source import PatternSpec
from yellow_trellis.source import Source
from yellow_trellis.visible_text import visible

if TYPE_CHECKING:
    from yellow_trellis.runs.file_report import FindingRecord, Run

EXAMPLE = "ytr seek 'stamp(@{zone})' --put 'tick(zone=@{zone})' src/"
TAKES: Takes = (
    option("pattern", metavar="PATTERN", help="Code with holes: @{x} takes any one node."),
    PATHS,
    option("--put", metavar="TEMPLATE", help="Show what this template would make of each place."),
    flag(
        "--write",
        dest="write_it",
        help="Write what the template makes; `ytr undo` takes it back.",
    ),
    UNCOMMITTED,
    STRICT,
    option(
        "--language",
        metavar="LANGUAGE",
        type=known_language,
        help="The language of the pattern; that of the files, or of most of them, if left out. "
        "Example: --language javascript",
    ),
    option(
        "--part",
        help="What the pattern is, where alone it would parse as something else: argument, "
        "parameter, "
        "case. Example: --part argument",
    ),
    flag("--any-order", help="Let named arguments stand in another order than in PATTERN."),
    flag("--count", help="Print only how many places each file has."),
    option(
        "--around",
        metavar="N",
        type=whole,
        default=0,
        help="Show N lines before and after each place too. Example: --around 2",
    ),
    format_option("text", "json"),
    LOOK,
)


def command(
    pattern: str,
    paths: tuple[str, ...],
    put: str | None,
    write_it: bool,
    uncommitted: bool,
    strict: bool,
    language: str | None,
    part: str | None,
    any_order: bool,
    count: bool,
    around: int,
    form: str,
    look: LookOptions,
) -> None:
    """Find the code in PATHS that PATTERN fits, and show what each hole took.

    A pattern is code with holes: @{x} takes any one node, @{x*} any number of neighbours in a
    list or a body, @{_} takes without remembering, @{x: string} takes only that kind.
    Nothing is written but with `--put` and `--write`: then the template goes through the same proof
    and journal as the fixes of a rule that says `once`: what it makes is not looked at again.
    """
    if (write_it or strict or uncommitted) and put is None:
        raise UsageError("--write, --strict and --uncommitted go with --put TEMPLATE")
    language = language or _language_of(look.paths(paths))
    found_by = compile_pattern(pattern, tongue(language), part=part, any_order=any_order)
    if put:
        from yellow_trellis.fixes import compile_template

        compile_template(put, found_by)
    _check_languages(paths, language)
    spec = PatternSpec(pattern, put, language, part, any_order)
    options = replace(look.run if put is None else look.rework(), with_holes=True)
    result, seconds = run_shown(paths, spec, look, options)
    conflicts = len(result.conflicts)
    if write_it and not (strict and conflicts):
        from yellow_trellis.cli.writing import write_fixes  # who only seeks loads less

        sys.exit(write_fixes(result, seconds, uncommitted, look.commands(), form))
    if form == "json":
        write(_as_json(result))
    elif count:
        _show_counts(console(), result)
    elif put is not None:
        _show_changes(console(), result)
    else:
        _show(console(), result, around)
    if form == "text" and part is None and not look.unsaved():
        from yellow_trellis.cli.pattern_notes import tell_open_heads, tell_readings

        tell_readings(found_by, paths, spec, look)
        tell_open_heads(found_by, paths, look, len(result.findings))
    tell_problems(result.problems)
    if result.unhandled:
        sys.exit(UNHANDLED)
    if strict and conflicts:
        from yellow_trellis.cli.commands.clashes import show_conflicts

        show_conflicts(console(), result)
        notes().print(f"{counted(conflicts, 'conflict')}: --strict lets that fail.")
        sys.exit(FOUND)


def _language_of(paths: tuple[str, ...]) -> str:
    """Return the language of the files under some paths, or of most, with a note that says so."""
    endings = dict(settings_here().endings) if configured_here() else {}
    if all(map(os.path.isfile, paths)):
        spoken = dict.fromkeys(name for path in paths if (name := language_at(path, endings)))
        return next(iter(spoken), DEFAULT)
    if discover(paths, frozenset({DEFAULT}), None, endings):
        return DEFAULT
    counts = Counter(file.language for file in discover(paths, frozenset(names()), None, endings))
    if len(counts) < 2:
        return next(iter(counts), DEFAULT)
    commonest = min(counts, key=lambda name: (-counts[name], name))
    notes().print(
        styled(
            f"The pattern is read as {commonest}, as {counts[commonest]:,} of {counts.total():,} "
            "files are: --language takes another.",
            style=DIM,
        )
    )
    return commonest


def _check_languages(paths: tuple[str, ...], language: str) -> None:
    """Refuse a call in which no file that is named is in the language of the pattern."""
    spoken = [language_at(path) for path in paths]
    if paths and language not in spoken and all(map(os.path.isfile, paths)):
        for path, name in zip(paths, spoken):
            if name is not None:
                raise UsageError(
                    f"{path} is {name}, the pattern is {language}: add --language {name}"
                )


def _show(out: Output, run: Run, around: int) -> None:
    width = place_width(run.findings)
    for path, here in groupby(run.findings, key=lambda f: f.path):
        lines = _lines_of(path) if around else []
        for result in here:
            _show_lines(out, lines, result.start.line - around, result.start.line)
            _show_match(out, result, width)
            _show_lines(out, lines, result.end.line + 1, result.end.line + around + 1)
    _show_sum(out, run)


def _lines_of(path: str) -> list[bytes]:
    with open(path, "rb") as file:
        return Source.read(file.read()).data.splitlines()


def _show_lines(out: Output, lines: list[bytes], start: int, stop: int) -> None:
    """Print the lines from `start` up to `stop`, counted from 1."""
    for number in range(max(start, 1), min(stop, len(lines) + 1)):
        text = visible(lines[number - 1].decode("utf-8", "replace"))
        out.print(styled(f"{number:>6}     {text}", style=DIM))


def _show_match(out: Output, finding: FindingRecord, width: int) -> None:
    show_code(out, finding, width=width)
    for name, text in finding.holes:
        out.print(styled(" " * (width + 4), (f"@{{{name}}}", "yellow"), f"  {visible(text)}"))


def _show_counts(out: Output, run: Run) -> None:
    for report in run.reports:
        if report.findings:
            out.print(styled(f"{len(report.findings):>7,}  ", (shown_path(report.path), PLACE)))
    _show_sum(out, run)


def _show_changes(out: Output, run: Run) -> None:
    from yellow_trellis.cli.diff_view import show_changes

    show_changes(out, run)
    _show_sum(out, run)
    refused = [f for r in run.reports for f in r.fates if f.state == "refused"]
    for fate in refused[:5]:
        out.print(styled(f"  left as it is at {fate.start}: {visible(fate.reason)}", style=DIM))
    if run.changed:
        out.print("Nothing is written: --write does it, or a rule with pattern and template.")


def _show_sum(out: Output, run: Run) -> None:
    files = sum(bool(report.findings) for report in run.reports)
    total = len(run.findings)
    total_text = f"{counted(len(run.reports), 'file')} ({counted(run.lines, 'line')})"
    if not total:
        out.print(f"No match in {total_text}.")
    else:
        out.print(f"{counted(total, 'match', 'matches')} in {files:,} of {total_text}.")


def _as_json(run: Run) -> str:
    from yellow_trellis.reports.json import VERSION, dumped, place_as_json, problem_as_json

    return dumped(
        {
            "version": VERSION,
            "matches": [
                {
                    "path": finding.path,
                    "start": place_as_json(finding.start),
                    "end": place_as_json(finding.end),
                    "holes": dict(finding.holes),
                }
                for finding in run.findings
            ],
            "changes": [
                {"path": r.path, "patch": r.change.patch.decode("utf-8", "replace")}
                for r in run.changed
                if r.change is not None
            ],
            "problems": list(map(problem_as_json, run.problems)),
            "summary": {
                "files": len(run.reports),
                "lines": run.lines,
                "matches": len(run.findings),
            },
        }
    )
