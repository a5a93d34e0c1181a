"""A run over many files: each read once, looked at in worker processes, reported in path order."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator, Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis.findings.timing import Watch
from yellow_trellis.project.cache.file_stat import Stamp
from yellow_trellis.project.discovery import SourceFile, discover, root_of
from yellow_trellis.project.file_filter import narrowed
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.file_options import FileFilter, SkippedFile
from yellow_trellis.project.project_registry import BaseSpec, code_base
from yellow_trellis.rules import RuleDefinition, RuleError, Ruleset
from yellow_trellis.runs.cross_file import failed_somewhere
from yellow_trellis.runs.file_report import FileReport, Run
from yellow_trellis.runs.processes.deadlines import Deadline
from yellow_trellis.runs.processes.pool import spread
from yellow_trellis.runs.processes.task import Task, look_at
from yellow_trellis.runs.report_types import Problem
from yellow_trellis.runs.rule_source import PatternSpec, RulesLike, RulesSpec, as_rules
from yellow_trellis.runs.run_options import USUAL, RunOptions

if TYPE_CHECKING:
    from concurrent.futures import Executor

    from yellow_trellis.findings.finding import Finding
    from yellow_trellis.fixes import Fix
    from yellow_trellis.runs.fix_selection import Ask, Asking
    from yellow_trellis.runs.run_cache import RunCache
    from yellow_trellis.syntax import Tree

OnProgress = Callable[[FileReport], None]
_NOTHING: Mapping[str, str] = {}
_NO_TEXTS: Mapping[str, bytes] = {}
_FEW = 3
"""Files that are looked at sooner than a cache of them, where no folder is named."""


Pairs = dict[tuple[str, str], int]
"""How many conflicts the fixes of two rules have, the one that goes first being first.

A rule with itself stands for fixes that fail alone, or meet others of the same rule.
"""


def pairs_of(run: Run) -> Pairs:
    """Count the conflicts of a run by the rules that meet."""
    pairs: Pairs = {}
    for report in run.reports:
        for conflict in report.conflicts:
            second = conflict.other or conflict.party
            pair = (conflict.party.rule, second.rule)
            pairs[pair] = pairs.get(pair, 0) + 1
    return pairs


def run(
    paths: str | Path | Iterable[str | Path],
    rules: RulesLike,
    options: RunOptions = USUAL,
    *,
    executor: Executor | None = None,
    ask: Ask | None = None,
    unsaved: Mapping[str, bytes] = _NO_TEXTS,
    on_start: Callable[[list[SourceFile]], None] | None = None,
    on_progress: OnProgress | None = None,
) -> Run:
    """Look at all files under `paths` with `rules`; nothing is written but what `cache` keeps.

    Arguments:
        options: what is done, with which files, at what cost.
        executor: any executor to send the work to instead; its workers see the same files.
        ask: asked about every finding with a fix, in the order of the files; then all is done in
            this process.
        unsaved: by real path the bytes of files that count instead of those on the disk.
        on_start, on_progress: told the files, and each report as it comes.
    Returns: a `Run`; the same whatever the number of workers, and whatever was known before.
    Errors: `MissingPathError`, `RuleError`, `RevisionError`, `CodeOwnersError`.
    """
    rules, file_filter = as_rules(rules), options.file_filter
    ruleset = rules if isinstance(rules, Ruleset) else rules.ruleset()
    paths = [paths] if isinstance(paths, (str, Path)) else list(paths)
    root = root_of(paths)
    clock = Watch()
    with clock.phase("find files"):
        listed, missed = _listed(paths, ruleset.languages(), dict(file_filter.endings), unsaved)
        files, remainder = narrowed(listed, file_filter, root)
    base = BaseSpec(
        str(root),
        ruleset.required_symbols(),
        os.urandom(16).hex(),
        tuple(sorted(ruleset.languages())),
        file_filter.endings,
        tuple(sorted(unsaved.items())),
        options.cache,
    )
    spanning = [rule for rule in ruleset.rules if rule.across is not None]
    _refuse_unknown(spanning, base)
    if on_start is not None:
        on_start(files)
    task = Task(
        (),
        rules if executor is None or isinstance(rules, Ruleset) else rules.for_elsewhere(),
        options,
        base,
        folder=os.getcwd(),
    )
    if file_filter.lines and file_filter.base is not None:
        task = task._replace(changed_from=_earlier(files, file_filter, root))
    inspection = _Inspection(task, executor, _asking(ask) if ask is not None else None)
    store = None
    many = len(paths) > _FEW or any(map(os.path.isdir, paths))
    if options.cache and many and ask is None and not options.timed and not file_filter.lines:
        store = None if isinstance(rules, Ruleset) else _cache(base, rules, task)
    saved = [f for f in files if not unsaved or os.path.realpath(f.path) not in unsaved]
    by_path: dict[str, FileReport] = {}

    def take(report: FileReport) -> None:
        by_path[report.path] = report
        if on_progress is not None:
            on_progress(report)

    with clock.phase("recall"):
        for report in store.recall(saved, ruleset) if store is not None else ():
            take(report)
    recalled = len(by_path)
    with clock.phase("look"):
        for report in inspection.reports([file for file in files if file.path not in by_path]):
            take(report)
    for file in files:
        if file.path not in by_path:  # what is not told would pass as clean
            take(FileReport.failed(file.path, "no report of it came back"))
    with clock.phase("keep"):
        if store is not None:
            store.keep(saved, by_path)
    refused = _undone_outside(spanning, by_path, paths, base, file_filter)
    refused |= _accepted_somewhere(spanning, options)
    _redo(by_path, files, inspection, ruleset, refused)
    reports = [by_path[path] for path in sorted(by_path)]
    done = Run([r for r in reports if not r.left], root, remainder, recalled, seconds=clock.phases)
    done.left += [SkippedFile(report.path, report.left) for report in reports if report.left]
    done.left.sort(key=lambda item: item.path)
    done.missed += missed
    if spanning and options.mode == "rework":
        from yellow_trellis.runs.outside_users import texts_saying

        applied = {f.rule for r in done.reports for f in r.fates if f.state == "applied"}
        done.notes += texts_saying([rule for rule in spanning if rule.name in applied], base)
    done.notes += store.notes if store is not None else ()
    return done


def _listed(
    paths: list[str | Path],
    languages: frozenset[str],
    endings: Mapping[str, str],
    unsaved: Mapping[str, bytes],
) -> tuple[list[SourceFile], list[Problem]]:
    """Return the files under `paths`, and the folders that cannot be read, sorted by path.

    A file whose text is given need not exist.
    """
    missed: list[Problem] = []

    def unread(folder: str, reason: str) -> None:
        missed.append(Problem(folder, reason))

    there = [path for path in paths if os.path.realpath(path) not in unsaved]
    files = discover(there, languages, unread, endings) if there else []
    for path in map(str, paths):
        raw = unsaved.get(os.path.realpath(path))
        name = language_at(path, endings) if raw is not None else None
        if raw is not None and name is not None and name in languages:
            files.append(SourceFile(path, name, Stamp(len(raw))))
    return files, sorted(missed, key=lambda item: item.path)


class _Inspection(Struct, frozen=True):
    """The way to the reports of files: in this process, in others, or with a person to ask."""

    task: Task
    executor: Executor | None
    asking: Asking | None

    def reports(
        self, files: list[SourceFile], refused: Mapping[str, str] = _NOTHING
    ) -> Iterator[FileReport]:
        """Yield the reports of `files`, in any order.

        Arguments: `refused` are the rules that no fix is made of, with the reasons.
        """
        task = self.task._replace(refused=tuple(sorted(refused.items())))
        if self.asking is not None:
            return _ask_for_each(files, task, self.asking)
        return spread(task, files, self.executor)


def _redo(
    by_path: dict[str, FileReport],
    files: list[SourceFile],
    inspection: _Inspection,
    ruleset: Ruleset,
    failed: dict[str, str],
) -> None:
    """Repeat files without the rules over several files that cannot be done in all of them.

    Arguments: `failed` are those known from outside of the files, with the reasons.
    """
    refused: dict[str, str] = {}
    while failed := failed or failed_somewhere(
        by_path.values(), ruleset.spanning() - set(refused), inspection.task.options.with_review
    ):
        refused |= failed
        again = [file for file in files if _has_any(by_path[file.path], failed)]
        for report in inspection.reports(again, refused):
            # what stopped a rule is still to be told, though it is not tried again
            why = tuple(c for c in by_path[report.path].conflicts if c.party.rule in failed)
            by_path[report.path] = report._replace(conflicts=(*why, *report.conflicts))
        failed = {}


def _refuse_unknown(rules: Iterable[RuleDefinition], base: BaseSpec) -> None:
    """Refuse a rule that names what the code base has not."""
    for rule in rules:
        if rule.across is None:
            continue
        graph = code_base(base).modules(rule.language).graph
        if fault := rule.across.fault_in(graph):
            raise RuleError(f"{rule.place}: the rule {rule.name!r} cannot be used here: {fault}")


def _accepted_somewhere(rules: list[RuleDefinition], options: RunOptions) -> dict[str, str]:
    """Return by rule that a place of it is accepted, so that it cannot be done everywhere."""
    accepted = {entry.rule for entries in options.accepted.values() for entry in entries}
    message = "in no file, because the baseline accepts a place of it: --with-accepted takes all"
    return {rule.name: message for rule in rules if rule.name in accepted}


def _undone_outside(
    rules: list[RuleDefinition],
    reports: Mapping[str, FileReport],
    paths: Iterable[str | Path],
    base: BaseSpec,
    file_filter: FileFilter,
) -> dict[str, str]:
    """Return by rule why it cannot be done in all of the code base."""
    if not rules or file_filter.only_here:
        return {}
    if file_filter.lines:
        message = "in no file, because it cannot be held to changed lines"
        return {rule.name: message for rule in rules}
    # few rules are over a whole code base
    from yellow_trellis.runs.outside_users import users_outside

    looked_at = {
        os.path.realpath(report.path): next((p.reason for p in report.problems if p.costs_file), "")
        for report in reports.values()
        if not report.left
    }
    looked_at |= {os.path.realpath(rule.path): "" for rule in rules}  # they say it, no more
    return users_outside(rules, looked_at, map(str, paths), base)


def _ask_for_each(
    files: list[SourceFile], task: Task, asking: Asking
) -> Iterator[FileReport]:
    """Yield the reports of files for which a person chooses among the fixes.

    That is done in this process; so rules that are programs are tried in others before.
    """
    over: dict[str, tuple[tuple[str, str], ...]] = {}
    if not isinstance(task.rules, Ruleset) and task.rules.runs_code:
        survey = task._replace(options=replace(task.options, mode="survey"))
        for report in spread(survey, files):
            over[report.path] = tuple((p.rule, p.reason) for p in report.problems if p.rule)
    guard = Deadline(task.options.limits)

    def choose(finding: Finding, tree: Tree) -> Fix | None:
        with guard.off_duty():
            return asking.choose(finding, tree)

    with guard.on_duty():
        for file in files:
            yield look_at(file, task._replace(over=over.get(file.path, ())), guard, choose)


def _cache(base: BaseSpec, rules: RulesSpec | PatternSpec, task: Task) -> RunCache:
    from yellow_trellis.runs.run_cache import RunCache  # a run without it loads less

    return RunCache(code_base(base), rules, task)


def _asking(ask: Ask) -> Asking:
    from yellow_trellis.runs.fix_selection import Asking  # plans are made for it

    return Asking(ask)


def _earlier(
    files: list[SourceFile], file_filter: FileFilter, root: Path
) -> tuple[tuple[str, bytes | None], ...]:
    """Return by path what the files held where changes are counted from; None for new ones."""
    from yellow_trellis.project.earlier_files import earlier_files

    earlier = earlier_files(root, file_filter)
    return tuple((f.path, earlier.text(f.path)) for f in files) if earlier is not None else ()


def _has_any(report: FileReport, rules: Mapping[str, str]) -> bool:
    return any(fate.rule in rules for fate in report.fates)
