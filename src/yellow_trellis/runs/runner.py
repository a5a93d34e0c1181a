"""A run over many files: each read once, looked at in worker processes, reported in path order."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator, Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_trellis.findings.timing import Watch
from yellow_trellis.project.discovery import SourceFile, common_root, discover
from yellow_trellis.project.file_filter import narrowed
from yellow_trellis.project.file_options import EVERYTHING, FileFilter, SkippedFile
from yellow_trellis.project.locate import project_of
from yellow_trellis.project.project_registry import BaseSpec, code_base
from yellow_trellis.rules import RuleDefinition, RuleError, Ruleset
from yellow_trellis.runs.cross_file import failed_somewhere
from yellow_trellis.runs.file_report import FileReport, Mode, Run
from yellow_trellis.runs.pipeline import FileOptions
from yellow_trellis.runs.processes.deadlines import Deadline
from yellow_trellis.runs.processes.pool import spread
from yellow_trellis.runs.processes.task import Task, look_at
from yellow_trellis.runs.report_types import Problem
from yellow_trellis.runs.rule_source import PatternSpec, RulesLike, RulesSpec, as_rules
from yellow_trellis.runs.run_options import NO_CHECKS, USUAL, Limits, SyntaxChecks
from yellow_trellis.semantics.alias_map import SPELLED

if TYPE_CHECKING:
    from concurrent.futures import Executor

    from yellow_trellis.findings.finding import Finding
    from yellow_trellis.fixes import Fix
    from yellow_trellis.project.project import CodeBase
    from yellow_trellis.runs.fix_selection import Ask, Asking
    from yellow_trellis.syntax import Tree

OnProgress = Callable[[FileReport], None]


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
    *,
    mode: Mode = "survey",
    with_review: bool = False,
    with_holes: bool = False,
    with_marks: bool = False,
    whole_files: bool = False,
    file_filter: FileFilter = EVERYTHING,
    limits: Limits = USUAL,
    syntax: SyntaxChecks = NO_CHECKS,
    cache: bool = False,
    timed: bool = False,
    workers: int | None = None,
    executor: Executor | None = None,
    ask: Ask | None = None,
    on_start: Callable[[list[SourceFile]], None] | None = None,
    on_progress: OnProgress | None = None,
) -> Run:
    """Look at all files under `paths` with `rules`; nothing is written but what `cache` keeps.

    Arguments:
        mode: ``survey`` finds, ``rework`` also makes the new text of each file.
        with_review, with_holes, with_marks, whole_files: see `FileOptions`.
        file_filter: which of the files to look at, and of what size at most.
        limits: what one file may cost.
        syntax: what changed files are held to; its commands are for `write_changes`.
        cache: whether what is known from earlier runs is used, and what is found kept.
        timed: whether each report says what the parts of the work took.
        workers: how many processes; as many as there are processors if left out, none of them
            started where the code is too small to be worth it, but one where rules are programs or
            `limits` has a memory. Rules given as a `Ruleset` are used in this process, as functions
            cannot be sent to another.
        executor: any executor to send the work to instead; its workers see the same files.
        ask: asked about every finding with a fix, in the order of the files; then all is done in
            this process.
        on_start, on_progress: told the files, and each report as it comes.
    Returns: a `Run`; the same whatever the number of workers, and whatever was known before.
    Errors: `MissingPath`, `RuleError`, `NoRevision`, `NoOwners`.
    """
    rules = as_rules(rules)
    ruleset = rules if isinstance(rules, Ruleset) else rules.ruleset()
    paths = [paths] if isinstance(paths, (str, Path)) else list(paths)
    root = common_root(paths)
    clock = Watch()
    missed: list[Problem] = []

    def unread(folder: str, reason: str) -> None:
        missed.append(Problem(folder, reason))

    with clock.phase("find files"):
        files, remainder = narrowed(discover(paths, ruleset.languages(), unread), file_filter, root)
    project = project_of(str(root))
    base = BaseSpec(project, ruleset.required_symbols(), os.urandom(16).hex(), str(root))
    spanning = [rule for rule in ruleset.rules if rule.across is not None]
    _refuse_unknown(spanning, base)
    if on_start is not None:
        on_start(files)
    whole = Task(
        (),
        rules if executor is None or isinstance(rules, Ruleset) else rules.for_elsewhere(),
        FileOptions(mode, with_review, with_holes, with_marks, (), syntax.versions, whole_files),
        base,
        folder=os.getcwd(),
        limits=limits,
        timed=timed,
        with_generated=file_filter.generated,
    )
    if file_filter.lines and file_filter.base is not None:
        whole = whole._replace(changed_from=_earlier(files, file_filter.base, root))
    asking = _asking(ask) if ask is not None else None

    def reports(files: list[SourceFile], refused: Mapping[str, str]) -> Iterator[FileReport]:
        options = whole.options._replace(refused=tuple(sorted(refused.items())))
        task = whole._replace(options=options)
        if asking is not None:
            return _ask_for_each(files, task, asking, workers)
        return spread(task, files, workers, executor)

    by_path: dict[str, FileReport] = {}

    def took(report: FileReport) -> None:
        by_path[report.path] = report
        if on_progress is not None:
            on_progress(report)

    memory = None
    if cache and asking is None and not timed and not file_filter.lines:
        memory = None if isinstance(rules, Ruleset) else _Memory(code_base(base), rules, whole)
    with clock.phase("recall"):
        for report in memory.recall(files, ruleset) if memory is not None else ():
            took(report)
    entry = len(by_path)
    with clock.phase("look"):
        for report in reports([file for file in files if file.path not in by_path], {}):
            took(report)
    for file in files:
        if file.path not in by_path:  # what is not told would pass as clean
            took(FileReport.failed(file.path, "no report of it came back"))
    with clock.phase("keep"):
        if memory is not None:
            memory.keep(files, by_path)
    refused: dict[str, str] = {}
    extras = _undone_outside(spanning, by_path, paths, base, file_filter)
    while extras := extras or failed_somewhere(
        by_path.values(), ruleset.spanning() - set(refused), with_review
    ):
        refused |= extras
        again = [f for f in files if _has_any(by_path[f.path], extras)]
        for report in reports(again, refused):
            # what stopped a rule is still to be told, though it is not tried again
            why = tuple(c for c in by_path[report.path].conflicts if c.party.rule in extras)
            by_path[report.path] = report._replace(conflicts=(*why, *report.conflicts))
        extras = {}
    looked_at = [by_path[path] for path in sorted(by_path) if not by_path[path].left]
    done = Run(looked_at, root, remainder, entry, seconds=clock.phases)
    done.left += [SkippedFile(r.path, r.left) for r in by_path.values() if r.left]
    done.missed += sorted(missed, key=lambda item: item.path)
    done.left.sort(key=lambda item: item.path)
    if spanning and mode == "rework":
        from yellow_trellis.runs.outside_users import texts_saying

        applied = {f.rule for r in looked_at for f in r.fates if f.state == "applied"}
        done.notes += texts_saying([rule for rule in spanning if rule.name in applied], base)
    if memory is not None and memory.damaged:
        done.notes.append("what was kept of earlier runs was damaged: it was thrown away")
    if memory is not None and memory.fault:
        done.notes.append(f"nothing is kept for the next run: {memory.fault}")
    return done


def _refuse_unknown(rules: Iterable[RuleDefinition], base: BaseSpec) -> None:
    """Refuse a rule that names what the code base has not."""
    for rule in rules:
        if rule.across is not None and (fault := rule.across.fault_in(code_base(base).graph)):
            raise RuleError(f"{rule.place}: the rule {rule.name!r} cannot be used here: {fault}")


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

    looked_at = {os.path.realpath(report.path) for report in reports.values() if not report.left}
    looked_at |= {os.path.realpath(rule.path) for rule in rules}  # they say it, and do not use it
    return users_outside(rules, looked_at, map(str, paths), base)


def _ask_for_each(
    files: list[SourceFile], task: Task, asking: Asking, workers: int | None
) -> Iterator[FileReport]:
    """Yield the reports of files for which a person chooses among the fixes.

    That is done in this process; so rules that are programs are tried in others before.
    """
    over: dict[str, tuple[tuple[str, str], ...]] = {}
    if not isinstance(task.rules, Ruleset) and task.rules.runs_code:
        survey = task._replace(options=task.options._replace(mode="survey"))
        for report in spread(survey, files, workers):
            over[report.path] = tuple((p.rule, p.reason) for p in report.problems if p.rule)
    guard = Deadline(task.limits)

    def choose(finding: Finding, tree: Tree) -> Fix | None:
        with guard.off_duty():
            return asking.choose(finding, tree)

    with guard.on_duty():
        for file in files:
            yield look_at(file, task._replace(over=over.get(file.path, ())), guard, choose)


def _asking(ask: Ask) -> Asking:
    from yellow_trellis.runs.fix_selection import Asking  # plans are made for it

    return Asking(ask)


class _Memory:
    """The cache of earlier runs: reports of files, and the words in them."""

    def __init__(self, base: CodeBase, rules: RulesSpec | PatternSpec, task: Task) -> None:
        from yellow_trellis.runs.report_cache import ReportCache  # a run without it loads less
        from yellow_trellis.runs.word_index import WordIndex

        self._base = base
        modes = (task.options, task.with_generated)
        self._vocabulary = base.vocabulary if base.symbols else SPELLED
        words = sorted((name, sorted(some)) for name, some in self._vocabulary.words.items())
        kind = (rules.identity(), modes, words)
        self._reports = ReportCache(base, kind)
        self._words = WordIndex(base.store)
        self._known: set[str] = set()

    @property
    def damaged(self) -> bool:
        """Return whether the cached data could not be trusted."""
        return self._base.store.damaged

    @property
    def fault(self) -> str:
        """Why nothing can be kept, if that is so."""
        return self._base.store.fault

    def recall(self, files: list[SourceFile], ruleset: Ruleset) -> Iterator[FileReport]:
        """Yield what is known without looking at a file."""
        result = self._reports.known(files)
        self._known.update(result)
        yield from result.values()
        tail = [file for file in files if file.path not in result]
        if tail and self._words.exists:
            yield from self._words.without(tail, ruleset, self._vocabulary).values()

    def keep(self, files: list[SourceFile], reports: Mapping[str, FileReport]) -> None:
        """Keep what was found out for the next run."""
        for file in files:
            if file.path not in self._known:
                self._reports.add(file, reports[file.path])
        self._reports.keep()
        if self._words.exists:
            self._words.follow(files)


def _earlier(
    files: list[SourceFile], revision: str, root: Path
) -> tuple[tuple[str, bytes | None], ...]:
    """Return by path what the files held at a revision; None where they were not there."""
    from yellow_trellis.project.git import Repository

    repository = Repository(root)
    return tuple(
        (file.path, repository.text(revision, os.path.realpath(file.path))) for file in files
    )


def _has_any(report: FileReport, rules: Mapping[str, str]) -> bool:
    return any(fate.rule in rules for fate in report.fates)
