"""A look at files that have changed, in a process of its own, which reads rules and settings again.

The process is forked where that can be, from one that has loaded the library and no rule. So each
look starts at once, and nothing that rules leave behind is there at the next one.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import NamedTuple

from yellow_trellis.authoring.isolated_proof import proof_of
from yellow_trellis.cli.commands.prove import show_proofs
from yellow_trellis.cli.console import (
    DIM,
    GOOD,
    console,
    counted,
    notes,
    place_width,
    run_shown,
    show_code,
    shown_path,
    tell_problems,
)
from yellow_trellis.cli.diff_view import applied_rules, show_changes, show_refused
from yellow_trellis.cli.options import RuleChoice, LookOptions
from yellow_trellis.cli.output import styled
from yellow_trellis.cli.reworking import rework_shown
from yellow_trellis.errors import TrellisError
from yellow_trellis.runs.processes.child import Child, best_start
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.transaction.write import write_changes
from yellow_trellis.visible_text import visible

_MATCHES, _LINES, _DIFFED = 20, 120, 10
"""How many matches and lines of diff of a rule are shown, and of how many files there is a diff."""


class Look(NamedTuple):
    """The result of a look: findings by file, and the files that fixes have written."""

    counts: dict[str, int]
    """By real path: how many findings each file has that was looked at."""
    written: tuple[str, ...] = ()
    failed: bool = False
    """Whether settings or rules could not be read: nothing is known then."""


def apart(work: Callable[..., Look], *arguments: object) -> Look:
    """Return what `work` returns, called in a process of its own."""
    child = Child(
        *(_send, (work, arguments)), start=best_start(), may_have_children=True, is_apart=False
    )
    try:
        result: Look = child.pipe.recv()
    except EOFError:
        notes().print("The look was cut short: the rules may be at fault.")
        result = Look({}, failed=True)
    finally:
        child.wait()
        child.end()
    return result


def _send(end: Connection, work: Callable[..., Look], arguments: tuple[object, ...]) -> None:
    try:
        result = work(*arguments)
    except TrellisError as error:
        notes().print(f"ytr: {error}")
        result = Look({}, failed=True)
    except KeyboardInterrupt:
        return
    sys.stdout.flush()
    end.send(result)


def survey_files(
    paths: tuple[str, ...], choice: RuleChoice, look: LookOptions, fix: bool, brief: bool
) -> Look:
    """Look at files, show what is found, and fix what may be fixed unasked if that is asked for.

    Arguments: with `brief` the findings are only counted.
    """
    spec = choice.spec()
    written: tuple[str, ...] = ()
    if fix:
        written = _fixed(paths, spec, look)
    result, _ = run_shown(paths, spec, look)
    out = console()
    width = place_width(result.findings)
    for finding in () if brief else result.findings:
        show_code(out, finding, styled(f"  {finding.rule}", style=DIM), width)
        out.print(styled(f"{'':<{width + 4}}{visible(finding.message)}", style=DIM))
    tell_problems(result.problems)
    counts = {os.path.realpath(report.path): len(report.findings) for report in result.reports}
    return Look(counts, written)


def _fixed(paths: tuple[str, ...], spec: RulesSpec, look: LookOptions) -> tuple[str, ...]:
    """Apply what may be fixed unasked, and return the real paths of the files written."""
    done, _ = rework_shown(paths, spec, look)
    report = write_changes(done.changes, done.root, applied_rules(done), look.commands())
    out = console()
    for path in report.written:
        out.print(styled(("fixed ", GOOD), shown_path(path)))
    show_refused(out, done)
    return tuple(os.path.realpath(path) for path in report.written)


def try_rule(file: str, paths: tuple[str, ...], look: LookOptions) -> Look:
    """Run the examples of the rules in a file, and show what they find and change."""
    spec = RulesSpec((file,))
    out = console()
    show_proofs(out, {rule.name: proof_of(rule) for rule in spec.ruleset().own_rules})
    result, seconds = run_shown(paths, spec, look)
    findings = result.findings
    files = list(dict.fromkeys(finding.path for finding in findings))
    out.print()
    width = place_width(findings[:_MATCHES])
    for finding in findings[:_MATCHES]:
        show_code(out, finding, width=width)
    if len(findings) > _MATCHES:
        extra = counted(len(findings) - _MATCHES, "more match", "more matches")
        out.print(styled(f"  and {extra}"))
    out.print(f"{counted(len(findings), 'match', 'matches')} in {counted(len(files), 'file')}.")
    out.print()
    seconds += _show_diff(files, spec, look)
    tell_problems(result.problems)
    text = f"{seconds:.1f} s; waiting for the next change of {shown_path(file)}"
    out.print(styled(text, style=DIM))
    return Look({})


def _show_diff(files: list[str], spec: RulesSpec, look: LookOptions) -> float:
    """Show what the rules make of the first files; return the seconds it took."""
    if not files:
        return 0.0
    some = tuple(files[:_DIFFED])
    result, seconds = run_shown(some, spec, look, look.rework(with_review=True))
    if result.changed:
        show_changes(console(), result, _LINES)
        show_refused(console(), result)
        if len(files) > len(some):
            text = f"That is the diff of the first {len(some)} files: `ytr preview` shows all."
            console().print(styled(text, style=DIM))
    return seconds
