"""`ytr baseline`: today's findings accepted, so that only new ones count."""

from __future__ import annotations

import os
import sys
from collections import Counter
from pathlib import Path

from yellow_trellis.cli.arguments import Takes, WrongCall, flag, option
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
from yellow_trellis.cli.options import LOOK, PATHS, RULES, Look, spec_of
from yellow_trellis.cli.output import styled
from yellow_trellis.reports.baseline import NAME, Baseline

EXAMPLE = "ytr baseline    ytr baseline --accept --only bare-except"
TAKES: Takes = (
    PATHS,
    *RULES,
    option(
        "--file",
        metavar="FILE",
        help="The file of the baseline; as the configuration says if left out. "
        "Example: --file accepted.json",
    ),
    flag("--accept", help="Accept new findings too. Without it the count only goes down."),
    LOOK,
)


def command(
    paths: tuple[str, ...],
    rule_paths: tuple[str, ...],
    only: tuple[str, ...],
    file: str | None,
    accept: bool,
    look: Look,
) -> None:
    """Accept the findings of today in PATHS: a survey then shows, and fails by, new ones only.

    Where there is a baseline already, those that are gone are dropped from it, and new ones are not
    taken in without --accept. An accepted finding is known again by its code, the definition it
    stands in and what stands around it: lines may shift, code may be formatted anew or moved.
    """
    if look.scope.lines:
        raise WrongCall("a baseline is about whole files: leave out --changed-lines")
    kept = OwnFile(Path(file)) if file is not None else baseline_here() or OwnFile(Path(NAME))
    where = kept.path
    known = Baseline.read(*kept) if os.path.lexists(where) else None
    spec = spec_of(rule_paths, only)
    found, _ = run_shown(paths, spec, look, with_marks=True)
    out = console()
    before = known or Baseline(where, top=kept.top)
    compared = before.compared(found, (rule.name for rule in spec.ruleset()))
    taken = compared.new if accept or known is None else []
    entries = [*compared.kept, *before.entries_of(taken)]
    before.with_entries(entries).write()
    shown = shown_path(str(where))
    if known is None:
        files = len({finding.path for finding in taken})
        told = f"{counted(len(taken), 'finding')} in {counted(files, 'file')}"
        out.print(f"Accepted {told}: {shown}.")
        if baseline_here() is None:
            out.print(f'Now say baseline = "{where.as_posix()}" in the configuration.')
    else:
        more = f", {len(taken):,} taken in" if taken else ""
        whole = counted(len(entries), "finding")
        told = f"{len(compared.gone):,} dropped{more}, {whole} accepted now"
        out.print(f"{shown}: {told}.")
        for rule, number in Counter(entry.rule for entry in compared.gone).most_common():
            out.print(styled(f"  {number:,} of {rule} gone", style=DIM))
    tell_problems(found.problems)
    if len(taken) < len(compared.new):
        rest = counted(len(compared.new), "new finding")
        out.print(styled(f"{rest} not accepted: `ytr survey` shows, --accept accepts.", style=ASK))
        sys.exit(UNHANDLED if found.problems else FOUND)
    if found.problems:
        sys.exit(UNHANDLED)
