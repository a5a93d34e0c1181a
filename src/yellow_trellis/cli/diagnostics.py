"""Diagnostics of a survey: where its time went, and why a file is included or not."""

from __future__ import annotations

import os
from collections import defaultdict
from collections.abc import Iterable
from pathlib import Path

from yellow_trellis.cli.console import DIM, PLACE, RULE, counted, shown_path
from yellow_trellis.cli.output import Output, styled
from yellow_trellis.errors import TrellisError
from yellow_trellis.languages import language, read_source
from yellow_trellis.project.cache.file_stat import Stamp
from yellow_trellis.project.discovery import SourceFile, root_of, why_skipped
from yellow_trellis.project.file_filter import GENERATED, generated, narrowed
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.file_options import FileFilter
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.source import TokenIndex, UnreadableError

_SLOWEST = 8


def show_timings(out: Output, run: Run, seconds: float) -> None:
    """Print what the parts of a run took, the rules by cost, and the slowest files."""
    phases: defaultdict[str, float] = defaultdict(float)
    rules: defaultdict[str, float] = defaultdict(float)
    files: list[tuple[float, str, int]] = []
    for report in run.reports:
        for name, took in report.phase_seconds:
            phases[name] += took
        for name, took in report.rule_seconds:
            rules[name] += took
        work = sum(took for _, took in (*report.phase_seconds, *report.rule_seconds))
        files.append((work, report.path, report.lines))
    parsed = sum(report.parsed for report in run.reports)
    out.print(styled(f"{seconds:.2f} s in all, of this process:", style=RULE))
    for name, took in run.seconds.items():
        out.print(f"  {took:8.3f} s  {name}")
    out.print(styled("in the workers together:", style=RULE))
    for name, took in phases.items():
        extra = f"  {parsed:,} of {counted(len(run.reports), 'file')}" if name == "parse" else ""
        out.print(f"  {took:8.3f} s  {name}{extra}")
    out.print(f"  {sum(rules.values()):8.3f} s  rules, slowest first")
    for name, took in sorted(rules.items(), key=lambda rule: -rule[1]):
        out.print(f"  {took:8.3f} s      {name}")
    out.print(styled("slowest files:", style=RULE))
    for took, path, lines in sorted(files, reverse=True)[:_SLOWEST]:
        out.print(
            styled(f"  {took:8.3f} s  ", (shown_path(path), PLACE), (f"  {lines:,} lines", DIM))
        )
    out.print()


def show_why(
    out: Output, file: str, paths: Iterable[str], spec: RulesSpec, file_filter: FileFilter
) -> None:
    """Print why a file is looked at or not, and by which rules. Errors: `TrellisError`."""
    if not os.path.isfile(file):
        raise TrellisError(f"{file}: there is no such file")
    tops = list(paths)
    endings = dict(file_filter.endings)
    reason = why_skipped(file, tops, endings)
    name = language_at(file, endings)
    if not reason and name is not None:
        source_file = SourceFile(os.path.normpath(file), name, Stamp.of(file) or Stamp())
        _, remainder = narrowed([source_file], file_filter, root_of(tops))
        reason = remainder[0].reason if remainder else ""
    raw = Path(file).read_bytes()
    if not reason and generated(raw) and not file_filter.generated:
        reason = f"{GENERATED}: --generated looks at such files too"
    if reason or name is None:
        out.print(styled((shown_path(file), PLACE), f" is not looked at: {reason}"))
        return
    spoken = language(name)
    try:
        code = read_source(raw, spoken, file, file_filter.empty_macros).code
    except UnreadableError as wrong:
        out.print(styled((shown_path(file), PLACE), f" cannot be read: {wrong}"))
        return
    out.print(styled((shown_path(file), PLACE), f" is looked at, as {name}"))
    for rule in spec.ruleset().own_rules:
        if name not in rule.languages:
            why = f"no: it is about {' and '.join(rule.languages)}"
        elif lacks := rule.in_language(name).compiled.lacks(code):
            why = f"no: there is no `{lacks}` in the file"
        elif not rule.in_language(name).compiled.concerns(TokenIndex(spoken.folded(code))):
            why = "no: all its words are there, but nowhere as the rule has them"
        else:
            why = "yes"
        out.print(styled("  ", (rule.name, RULE), f"  {why}"))
