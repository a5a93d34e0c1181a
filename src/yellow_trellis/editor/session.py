"""A session: the open files of an editor, with findings and fixes. Plain data goes in and out."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator
from functools import partial
from itertools import accumulate
from pathlib import Path
from typing import NamedTuple

from yellow_trellis.editor.document import Document, TextChange
from yellow_trellis.editor.live_scan import LiveFinding, LiveScan
from yellow_trellis.editor.positions import PositionEncoding, Range, offset_of, range_of
from yellow_trellis.editor.setup import Setup
from yellow_trellis.errors import TrellisError
from yellow_trellis.findings.finding import Finding, Level
from yellow_trellis.findings.timing import OutOfTime, TreeChanged, Watch
from yellow_trellis.fixes import Fix, Safety
from yellow_trellis.languages import language
from yellow_trellis.plans import Choose
from yellow_trellis.project.file_filter import generated
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.project import CodeBase
from yellow_trellis.reports.baseline import Baseline, matched
from yellow_trellis.rules import RuleDefinition, Ruleset
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.file_scan import NO_PROJECT, ProjectView
from yellow_trellis.runs.pipeline import FileOptions, process_file
from yellow_trellis.runs.processes.deadlines import Deadline
from yellow_trellis.runs.run_options import Limits
from yellow_trellis.semantics import SPELLED
from yellow_trellis.source import Source, Span
from yellow_trellis.source.diff import opcodes
from yellow_trellis.syntax import Tree

LIMITS = Limits(rule=2.0, file=20.0)
"""Seconds for one rule, and for all, on one open file."""


class OpenFinding(NamedTuple):
    """A finding in an open file."""

    rule: str
    level: Level
    range: Range
    message: str
    fixes: tuple[tuple[str, Safety], ...]
    """Titles and safety of its fixes."""
    tags: tuple[str, ...]
    page: str
    """Where the rule is explained: the path of its file, and the line."""


class Answer(NamedTuple):
    """The findings in an open file, and what could not be looked at."""

    findings: tuple[OpenFinding, ...] = ()
    problems: tuple[str, ...] = ()


class Offer(NamedTuple):
    """A fix of one finding that can be applied."""

    finding: OpenFinding
    number: int
    """Which fix of the finding, from 0."""
    title: str
    safety: Safety
    is_first: bool


class Session:
    """The open files of an editor, and the rules that hold for them.

    Arguments: `encoding` is what the positions count; `trusted` lets the rules in Python of any
    folder run.
    """

    def __init__(self, encoding: PositionEncoding = "utf-16", trusted: bool = False) -> None:
        self.encoding = encoding
        self.trusted = trusted
        self.documents: dict[str, Document] = {}
        self._setups: dict[str, Setup | str] = {}
        self._scans: dict[str, tuple[Ruleset, CodeBase | None, LiveScan]] = {}
        self._bases: dict[tuple[str, frozenset[str]], tuple[int, CodeBase]] = {}
        self._edits: dict[str, int] = {}
        """By path: the number of the last edit, counted over all files."""
        self._count = 0

    # ------------------------------------------------------------------ files

    def open(self, path: str, text: str) -> None:
        """Take over a file that the editor has opened."""
        name = self._language_of(path)
        if name is not None:
            self.documents[path] = Document(path, language(name), text)
            self._note(path)

    def change(self, path: str, changes: Iterable[TextChange]) -> None:
        """Take over changes of an open file."""
        document = self.documents.get(path)
        if document is not None:
            document.change(list(changes), self.encoding)
            self._note(path)

    def close(self, path: str) -> None:
        """Forget a file that the editor has closed: what is on the disk counts."""
        self.documents.pop(path, None)
        self._scans.pop(path, None)
        self._note(path)

    def files_changed(self) -> None:
        """Take note that files on the disk are not as they were."""
        self._bases.clear()

    def _note(self, path: str) -> None:
        self._count += 1
        self._edits[path] = self._count

    def _language_of(self, path: str) -> str | None:
        setup = self._setup(path)
        endings = dict(setup.settings.endings) if isinstance(setup, Setup) else {}
        return language_at(path, endings)

    def _setup(self, path: str) -> Setup | str:
        """Return the configuration for a file, or what is wrong with it."""
        folder = os.path.dirname(path)
        if folder not in self._setups:
            try:
                self._setups[folder] = Setup.of(Path(folder), self.trusted)
            except TrellisError as error:
                self._setups[folder] = str(error)
            except Exception as error:  # rules in Python are foreign code
                self._setups[folder] = f"the rules cannot be read: {type(error).__name__}: {error}"
        return self._setups[folder]

    # ------------------------------------------------------------------ findings

    def findings(self, path: str) -> Answer:
        """Return the findings in an open file as it is now."""
        document, setup = self.documents.get(path), self._setup(path)
        if document is None:
            return Answer()
        if isinstance(setup, str):
            return Answer(problems=(setup,))
        problems = tuple(
            f"{file}: rules in Python are left out, as this folder is not trusted: `ytr trust` in "
            "it, or start the server with --trust"
            for file in setup.not_run
        )
        if setup.why_left(path) or generated(document.source.data):
            return Answer(problems=problems)
        ruleset = setup.spec.ruleset(path)
        if setup.settings.baseline is not None:
            found, failures = self._but_accepted(document, setup, ruleset)
        else:
            found, failures = self._look(document, setup, ruleset)
        rules = {rule.name: rule for rule in ruleset.rules}
        shown = tuple(self._shown(document.source, one, rules) for one in found)
        return Answer(shown, (*problems, *failures))

    def _look(
        self, document: Document, setup: Setup, ruleset: Ruleset
    ) -> tuple[list[LiveFinding], list[str]]:
        path = document.path
        base = self._code_base(path, setup, ruleset)
        known = self._scans.get(path)
        if known is None or known[0] is not ruleset or known[1] is not base:
            vocabulary = base.vocabulary if base is not None else SPELLED
            known = ruleset, base, LiveScan(ruleset, document.language, vocabulary)
            self._scans[path] = known
            document.parse_anew()  # what the tree knows of names is of the code base before
        watch = Watch(over=document.over)
        guard = Deadline(LIMITS)
        guard.watch = watch
        while True:
            tree = document.tree(
                partial(self._surroundings, path, setup, ruleset),
                lambda data: ruleset.token_index(data, document.language.name),
            )
            try:
                with guard.on_duty():
                    found, failures = known[2].look(tree, watch)
            except TreeChanged as wrong:
                if not wrong.rule and watch.is_careful:
                    raise
                if wrong.rule:
                    document.over[wrong.rule] = str(wrong)
                watch.is_careful = True
                document.parse_anew()
                continue
            except OutOfTime as over:
                return [], [f"{path}: {over}"]
            for failure in failures:
                document.over.setdefault(failure.rule, failure.reason)
            return found, [f"{one.rule}: {one.reason} ({path})" for one in failures]

    def _but_accepted(
        self, document: Document, setup: Setup, ruleset: Ruleset
    ) -> tuple[list[LiveFinding], list[str]]:
        """Return the findings that the baseline does not accept."""
        settings = setup.settings
        try:
            file = settings.folder / (settings.baseline or "")
            baseline = Baseline.read(file, settings.folder)
        except (TrellisError, OSError) as error:
            return [], [str(error)]
        report = self._report(document, setup, ruleset, FileOptions(with_marks=True))
        place = baseline.place(document.path)
        accepted = [entry for entry in baseline.entries if entry.path == place]
        pairs = matched(baseline.entries_of(report.findings), accepted)
        found, failures = self._look(document, setup, ruleset)
        new = {
            (one.rule, one.start) for at, one in enumerate(report.findings) if at not in pairs
        }
        source = document.source
        return [one for one in found if (one.rule, source.place(one.span.start)) in new], failures

    def _shown(
        self, source: Source, one: LiveFinding, rules: dict[str, RuleDefinition]
    ) -> OpenFinding:
        rule = rules.get(one.rule)
        where = range_of(source, one.span, self.encoding)
        tags, page = (rule.tags, rule.place) if rule is not None else ((), "")
        return OpenFinding(one.rule, one.level, where, one.message, one.fixes, tuple(tags), page)

    # ------------------------------------------------------------------ the code base around a file

    def _code_base(self, path: str, setup: Setup, ruleset: Ruleset) -> CodeBase | None:
        """Return the code base for rules that ask for names; None where none does.

        It is read anew when another open file has changed since.
        """
        symbols = ruleset.required_symbols()
        return self._base(path, setup, symbols) if symbols else None

    def _base(self, path: str, setup: Setup, symbols: frozenset[str]) -> CodeBase:
        last = max((n for other, n in self._edits.items() if other != path), default=0)
        key = (setup.root, symbols)
        read, base = self._bases.get(key, (-1, None))
        if base is None or read < last:
            unsaved = {
                os.path.realpath(document.path): document.source.data
                for document in self.documents.values()
            }
            languages = {document.language.name for document in self.documents.values()}
            base = CodeBase(
                Path(setup.root), symbols, sorted(languages), None,
                dict(setup.settings.endings), unsaved,
            )
            self._bases[key] = self._count, base
        return base

    def _surroundings(self, path: str, setup: Setup, ruleset: Ruleset) -> object:
        base = self._base(path, setup, ruleset.required_symbols())
        return base.surroundings(os.path.realpath(path))

    def _view(self, path: str, setup: Setup, ruleset: Ruleset) -> ProjectView:
        base = self._code_base(path, setup, ruleset)
        if base is None and not any(rule.function is not None for rule in ruleset.rules):
            return NO_PROJECT
        base = base or self._base(path, setup, frozenset())
        vocabulary = base.vocabulary if base.symbols else SPELLED
        return ProjectView(partial(base.surroundings, os.path.realpath(path)), vocabulary)

    # ------------------------------------------------------------------ fixes

    def offers(self, path: str, where: Range) -> list[Offer]:
        """Return the fixes of the findings that touch a range of an open file."""
        document = self.documents.get(path)
        if document is None:
            return []
        start = offset_of(document.source, where.start, self.encoding)
        end = offset_of(document.source, where.end, self.encoding)
        offers: list[Offer] = []
        for finding in self.findings(path).findings:
            first = offset_of(document.source, finding.range.start, self.encoding)
            last = offset_of(document.source, finding.range.end, self.encoding)
            if first <= end and start <= last:
                offers += (
                    Offer(finding, number, title, safety, number == 0)
                    for number, (title, safety) in enumerate(finding.fixes)
                )
        return offers

    def one_fix(self, path: str, rule: str, where: Range, number: int) -> list[TextChange] | str:
        """Return the changes that one fix makes in an open file, or why there are none."""
        document, setup = self.documents.get(path), self._setup(path)
        if document is None or isinstance(setup, str):
            return "the file is not open"
        span = Span(
            offset_of(document.source, where.start, self.encoding),
            offset_of(document.source, where.end, self.encoding),
        )
        chosen: list[Finding] = []

        def choose(finding: Finding, tree: Tree) -> Fix | None:
            if chosen or finding.rule != rule or finding.span != span:
                return None
            chosen.append(finding)
            offered = finding.fixes[number]
            return offered if isinstance(offered, Fix) else offered.fix

        ruleset = setup.spec.ruleset(path).only([rule])
        options = FileOptions("rework", with_review=True)
        report = self._report(document, setup, ruleset, options, choose)
        if report.change is not None:
            return self._changes(document, report.change.raw)
        refused = [fate.reason for fate in report.fates if fate.state == "refused"]
        return (refused or ["there is nothing to change there any more"])[0]

    def leave(self, path: str, rule: str, where: Range, reason: str) -> list[TextChange] | str:
        """Return the changes that write a comment which leaves a finding alone."""
        from dataclasses import replace

        document, setup = self.documents.get(path), self._setup(path)
        if document is None or isinstance(setup, str):
            return "the file is not open"
        start = offset_of(document.source, where.start, self.encoding)
        ruleset = replace(setup.spec.ruleset(path).only([rule]), leaving=reason)

        def choose(finding: Finding, tree: Tree) -> Fix | None:
            if finding.span.start != start or finding.rule != rule:
                return None
            offered = finding.fixes[0]
            return offered if isinstance(offered, Fix) else offered.fix

        report = self._report(document, setup, ruleset, FileOptions("rework"), choose)
        if report.change is None:
            return "no comment can be written there"
        return self._changes(document, report.change.raw)

    def fix_all(
        self, path: str, rules: tuple[str, ...] = (), with_review: bool = False
    ) -> list[TextChange]:
        """Return the changes that `apply` would make in an open file.

        Rules over all of a code base are left out. Arguments: `rules` are those to apply, all if
        empty; `with_review` applies fixes too that may change behaviour.
        """
        document, setup = self.documents.get(path), self._setup(path)
        if document is None or isinstance(setup, str) or setup.why_left(path):
            return []
        if generated(document.source.data):
            return []
        ruleset = setup.spec.ruleset(path)
        names = [rule.name for rule in ruleset.rules if not rules or rule.name in rules]
        ruleset = ruleset.only(names)
        spanning = {rule: "it is done in all of the code base" for rule in ruleset.spanning()}
        versions = (
            (("python", setup.settings.python_version),) if setup.settings.python_version else ()
        )
        options = FileOptions(
            "rework", with_review, refused=tuple(sorted(spanning.items())), versions=versions
        )
        report = self._report(document, setup, ruleset, options)
        return [] if report.change is None else self._changes(document, report.change.raw)

    def on_save(self, path: str) -> list[TextChange]:
        """Return the changes to an open file that is about to be saved: what is fixed unasked."""
        return self.fix_all(path)

    def _report(
        self,
        document: Document,
        setup: Setup,
        ruleset: Ruleset,
        options: FileOptions,
        choose: Choose | None = None,
    ) -> FileReport:
        watch = Watch(over=dict(document.over))
        guard = Deadline(LIMITS)
        guard.watch = watch
        view = self._view(document.path, setup, ruleset)
        with guard.on_duty():
            return process_file(
                document.raw, document.path, document.language.name, ruleset, options, view,
                choose=choose, watch=watch,
            )

    def _changes(self, document: Document, raw: bytes) -> list[TextChange]:
        """Return the smallest changes, line by line, from the text as it is to that of a file."""
        source, data = document.source, document.read(raw)
        old, new = source.data.splitlines(keepends=True), data.splitlines(keepends=True)
        starts = [0, *accumulate(map(len, old))]
        changes: list[TextChange] = []
        for i1, i2, j1, j2 in _blocks(old, new):
            text = b"".join(new[j1:j2])
            start, end, text = _trimmed(source.data, starts[i1], starts[i2], text)
            where = range_of(source, Span(start, end), self.encoding)
            changes.append(TextChange(where, text.decode("utf-8")))
        return changes


def _blocks(old: list[bytes], new: list[bytes]) -> Iterator[tuple[int, int, int, int]]:
    """Yield runs of lines that differ; line by line where as many come as go."""
    for _, i1, i2, j1, j2 in opcodes(old, new):
        if i2 - i1 != j2 - j1:
            yield i1, i2, j1, j2
            continue
        for i, j in zip(range(i1, i2), range(j1, j2), strict=True):
            if old[i] != new[j]:
                yield i, i + 1, j, j + 1


def _trimmed(data: bytes, start: int, end: int, text: bytes) -> tuple[int, int, bytes]:
    """Return a change without what is the same at both of its ends; no character is cut."""
    old = data[start:end].decode("utf-8")
    new = text.decode("utf-8")
    head = len(os.path.commonprefix([old, new]))
    tail = len(os.path.commonprefix([old[head:][::-1], new[head:][::-1]]))
    if old[head - 1 : head] == "\r" or old[len(old) - tail - 1 : len(old) - tail] == "\r":
        return start, end, text  # half of a line ending has no position of its own
    before = len(old[:head].encode("utf-8"))
    behind = len(old[len(old) - tail :].encode("utf-8")) if tail else 0
    return start + before, end - behind, text[before : len(text) - behind]
