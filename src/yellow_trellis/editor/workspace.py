"""Work over a whole workspace: all findings, and fixes of a folder or of everything.

It is done in a process of its own (`Job`), with the texts of the open files in place of those on
the disk. The functions here are what such a process can be asked for.
"""

from __future__ import annotations

import hashlib
import os
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from typing import cast

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis.editor.answers import OpenFinding, WorkspaceChanges, WorkspaceFindings
from yellow_trellis.editor.nested import nested_folders, skip_patterns
from yellow_trellis.editor.open_files import OpenFiles
from yellow_trellis.editor.positions import Position, Range, range_at
from yellow_trellis.editor.setup import Setup
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.editor.text_diff import text_changes
from yellow_trellis.errors import TrellisError
from yellow_trellis.fixes import Safety
from yellow_trellis.plans.conflict import EXPLAINED
from yellow_trellis.project.discovery import SourceFile
from yellow_trellis.project.file_language import language_at
from yellow_trellis.reports.baseline import Baseline
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.rules.known_findings import KnownFinding
from yellow_trellis.runs.configured import configured_filter
from yellow_trellis.runs.file_report import FileReport, FindingRecord, Run
from yellow_trellis.runs.rule_source import RulesLike
from yellow_trellis.runs.run_options import USUAL, RunOptions, SyntaxChecks, python_versions
from yellow_trellis.runs.runner import run
from yellow_trellis.source import Source

Tell = Callable[[int, int], None]
"""Told how many files have been looked at, and how many there are."""

_MOST_TOLD = 3
"""How many places of one kind are told; of the others their number is."""


def survey(files: OpenFiles, tell: Tell, root: str) -> WorkspaceFindings | str:
    """Return the findings in the workspace at `root`, or why there are none.

    In folders with a configuration of their own that one counts, as it does for an open file.
    """
    nested = nested_folders(root)
    result = _survey(files, tell, root, nested)
    if isinstance(result, str):
        return result
    findings, problems = dict(result.findings), [*result.problems]
    for folder in nested:
        inner = survey(files, tell, folder)
        if isinstance(inner, str):
            problems.append(inner)
        else:
            findings |= inner.findings
            problems += inner.problems
    return WorkspaceFindings(findings, tuple(problems))


def _survey(
    files: OpenFiles, tell: Tell, root: str, nested: list[str]
) -> WorkspaceFindings | str:
    """Return the findings by the configuration at `root`, but in the folders `nested`."""
    setup = files.setup_in(root)
    if isinstance(setup, str):
        return setup
    settings = setup.settings
    try:
        options = RunOptions(with_marks=settings.baseline is not None)
        done = run_over(files, setup, setup.spec, tell, options, without=nested)
        findings = done.findings
        if settings.baseline is not None:
            baseline = Baseline.read(settings.folder / settings.baseline, settings.folder)
            findings = baseline.compared(done, [rule.name for rule in setup.spec.rules()]).new
    except (TrellisError, OSError) as error:
        return str(error)
    rules = {rule.name: rule for rule in setup.spec.rules()}
    by_path: dict[str, list[FindingRecord]] = {}
    for finding in findings:
        by_path.setdefault(finding.path, []).append(finding)
    shown = {
        os.path.abspath(path): tuple(_shown(files, path, some, rules, setup))
        for path, some in by_path.items()
    }
    for problem in done.problems:
        if problem.place is not None:
            path = os.path.abspath(problem.path)
            line = problem.place.line - 1
            where = Range(Position(line, 0), Position(line + 1, 0))
            note = OpenFinding("", "note", where, problem.reason, (), (), "")
            shown[path] = (*shown.get(path, ()), note)
    unplaced = (problem for problem in done.problems if problem.place is None)
    return WorkspaceFindings(shown, tuple(f"{p.path}: {p.reason}" for p in unplaced))


def fix_all(
    files: OpenFiles, tell: Tell, path: str, scope: str, rules: tuple[str, ...] = ()
) -> WorkspaceChanges | str:
    """Return the changes that `ytr apply` would make, or why there are none.

    Arguments: `path` is a file, whose configuration counts; `scope` the folder to fix, all that is
    configured if empty; `rules` those to apply, all if empty.
    """
    setup = files.setup(path)
    if isinstance(setup, str):
        return setup
    spec = setup.spec._replace(only=rules)
    syntax = SyntaxChecks(python_versions(setup.settings.python_version))
    settings = setup.settings
    paths = [scope] if scope else None
    nested = nested_folders(scope or str(setup.settings.folder))
    try:
        accepted: dict[str, tuple[KnownFinding, ...]] = {}
        if settings.baseline is not None:
            marked = RunOptions(with_marks=True)
            looked = run_over(files, setup, spec, tell, marked, paths=paths, without=nested)
            baseline = Baseline.read(settings.folder / settings.baseline, settings.folder)
            names = [rule.name for rule in spec.ruleset()]
            accepted = baseline.compared(looked, names, whole=False).by_path()
        options = RunOptions(mode="rework", syntax=syntax, accepted=accepted)
        done = run_over(files, setup, spec, tell, options, paths=paths, without=nested)
        changes = changes_of(files, done)
    except (TrellisError, OSError) as error:
        return str(error)
    notes = [f"{folder} has a configuration of its own: fix it from there" for folder in nested]
    return WorkspaceChanges(changes, (*_left_out(done), *notes))


def run_over(
    files: OpenFiles,
    setup: Setup,
    rules: RulesLike,
    tell: Tell,
    options: RunOptions = USUAL,
    *,
    paths: Iterable[str] | None = None,
    without: Iterable[str] = (),
) -> Run:
    """Return the run of some rules over the files of a configuration, as an editor has them.

    One processor is left to the editor. Arguments: `without` are folders to leave out.
    Errors: those of `run`.
    """
    progress = _Progress(tell)
    file_filter = configured_filter(setup.settings)
    skip = (*file_filter.skip, *skip_patterns(without, str(setup.settings.folder)))
    options = replace(
        options,
        file_filter=replace(file_filter, skip=skip),
        cache=True,
        workers=max((os.cpu_count() or 1) - 1, 1),
    )
    return run(
        list(paths) if paths is not None else setup.paths,
        rules,
        options,
        unsaved=files.unsaved(),
        on_start=progress.begin,
        on_progress=progress.step,
    )


def changes_of(files: OpenFiles, done: Run) -> dict[str, list[TextChange]]:
    """Return by path the changes of a run to the texts as the editor has them.

    Errors: `TrellisError`, where a file is open and its text is not what was looked at.
    """
    changes: dict[str, list[TextChange]] = {}
    for change in done.changes:
        path = os.path.abspath(change.path)
        document = files.documents.get(path)
        if document is not None and hashlib.sha256(document.raw).hexdigest() != change.digest:
            raise TrellisError(f"{path}: it has changed meanwhile: try again")
        source = files.source_of(path, change.language)
        data = Source.read(change.raw).data if document is None else document.read(change.raw)
        changes[path] = text_changes(source, data, files.encoding)
    return changes


class _Progress(Struct):
    """The count of the files of a run."""

    tell: Tell
    total: int = 0
    done: int = 0

    def begin(self, found: list[SourceFile]) -> None:
        self.total = len(found)

    def step(self, report: FileReport) -> None:
        self.done += 1
        self.tell(self.done, self.total)


def _shown(
    files: OpenFiles,
    path: str,
    found: list[FindingRecord],
    rules: dict[str, RuleDefinition],
    setup: Setup,
) -> Iterator[OpenFinding]:
    name = language_at(path, dict(setup.settings.endings)) or ""
    source = files.source_of(os.path.abspath(path), name)
    for finding in found:
        where = range_at(source, finding.start, finding.end, files.encoding)
        rule = rules.get(finding.rule)
        tags, page = (tuple(rule.tags), rule.place) if rule is not None else ((), "")
        fixes = cast("tuple[tuple[str, Safety], ...]", finding.fixes)
        yield OpenFinding(finding.rule, finding.level, where, finding.message, fixes, tags, page)


def _left_out(done: Run) -> Iterator[str]:
    """Yield what is to be told of fixes that are not among the changes."""
    conflicts = [(r.path, c) for r in done.reports for c in r.conflicts]
    yield from _summary(
        "conflict",
        [
            f"{os.path.basename(path)}:{conflict.party.start}: {EXPLAINED[conflict.kind]}: "
            + conflict.party.rule
            + (f" and {conflict.other.rule}" if conflict.other is not None else "")
            for path, conflict in conflicts
        ],
    )
    refused: Counter[str] = Counter(
        f"{fate.rule}: {fate.reason}"
        for report in done.reports
        for fate in report.fates
        if fate.state == "refused"
    )
    yield from _summary("refused fix", list(refused))
    yield from _summary("problem", [f"{p.path}: {p.reason}" for p in done.problems])


def _summary(what: str, messages: list[str]) -> Iterator[str]:
    if not messages:
        return
    plural = {"refused fix": "refused fixes"}.get(what, f"{what}s")
    count = f"1 {what}" if len(messages) == 1 else f"{len(messages)} {plural}"
    extra = len(messages) - _MOST_TOLD
    tail = f"; and {extra} more" if extra > 0 else ""
    yield f"{count}: {'; '.join(messages[:_MOST_TOLD])}{tail}"
