"""Printing shared by all commands: one look, colour only on a terminal, nothing unseen."""

from __future__ import annotations

import os
import re
import sys
import time
from collections.abc import Iterable
from contextlib import ExitStack
from typing import TYPE_CHECKING

from yellow_trellis.cli.exit_codes import INTERRUPTED
from yellow_trellis.cli.output import Output, styled
from yellow_trellis.cli.presentation import presentation
from yellow_trellis.project.cache.state_dir import HOME, MARK
from yellow_trellis.visible_text import visible

if TYPE_CHECKING:
    from yellow_trellis.cli.options import LookOptions
    from yellow_trellis.runs.file_report import FindingRecord, Run
    from yellow_trellis.runs.run_options import RunOptions
    from yellow_trellis.runs.fix_selection import Ask
    from yellow_trellis.runs.report_types import Problem
    from yellow_trellis.runs.rule_source import Rules

RULE, PLACE, DIM, GOOD, BAD, ASK = "bold yellow", "cyan", "bright_black", "green", "red", "magenta"


def console() -> Output:
    """Return where results go."""
    return Output()


def notes() -> Output:
    """Return where progress and notes go: standard error."""
    return Output(notes=True)


def show_code(out: Output, finding: FindingRecord, tail: str = "", width: int = 0) -> None:
    """Print place and first line of a finding, what was found standing out.

    Where no colour shows, a line below marks it, unless it is all of the line. Arguments: `tail`
    stands behind the code; `width` is that of the column of places.
    """
    line, before = finding.line, finding.left_out
    start = finding.start.column - 1 - before
    stop = finding.end.column - 1 - before if finding.end.line == finding.start.line else len(line)
    lead = len(line) - len(line.lstrip())
    place = f"{shown_path(finding.path)}:{finding.start}"
    head, match, rest = visible(line[lead:start]), visible(line[start:stop]), visible(line[stop:])
    cut = "…" if before else ""
    out.print(
        styled("  ", (f"{place:<{width}}", PLACE), "  ", cut, head, (match, "bold"), rest, tail)
    )
    if not out.has_colour and (head or rest.strip()) and match:
        out.print(" " * (4 + max(len(place), width) + len(cut + head)) + "^" * len(match))


def place_width(findings: Iterable[FindingRecord]) -> int:
    """Return how wide a column of the places of some findings is; long ones may stand out."""
    widths = (len(f"{shown_path(f.path)}:{f.start}") for f in findings)
    return min(max(widths, default=0), _WIDEST_PLACE)


_WIDEST_PLACE = 44


def counted(number: int, item: str, many: str | None = None) -> str:
    """Return `number` with its noun: ``1 file``, ``2,000 files``."""
    return f"{number:,} {item if number == 1 else many or item + 's'}"


def listed(words: Iterable[str]) -> str:
    """Return words as a list in a sentence."""
    results = list(words)
    if len(results) < 2:
        return "".join(results)
    return ", ".join(results[:-1]) + " and " + results[-1]


def run_shown(
    paths: tuple[str, ...],
    rules: Rules,
    look: LookOptions | None = None,
    options: RunOptions | None = None,
    ask: Ask | None = None,
    *,
    tells: bool = True,
) -> tuple[Run, float]:
    """Run with a progress bar; return the run and how many seconds it took.

    Arguments: see `run`; `options` are those of `look` if left out; with `ask` there
    is no bar, as a person is at work. Unless it `tells`, nothing is said of what was run over: an
    earlier run of the same command has said it. An interruption ends the program: nothing has been
    written then.
    """
    from yellow_trellis.cli.progress import ProgressBar  # a look at a file or two needs no bar
    from yellow_trellis.cli.options import LookOptions
    from yellow_trellis.runs.runner import run

    look = look or LookOptions()
    if tells and presentation().verbose:
        _tell_sources(rules)
    bar = ProgressBar()
    with ExitStack() as stack:
        stack.callback(bar.stop)
        executor = None
        selected = look.paths(paths)
        if look.cluster is not None:
            from yellow_trellis.runs.processes.dask_executor import cluster

            executor = stack.enter_context(cluster(look.cluster))
        try:
            result = run(
                selected,
                rules,
                options or look.run,
                executor=executor,
                ask=ask,
                unsaved=look.unsaved(),
                on_start=bar.start if ask is None else None,
                on_progress=bar.step if ask is None else None,
            )
        except KeyboardInterrupt:
            bar.stop()
            notes().print(
                styled(f"Interrupted after {bar.summary()}; nothing was written.", style=BAD)
            )
            sys.exit(INTERRUPTED)
    if tells:
        _tell_of(result)
    return result, time.monotonic() - bar.started


def _tell_of(result: Run) -> None:
    """Say what there is to say of a run besides its findings."""
    if os.path.exists(os.path.join(result.root, HOME, MARK)):
        notes().print(
            styled(
                "An apply in this folder was cut short, or is under way: "
                "`ytr undo` brings back what it has written.",
                style=ASK,
            )
        )
    if presentation().verbose:
        _tell_files(result)
    doubts = [f"{shown_path(r.path)}:{doubt}" for r in result.reports for doubt in r.doubts]
    for note in [*result.notes, *doubts]:
        notes().print(styled(note, style=ASK))


def _tell_sources(rules: Rules) -> None:
    """Say which configuration and which rules are used."""
    from yellow_trellis.cli.options import configured_here, settings_here
    from yellow_trellis.rules import Ruleset

    file = settings_here().file if configured_here() else None
    out = notes()
    out.print(f"configuration: {shown_path(str(file)) if file is not None else 'none'}")
    ruleset = (rules if isinstance(rules, Ruleset) else rules.ruleset()).own_rules
    files = dict.fromkeys(shown_path(rule.path) for rule in ruleset)
    out.print(f"{counted(len(ruleset), 'rule')} from {listed(files)}")


def _tell_files(result: Run) -> None:
    """Say which files were known, and which were not looked at and why."""
    out = notes()
    out.print(f"{counted(result.known, 'file')} known from an earlier run")
    for item in result.left:
        out.print(f"not looked at: {shown_path(item.path)}: {item.reason}")


def shown_path(path: str) -> str:
    """Return `path` as it is shown: visible, from the current folder where it lies inside."""
    here, real = os.path.realpath(os.getcwd()), os.path.realpath(path)
    if real == here:
        return "."
    inside = here if here.endswith(os.sep) else here + os.sep
    return visible(real[len(inside) :] if real.startswith(inside) else path)


def shown_place(place: str) -> str:
    """Return file and line of a place as they are shown, without a column."""
    path, *numbers = re.split(r":(?=\d+(?::|$))", place)
    return ":".join([shown_path(path), *numbers[:1]]) if numbers else place


_MOST_PROBLEMS = 30


def tell_problems(problems: list[Problem]) -> None:
    """Print what could not be handled on standard error."""
    from yellow_trellis.runs.report_types import certain  # who prints help needs none of it

    out = Output(grave=True)
    for problem in problems[:_MOST_PROBLEMS]:
        who = f"the rule {problem.rule} failed: " if problem.rule else ""
        where = problem.where(shown_path(problem.path))
        out.print(styled((where, PLACE), ": ", visible(f"{who}{problem.reason}")))
    if len(problems) > _MOST_PROBLEMS:
        tail = len(problems) - _MOST_PROBLEMS
        out.print(styled(f"and {tail:,} more: --format json has them all", style=DIM))
    if count := len(certain(problems)):
        out.print(styled(f"{counted(count, 'problem')}; the rest was handled.", style=BAD))
