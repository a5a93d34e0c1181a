"""`ytr clashes`: which fixes conflict, over which bytes, and who would win."""

from __future__ import annotations

import sys
from collections import Counter
from pathlib import Path

from msgspec.structs import replace

from yellow_trellis.cli.arguments import Takes, flag, option
from yellow_trellis.cli.console import (
    ASK,
    DIM,
    GOOD,
    PLACE,
    RULE,
    console,
    counted,
    shown_path,
    tell_problems,
)
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    REVIEW,
    RULES,
    STRICT,
    RuleChoice,
    LookOptions,
    format_option,
)
from yellow_trellis.cli.output import Output, styled, write
from yellow_trellis.cli.reworking import ACCEPTED, rework_shown
from yellow_trellis.plans.conflict import EXPLAINED, Conflict, ConflictSide
from yellow_trellis.plans.trial import TOLD, Trial, TrialKind
from yellow_trellis.reports.json import clashes_json
from yellow_trellis.reports.plots import draw_clashes
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.runner import Pairs, pairs_of
from yellow_trellis.visible_text import visible

EXAMPLE = (
    "ytr clashes --rules rules/ src/ --strict    "
    "ytr clashes --rules rules/ --try --picture clashes.png"
)
TAKES: Takes = (
    PATHS,
    RULES,
    REVIEW,
    ACCEPTED,
    STRICT,
    flag(
        "--try",
        dest="trying",
        help="Also apply the rules in pairs, in both orders: does the order matter, does "
        "one feed or "
        "undo another, is one unfinished after one go?",
    ),
    flag("--all", dest="everything", help="Show every conflict, not the first ten."),
    option(
        "--picture",
        metavar="FILE",
        help="Draw the rules by rules, with the conflicts of each pair. Example: --picture "
        "clashes.png",
    ),
    format_option("text", "json"),
    LOOK,
)


def command(
    paths: tuple[str, ...],
    choice: RuleChoice,
    with_review: bool,
    with_accepted: bool,
    strict: bool,
    trying: bool,
    everything: bool,
    picture: str | None,
    form: str,
    look: LookOptions,
) -> None:
    """Check the fixes against each other on PATHS, over all rounds. Nothing is written.

    They are those that `ytr apply` takes. A survey counts conflicts among all fixes that touch each
    other in the first round, also those that ask for review, and none that fail the proof.
    """
    spec = choice.spec()
    result, _ = rework_shown(
        paths,
        spec,
        look,
        with_review=with_review,
        with_accepted=with_accepted,
        trying=trying,
        tells=True,
    )
    if form == "json":
        write(clashes_json(result))
    else:
        _show(console(), result, None if everything else 10)
        if trying:
            show_trials(console(), result)
    if picture is not None:
        draw_clashes(pairs_of(result), Path(picture))
    tell_problems(result.problems)
    if result.unhandled:
        sys.exit(UNHANDLED)
    if strict and result.conflicts:
        sys.exit(FOUND)


def _show(out: Output, run: Run, most: int | None) -> None:
    kinds = Counter(c.kind for report in run.reports for c in report.conflicts)
    fixes = sum(bool(f.fixes) for f in run.findings)
    if not kinds:
        out.print(f"No conflicts among {counted(fixes, 'fix', 'fixes')}.")
        return
    show_conflicts(out, run, most)
    text = ", ".join(f"{n:,} {kind}" for kind, n in sorted(kinds.items()))
    out.print(
        styled(
            (counted(sum(kinds.values()), "conflict"), "bold"),
            f" among {counted(fixes, 'fix', 'fixes')}: {text}.",
        )
    )
    for kind in sorted(kinds):
        out.print(styled(f"  {kind}: {EXPLAINED[kind]}", style=DIM))
    _show_pairs(out, pairs_of(run))
    _show_worst(out, run)
    _show_ways_out(out, pairs_of(run))


def _show_pairs(out: Output, pairs: Pairs) -> None:
    """Print the table of rules by rules; a rule by itself stands for fixes that fail alone."""
    rules = sorted({rule for pair in pairs for rule in pair})
    width = max(len(rule) for rule in rules)
    out.print(
        "\nConflicts by pair: the row wins over the column; "
        "the diagonal counts fixes that fail alone."
    )
    size = max(3, len(str(len(rules))))
    head = "".join(f"{f'[{number}]':>{size + 2}}" for number in range(1, len(rules) + 1))
    out.print(styled(f"  {'':<{width}}     {head}", style=DIM))
    for number, rule in enumerate(rules, 1):
        row = styled("  ", (f"{rule:<{width}}", RULE), (f" {f'[{number}]':>4}", DIM))
        for second in rules:
            count = pairs.get((rule, second), 0)
            row += styled(f"{count or '.':>{size + 2}}", style=ASK if count else DIM)
        out.print(row)


def _show_worst(out: Output, run: Run, most: int = 5) -> None:
    """Print the files with the most conflicts."""
    by_file = Counter({r.path: len(r.conflicts) for r in run.reports if r.conflicts})
    if len(by_file) < 2:
        return
    out.print("\nWhere most of them are:")
    for path, count in sorted(by_file.items(), key=lambda item: (-item[1], item[0]))[:most]:
        out.print(styled(f"  {count:>5,}  ", (shown_path(path), PLACE)))


def _show_ways_out(out: Output, pairs: Pairs) -> None:
    """Print what can be done about it, with the names of the pair that meets most."""
    met = {pair: count for pair, count in pairs.items() if pair[0] != pair[1]}
    if not met:
        out.print("\nThe way out: narrow the rule by its pattern or its conditions.")
        return
    first, second = min(met, key=lambda pair: (-met[pair], pair))
    out.print("\nThe rule that stands first in the ruleset wins. Three ways out:")
    for text in (
        f'let the other one win: put {second} first, or give it wins_over=["{first}"]',
        "narrow one of the two by its pattern or its conditions, so that they do not meet",
        f"choose: --only {first}, or --only {second}, or `ytr apply --ask` place by place",
    ):
        out.print(f"  - {text}")


def show_trials(out: Output, run: Run) -> None:
    """Print what showed by trying, pair by pair, each with one place."""
    table: dict[tuple[TrialKind, str, str], list[tuple[str, Trial]]] = {}
    for report in run.reports:
        for trial in report.trials:
            key = (trial.kind, trial.first, trial.second)
            table.setdefault(key, []).append((report.path, trial))
    if not table:
        out.print("\nTried in both orders: none matters, and no rule feeds or undoes another.")
        return
    out.print("\nApplying the rules in both orders shows:")
    for (kind, first, second), places in sorted(table.items()):
        path, trial = places[0]
        extra = f" and {counted(len(places) - 1, 'more file')}" if len(places) > 1 else ""
        names = [(first, RULE)] if first == second else [(first, RULE), " and ", (second, RULE)]
        out.print(styled("  ", (f"{kind:<13}", ASK), "  ", *names))
        out.print(styled(f"    {TOLD[kind]}", style=DIM))
        place = f"{shown_path(path)}:{trial.place}"
        code = visible(trial.code.strip())
        out.print(styled("    ", (place, PLACE), extra, "  ", (code, "bold")))


def show_conflicts(out: Output, run: Run, most: int | None = None) -> None:
    """Print the conflicts with their parties, their places and the code; the first `most`."""
    results = [(r.path, c) for r in run.reports for c in dict.fromkeys(r.conflicts)]
    for path, conflict in results[:most]:
        _show_conflict(out, path, conflict)
        out.print()
    if most is not None and len(results) > most:
        out.print(styled(f"and {len(results) - most:,} more: --all shows them\n", style=DIM))


def show_yielding(out: Output, run: Run, most: int = 5) -> None:
    """Print the conflicts between two fixes in which one went first, the first few of them."""
    results = [
        (report.path, conflict)
        for report in run.reports
        for conflict in dict.fromkeys(report.conflicts)
        if conflict.other is not None
    ]
    if results:
        out.print(f"{counted(len(results), 'conflict')}; the earlier rule went first:")
    for path, conflict in results[:most]:
        _show_conflict(out, path, conflict)
    if len(results) > most:
        out.print(
            styled(f"and {len(results) - most:,} more: `ytr undo`, then `ytr clashes`", style=DIM)
        )


def _show_conflict(out: Output, path: str, conflict: Conflict) -> None:
    place = f"{shown_path(path)}:{conflict.party.start}"
    out.print(styled((conflict.kind, ASK), "  ", (place, PLACE)))
    for line in conflict.explained.splitlines():
        out.print(styled(f"  {visible(line)}", style=DIM))
    second = conflict.other
    if second is None:
        _show_party(out, "fix of", conflict.party)
        return
    width = max(len(conflict.party.rule), len(second.rule))
    _show_party(out, "first ", conflict.party, width)
    _show_party(out, "waits ", second, width)


def _show_party(out: Output, role: str, party: ConflictSide, width: int = 0) -> None:
    code = _one_line(party.code)
    place = f"at {party.start}" if party.start == party.end else f"{party.start} to {party.end}"
    out.print(
        styled(f"  {role}  ", (f"{party.rule:<{width}}", RULE), f"  {place}  ", (code, "bold"))
    )
    if party.wanted and party.wanted != party.code:
        lead = " " * (len(role) + 4)
        out.print(styled(f"{lead}wanted  ", (_one_line(party.wanted), GOOD)))


def _one_line(code: str) -> str:
    first, *extra = code.strip().splitlines() or [""]
    return visible(first) + (" ..." if extra else "")
