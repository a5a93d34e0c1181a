"""`ytr baseline`: today's findings accepted, so that only new ones count."""

from __future__ import annotations

import os
import sys
from collections import Counter
from pathlib import Path

from msgspec.structs import replace

from yellow_trellis.cli.arguments import Takes, UsageError, file_to_write, flag, option
from yellow_trellis.cli.console import (
    ASK,
    DIM,
    console,
    counted,
    run_shown,
    shown_path,
    tell_problems,
)
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.gate_options import OwnFile, baseline_here
from yellow_trellis.cli.options import LOOK, PATHS, RULES, RuleChoice, LookOptions
from yellow_trellis.cli.output import styled
from yellow_trellis.reports.baseline import NAME, Baseline

EXAMPLE = "ytr baseline    ytr baseline --accept --only say-what-is-caught"
TAKES: Takes = (
    PATHS,
    RULES,
    option(
        "--baseline",
        dest="file",
        metavar="FILE",
        type=file_to_write,
        help="The file of the baseline; as the configuration says if left out. "
        "Example: --baseline accepted.json",
    ),
    flag("--accept", help="Accept new findings too. Without it the count only goes down."),
    LOOK,
)


def command(
    paths: tuple[str, ...],
    choice: RuleChoice,
    file: str | None,
    accept: bool,
    look: LookOptions,
) -> None:
    """Accept the findings of today in PATHS: a survey then shows, and fails by, new ones only.

    Where there is a baseline already, those that are gone are dropped from it, and new ones are not
    taken in without --accept. An accepted finding is known again by its code, the definition it
    stands in and what stands around it: lines may shift, code may be formatted anew or moved.
    """
    if look.run.file_filter.lines:
        raise UsageError("a baseline is about whole files: leave out --changed-lines")
    remainder = OwnFile(Path(file)) if file is not None else baseline_here() or OwnFile(Path(NAME))
    where = remainder.path
    entry = Baseline.read(*remainder) if os.path.lexists(where) else None
    spec = choice.spec()
    result, _ = run_shown(paths, spec, look, replace(look.run, with_marks=True))
    out = console()
    before = entry or Baseline(where, top=remainder.top)
    compared = before.compared(result, (rule.name for rule in spec.ruleset()))
    capture = compared.new if accept or entry is None else []
    entries = [*compared.kept, *before.entries_of(capture)]
    before.with_entries(entries).write()
    shown = shown_path(str(where))
    if entry is None:
        files = len({finding.path for finding in capture})
        message = f"{counted(len(capture), 'finding')} in {counted(files, 'file')}"
        out.print(f"Accepted {message}: {shown}.")
        if baseline_here() is None:
            out.print(f'Now say baseline = "{where.as_posix()}" in the configuration.')
    else:
        extra = f", {len(capture):,} taken in" if capture else ""
        whole = counted(len(entries), "finding")
        message = f"{len(compared.gone):,} dropped{extra}, {whole} accepted now"
        out.print(f"{shown}: {message}.")
        for rule, number in Counter(entry.rule for entry in compared.gone).most_common():
            out.print(styled(f"  {number:,} of {rule} gone", style=DIM))
    tell_problems(result.problems)
    if len(capture) < len(compared.new):
        tail = counted(len(compared.new), "new finding")
        out.print(styled(f"{tail} not accepted: `ytr survey` shows, --accept accepts.", style=ASK))
        sys.exit(UNHANDLED if result.unhandled else FOUND)
    if result.unhandled:
        sys.exit(UNHANDLED)
