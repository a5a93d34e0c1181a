"""A run over many files: each read once, looked at in worker processes, reported in path order."""

from __future__ import annotations

import gc
import multiprocessing
import os
import sys
from collections.abc import Callable, Iterable, Iterator, Mapping
from concurrent.futures import Executor, Future, ProcessPoolExecutor, as_completed
from dataclasses import dataclass, field, replace
from functools import cache, partial
from pathlib import Path
from uuid import uuid4

from yellow_trellis.engine.ask import Ask, Asking
from yellow_trellis.engine.codebase import BaseSpec, code_base, surroundings
from yellow_trellis.engine.discover import Found, common_root, discover
from yellow_trellis.engine.examine import FileReport, FindingRecord, Mode, Problem, examine
from yellow_trellis.engine.together import failed_somewhere
from yellow_trellis.facts import SPELLED
from yellow_trellis.plans.plan import Choose
from yellow_trellis.rules import Rule, Ruleset, load_rules

_BATCH = 256 * 1024
_WORTH_WORKERS = 1024 * 1024
"""Bytes of code below which starting worker processes costs more than it saves."""

OnProgress = Callable[[FileReport], None]


@dataclass(frozen=True, slots=True)
class RulesSpec:
    """Where rules come from, so that a worker process can read them itself."""

    paths: tuple[str, ...]
    only: tuple[str, ...] = ()

    def ruleset(self) -> Ruleset:
        """Read the rules. Errors: `RuleError`."""
        return _ruleset(self)


@cache
def _ruleset(spec: RulesSpec) -> Ruleset:
    ruleset = Ruleset.of(load_rules(spec.paths))
    return ruleset.only(spec.only) if spec.only else ruleset


@dataclass(frozen=True, slots=True)
class PatternSpec:
    """A pattern, and a template to try on it, that a worker process can make a rule of."""

    find: str
    put: str | None
    language: str
    part: str | None = None
    any_order: bool = False

    def ruleset(self) -> Ruleset:
        """Return one rule, called ``seek``. Errors: `RuleError`."""
        return _pattern_ruleset(self)


@cache
def _pattern_ruleset(spec: PatternSpec) -> Ruleset:
    rule = Rule(
        "seek",
        summary="seek",
        find=spec.find,
        put=spec.put,
        part=spec.part,
        any_order=spec.any_order,
        language=spec.language,
    )
    return Ruleset.of([rule])


Rules = RulesSpec | PatternSpec | Ruleset
"""Rules to look with; those given as a `Ruleset` stay in this process."""


@dataclass
class Run:
    """What a run found. `reports` are in the order of their paths."""

    reports: list[FileReport] = field(default_factory=list)

    @property
    def findings(self) -> list[FindingRecord]:
        """All findings, by path and place."""
        return [found for report in self.reports for found in report.findings]

    @property
    def problems(self) -> list[Problem]:
        """All that could not be handled."""
        return [problem for report in self.reports for problem in report.problems]

    @property
    def lines(self) -> int:
        """How many lines were looked at."""
        return sum(report.lines for report in self.reports)

    @property
    def changed(self) -> list[FileReport]:
        """The reports of files that get other bytes."""
        return [report for report in self.reports if report.change is not None]


Pairs = dict[tuple[str, str], int]
"""How many conflicts the fixes of two rules have, the one that goes first being first.

A rule with itself stands for fixes that fail alone, or meet others of the same rule.
"""


def pairs_of(run: Run) -> Pairs:
    """Count the conflicts of a run by the rules that meet."""
    found: Pairs = {}
    for report in run.reports:
        for conflict in report.conflicts:
            other = conflict.other or conflict.party
            pair = (conflict.party.rule, other.rule)
            found[pair] = found.get(pair, 0) + 1
    return found


@dataclass(frozen=True, slots=True)
class Task:
    """Some files for one worker, and what to do with them."""

    files: tuple[Found, ...]
    rules: Rules
    mode: Mode
    with_review: bool
    with_holes: bool
    base: BaseSpec
    refused: tuple[tuple[str, str], ...] = ()
    """Rules whose fixes are not to be applied, each with the reason."""


def work(task: Task) -> list[FileReport]:
    """Look at the files of `task`; runs in a worker process."""
    ruleset = task.rules if isinstance(task.rules, Ruleset) else task.rules.ruleset()
    reports = [_look_at(file, ruleset, task) for file in task.files]
    code_base(task.base).keep()
    if not gc.isenabled():
        gc.collect()
    return reports


def _look_at(file: Found, ruleset: Ruleset, task: Task, choose: Choose | None = None) -> FileReport:
    try:
        raw = Path(file.path).read_bytes()
    except OSError as wrong:
        reason = f"cannot be read: {wrong.strerror or wrong}"
        return FileReport(file.path, problems=(Problem(file.path, reason),))
    base = task.base
    vocabulary = code_base(base).vocabulary if base.asked else SPELLED
    try:
        return examine(
            raw,
            file.path,
            file.language,
            ruleset,
            mode=task.mode,
            with_review=task.with_review,
            with_holes=task.with_holes,
            context=partial(surroundings, base, file.path),
            vocabulary=vocabulary,
            refused=dict(task.refused),
            choose=choose,
        )
    except RecursionError:
        reason = "its code is nested too deeply to be looked at"
        return FileReport(file.path, len(raw), problems=(Problem(file.path, reason),))


def run(
    paths: Iterable[str | Path],
    rules: Rules,
    *,
    mode: Mode = "survey",
    with_review: bool = False,
    with_holes: bool = False,
    workers: int | None = None,
    executor: Executor | None = None,
    ask: Ask | None = None,
    on_start: Callable[[list[Found]], None] | None = None,
    on_progress: OnProgress | None = None,
) -> Run:
    """Look at all files under `paths` with `rules`; nothing is written.

    Arguments:
        mode: ``survey`` finds, ``rework`` also makes the new text of each file.
        with_review, with_holes: see `examine`.
        workers: how many processes; as many as there are processors if left out, none of them
            started where the code is too small to be worth it. Rules given as a `Ruleset` are
            used in this process, as functions cannot be sent to another.
        executor: any executor to send the work to instead.
        ask: asked about every finding with a fix, in the order of the files; then all is done in
            this process.
        on_start, on_progress: told the files, and each report as it comes.
    Returns: a `Run`; the same whatever the number of workers.
    Errors: `MissingPath`, `RuleError`.
    """
    ruleset = rules if isinstance(rules, Ruleset) else rules.ruleset()
    paths = list(paths)
    files = discover(paths, ruleset.languages())
    base = BaseSpec(str(common_root(paths)), ruleset.asked(), uuid4().hex)
    if on_start is not None:
        on_start(files)
    whole = Task((), rules, mode, with_review, with_holes, base)

    asking = Asking(ask) if ask is not None else None

    def reports(files: list[Found], refused: Mapping[str, str]) -> Iterator[FileReport]:
        told = tuple(sorted(refused.items()))
        if asking is not None:
            task = replace(whole, refused=told)
            return (_look_at(file, ruleset, task, asking.choose) for file in files)
        tasks = [replace(whole, files=batch, refused=told) for batch in _batches(files)]
        return _results(tasks, files, rules, workers, executor)

    by_path: dict[str, FileReport] = {}
    for report in reports(files, {}):
        by_path[report.path] = report
        if on_progress is not None:
            on_progress(report)
    refused: dict[str, str] = {}
    while more := failed_somewhere(by_path.values(), ruleset.spanning() - set(refused)):
        refused |= more
        again = [f for f in files if _has_any(by_path[f.path], more)]
        for report in reports(again, refused):
            # what stopped a rule is still to be told, though it is not tried again
            why = tuple(c for c in by_path[report.path].conflicts if c.party.rule in more)
            by_path[report.path] = replace(report, conflicts=(*why, *report.conflicts))
    return Run([by_path[path] for path in sorted(by_path)])


def _has_any(report: FileReport, rules: Mapping[str, str]) -> bool:
    return any(fate.rule in rules for fate in report.fates)


def _batches(files: list[Found]) -> Iterator[tuple[Found, ...]]:
    """Yield the files in batches, the largest first, so that the last worker is not left alone."""
    batch: list[Found] = []
    size = 0
    for file in sorted(files, key=lambda f: (-f.size, f.path)):
        batch.append(file)
        size += file.size
        if size >= _BATCH or len(batch) >= 200:
            yield tuple(batch)
            batch, size = [], 0
    if batch:
        yield tuple(batch)


def _results(
    tasks: list[Task],
    files: list[Found],
    rules: Rules,
    workers: int | None,
    executor: Executor | None,
) -> Iterator[FileReport]:
    if executor is not None:
        yield from _from_executor(tasks, executor)
        return
    count = workers if workers is not None else os.cpu_count() or 1
    small = workers is None and sum(f.size for f in files) < _WORTH_WORKERS
    if count < 2 or small or isinstance(rules, Ruleset):
        for task in tasks:
            for file in task.files:
                yield from work(replace(task, files=(file,)))
        return
    # A forked worker starts with all modules, rules and what is known of the code base in place;
    # elsewhere it reads them anew.
    if tasks and tasks[0].base.asked:
        _ = code_base(tasks[0].base).vocabulary
    if tasks and tasks[0].mode == "rework":
        _ = code_base(tasks[0].base).taken
    method = "fork" if sys.platform == "linux" else "spawn"
    context = multiprocessing.get_context(method)
    with ProcessPoolExecutor(count, context, initializer=settle_in) as pool:
        yield from _from_executor(tasks, pool)


def settle_in() -> None:
    """Let a worker collect garbage between its tasks only: what a file needs dies all at once."""
    gc.freeze()
    gc.disable()


def _from_executor(tasks: list[Task], executor: Executor) -> Iterator[FileReport]:
    pending: dict[Future[list[FileReport]], Task] = {executor.submit(work, t): t for t in tasks}
    try:
        for done in as_completed(pending):
            try:
                yield from done.result()
            except Exception as wrong:  # a lost worker costs its files, not the run
                for file in pending[done].files:
                    reason = f"the worker was lost: {type(wrong).__name__}: {wrong}"
                    yield FileReport(file.path, problems=(Problem(file.path, reason),))
    except BaseException:
        for future in pending:
            future.cancel()
        raise
