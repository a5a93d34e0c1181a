"""A session: the open files of an editor, with findings and fixes. Plain data goes in and out."""

from __future__ import annotations

import os
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace

from yellow_trellis.editor.answers import (
    OpenFindings,
    Location,
    OpenFinding,
    Related,
    Scope,
    WrittenRule,
)
from yellow_trellis.editor.document import Document
from yellow_trellis.editor.live.finding import LiveFinding
from yellow_trellis.editor.live.scan import LiveScan
from yellow_trellis.editor.open_files import LIMITS, OpenFiles
from yellow_trellis.editor.positions import (
    Position,
    PositionEncoding,
    Range,
    offset_of,
    range_of,
)
from yellow_trellis.editor.setup import Setup
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.editor.text_diff import text_changes
from yellow_trellis.errors import TrellisError
from yellow_trellis.findings.finding import Finding, Level
from yellow_trellis.findings.timing import OutOfTime, TreeChangedError, Watch
from yellow_trellis.fixes import Fix
from yellow_trellis.plans.conflict import EXPLAINED
from yellow_trellis.project.file_filter import generated
from yellow_trellis.project.locate import OWN
from yellow_trellis.project.project import CodeBase
from yellow_trellis.reports.baseline import Baseline
from yellow_trellis.rules import RuleDefinition, Ruleset
from yellow_trellis.rules.known_findings import KnownFinding, matched
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.processes.deadlines import Deadline
from yellow_trellis.runs.report_types import Change
from yellow_trellis.runs.run_options import USUAL, RunOptions, SyntaxChecks, python_versions
from yellow_trellis.semantics import SPELLED
from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Tree

if TYPE_CHECKING:
    from yellow_trellis.editor.authoring.completion import Completion

_MOST_UNPARSED = 20
_UNPARSED = "this does not parse: rules look at it in part, and nothing in it is fixed"


class Session(OpenFiles):
    """The open files of an editor, and the answers to what is asked about them.

    What only some answers need is imported when they are asked for: the first file waits for all
    the rest.
    """

    def __init__(self, encoding: PositionEncoding = "utf-16", trusted: bool = False) -> None:
        super().__init__(encoding, trusted)
        self._scans: dict[str, tuple[Ruleset, CodeBase | None, LiveScan]] = {}

    def close(self, path: str) -> None:
        """Forget a file that the editor has closed: what is on the disk counts."""
        super().close(path)
        self._scans.pop(path, None)

    # ------------------------------------------------------------------ findings

    def findings(self, path: str) -> OpenFindings:
        """Return the findings in an open file as it is now."""
        document, setup = self.documents.get(path), self.setup(path)
        if document is None:
            return self._faults(path)
        if isinstance(setup, str):
            return OpenFindings(problems=(setup,))
        problems = tuple(
            f"{file}: rules in Python are left out: {setup.why_not}; `ytr trust` in its folder, or "
            "start the server with --trust"
            for file in setup.not_run
        )
        if self._is_left(document, setup):
            return OpenFindings(problems=problems)
        ruleset = setup.spec.ruleset(path)
        if setup.settings.baseline is not None:
            findings, failures = self._but_accepted(document, setup, ruleset)
        else:
            findings, failures = self._look(document, setup, ruleset)
        rules = {rule.name: rule for rule in ruleset.rules}
        shown = tuple(self._shown(document.source, finding, rules) for finding in findings)
        return OpenFindings((*shown, *self._unparsed(document)), (*problems, *failures))

    def _unparsed(self, document: Document) -> Iterator[OpenFinding]:
        """Yield a note where code does not parse, at the first line of each such part."""
        tree = document.parsed
        for span in tree.broken[:_MOST_UNPARSED] if tree is not None else ():
            end = min(span.end, document.source.lines.end(span.start))
            where = range_of(document.source, Span(span.start, end), self.encoding)
            yield OpenFinding("", "note", where, _UNPARSED, (), (), "")

    def _faults(self, path: str) -> OpenFindings:
        """Return the mistakes in a rule file or a configuration."""
        source = self.plain.get(path)
        if source is None or not path.endswith(".toml"):
            return OpenFindings()
        from yellow_trellis.editor.authoring.mistakes import faults_in, is_checked

        if not is_checked(path, source):
            return OpenFindings()
        return OpenFindings(
            tuple(
                OpenFinding("", "error", where, fault.message, (), (), "")
                for fault in faults_in(path, source)
                for where in (range_of(source, fault.span, self.encoding),)
            )
        )

    def related(self, path: str) -> tuple[Related, ...]:
        """Return the other places that findings in an open file have to do with.

        Those are the other ends of conflicts between fixes, and where a symbol is defined that a
        rule asks for by meaning.
        """
        opened = self.opened(path)
        if isinstance(opened, str) or self._is_left(*opened):
            return ()
        document, setup = opened
        ruleset, source = setup.spec.ruleset(path), document.source
        report = self.report(document, setup, ruleset, USUAL)
        results: list[Related] = []
        for conflict in report.conflicts:
            sides = (conflict.party, conflict.other)
            for side, opposite in (sides, sides[::-1]):
                if side is not None and opposite is not None:
                    message = f"{EXPLAINED[conflict.kind]}: {opposite.rule} ({opposite.title})"
                    here = range_of(source, side.span, self.encoding)
                    there = range_of(source, opposite.span, self.encoding)
                    results.append(Related(side.rule, here, message, Location(path, there)))
        base = self.code_base(path, setup, ruleset)
        if base is not None:
            from yellow_trellis.editor.definitions import defined_places

            findings = self.findings(path).findings
            results += defined_places(self, path, base, ruleset, findings)
        return tuple(results)

    def rules_in(self, path: str) -> list[WrittenRule]:
        """Return the rules that an open file writes."""
        from yellow_trellis.editor.authoring.rule_trials import rules_in

        return rules_in(self, path)

    def why_not(self, path: str, rule: str, place: str, position: Position) -> str:
        """Return in a sentence whether a rule of one open file fits at a position of another."""
        from yellow_trellis.editor.authoring.rule_trials import why_not

        return why_not(self, path, rule, place, position)

    def hover(self, path: str, position: Position) -> tuple[Range, str] | None:
        """Return what is to know of the rules that find the code at a position, in Markdown."""
        setup = self.setup(path)
        if isinstance(setup, str):
            return None
        findings = [
            finding
            for finding in self.findings(path).findings
            if finding.range.start <= position <= finding.range.end
        ]
        rules = {rule.name: rule for rule in setup.spec.ruleset(path).rules}
        names = dict.fromkeys(finding.rule for finding in findings)
        rules_here = [rules[name] for name in names if name in rules]
        if not rules_here:
            return None
        from yellow_trellis.editor.authoring.rule_text import rule_text

        smallest = max(findings, key=lambda one: (one.range.start, -one.range.end.line))
        return smallest.range, "\n\n---\n\n".join(map(rule_text, rules_here))

    def completions(self, path: str, position: Position) -> list[Completion]:
        """Return what can be written at a position of a rule file or a configuration."""
        source = self.plain.get(path)
        if source is None or not path.endswith(".toml"):
            return []
        at = offset_of(source, position, self.encoding)
        text = source.data.decode("utf-8")
        is_configuration = os.path.basename(path) == OWN
        if not is_configuration and "[[rule]]" not in text:
            return []
        from yellow_trellis.editor.authoring.completion import completions

        offset = len(source.data[:at].decode("utf-8"))
        return completions(text, offset, is_configuration=is_configuration)

    def place_to_rename(self, path: str, position: Position) -> tuple[Range, str] | str:
        """Return the range and the text of the name at a position, or why it cannot be renamed."""
        from yellow_trellis.editor import renaming

        return renaming.place_to_rename(self, path, position)

    def level(self, path: str, rule: str, level: Level) -> tuple[str, TextChange] | str:
        """Return the configuration that holds for a file, and its change to a level of a rule."""
        setup = self.setup(path)
        if isinstance(setup, str) or setup.settings.file is None:
            return "there is no configuration here: `ytr init` makes one"
        file = str(setup.settings.file)
        source = self.plain.get(file)
        if source is None:
            source = Source(Path(file).read_bytes(), path=file)
        from yellow_trellis.editor.authoring.levels import with_level

        text = source.data.decode("utf-8")
        start, end, new = with_level(text, os.path.basename(file), rule, level)
        span = Span(len(text[:start].encode("utf-8")), len(text[:end].encode("utf-8")))
        return file, TextChange(range_of(source, span, self.encoding), new)

    def _is_left(self, document: Document, setup: Setup) -> bool:
        """Return whether a file is not looked at."""
        return bool(setup.why_left(document.path)) or generated(document.source.data)

    def _look(
        self, document: Document, setup: Setup, ruleset: Ruleset
    ) -> tuple[list[LiveFinding], list[str]]:
        path = document.path
        base = self.code_base(path, setup, ruleset)
        entry = self._scans.get(path)
        if entry is None or entry[0] is not ruleset or entry[1] is not base:
            vocabulary = base.vocabulary if base is not None else SPELLED
            entry = ruleset, base, LiveScan(ruleset, document.language, vocabulary)
            self._scans[path] = entry
            document.parse_anew()  # what the tree knows of names is of the code base before
        watch = Watch(over=document.over)
        guard = Deadline(LIMITS)
        guard.watch = watch
        while True:
            tree = document.tree(
                partial(self.surroundings, path, setup, ruleset),
                lambda data: ruleset.token_index(data, document.language.name),
            )
            try:
                with guard.on_duty():
                    findings, failures = entry[2].look(tree, watch)
            except TreeChangedError as wrong:
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
            return findings, [f"{failure.rule}: {failure.reason} ({path})" for failure in failures]

    def _but_accepted(
        self, document: Document, setup: Setup, ruleset: Ruleset
    ) -> tuple[list[LiveFinding], list[str]]:
        """Return the findings that the baseline does not accept."""
        try:
            report, pairs = self._compared(document, setup, ruleset)
        except (TrellisError, OSError) as error:
            return [], [str(error)]
        findings, failures = self._look(document, setup, ruleset)
        new = {
            (finding.rule, finding.start)
            for at, finding in enumerate(report.findings)
            if at not in pairs
        }
        source = document.source
        findings = [one for one in findings if (one.rule, source.place(one.span.start)) in new]
        return findings, failures

    def _compared(
        self, document: Document, setup: Setup, ruleset: Ruleset
    ) -> tuple[FileReport, dict[int, KnownFinding]]:
        """Return the report of an open file, and by number which findings the baseline accepts."""
        settings = setup.settings
        file = settings.folder / (settings.baseline or "")
        baseline = Baseline.read(file, settings.folder)
        report = self.report(document, setup, ruleset, RunOptions(with_marks=True))
        place = baseline.place(document.path)
        accepted = [entry for entry in baseline.entries if entry.path == place]
        fresh = baseline.entries_of(report.findings)
        return report, {at: fresh[at] for at in matched(fresh, accepted)}

    def _shown(
        self, source: Source, one: LiveFinding, rules: dict[str, RuleDefinition]
    ) -> OpenFinding:
        rule = rules.get(one.rule)
        where = range_of(source, one.span, self.encoding)
        tags, page = (rule.tags, rule.place) if rule is not None else ((), "")
        return OpenFinding(one.rule, one.level, where, one.message, one.fixes, tuple(tags), page)

    # ------------------------------------------------------------------ fixes

    def findings_at(self, path: str, where: Range) -> list[OpenFinding]:
        """Return the findings that touch a range of an open file."""
        return [
            finding
            for finding in self.findings(path).findings
            if finding.range.start <= where.end and where.start <= finding.range.end
        ]

    def one_fix(self, path: str, rule: str, where: Range, number: int) -> list[TextChange] | str:
        """Return the changes that one fix makes in an open file, or why there are none."""
        opened = self.opened(path)
        if isinstance(opened, str):
            return opened
        document, setup = opened
        span = Span(
            offset_of(document.source, where.start, self.encoding),
            offset_of(document.source, where.end, self.encoding),
        )
        chosen: list[Finding] = []

        def choose(finding: Finding, tree: Tree) -> Fix | None:
            if chosen or finding.rule != rule or finding.span != span:
                return None
            chosen.append(finding)
            return finding.fix_at(number)

        ruleset = setup.spec.ruleset(path).only([rule])
        options = RunOptions(mode="rework", with_review=True)
        report = self.report(document, setup, ruleset, options, choose)
        if report.change is not None:
            return self._changes(document, report.change)
        refused = [fate.reason for fate in report.fates if fate.state == "refused"]
        return (refused or ["there is nothing to change there any more"])[0]

    def leave(
        self, path: str, rule: str, where: Range, scope: Scope
    ) -> list[TextChange] | str:
        """Return the changes that write a comment which leaves a finding alone."""
        from yellow_trellis.editor.leaving import leave

        return leave(self, path, rule, where, scope)

    def fix_all(self, path: str, rules: tuple[str, ...] = ()) -> list[TextChange]:
        """Return the changes that `ytr apply` would make in an open file.

        What a baseline accepts stays, and rules over all of a code base are left out.
        Arguments: `rules` are those to apply, all if empty.
        """
        opened = self.opened(path)
        if isinstance(opened, str) or self._is_left(*opened):
            return []
        document, setup = opened
        ruleset = setup.spec.ruleset(path)
        if rules:
            ruleset = ruleset.only(rules)
        spanning = {rule: "it is done in all of the code base" for rule in ruleset.spanning()}
        version = setup.settings.python_version
        checks = SyntaxChecks(python_versions(version))
        options = RunOptions(mode="rework", syntax=checks)
        if setup.settings.baseline is not None:
            try:
                looked, known = self._compared(document, setup, ruleset)
            except (TrellisError, OSError):
                return []  # what counts is not known, as the findings of the file say
            options = replace(options, accepted={looked.path: tuple(known.values())})
        report = self.report(document, setup, ruleset, options, refused=spanning)
        return [] if report.change is None else self._changes(document, report.change)

    def _changes(self, document: Document, change: Change) -> list[TextChange]:
        data = document.read(change.raw)
        return text_changes(document.source, data, self.encoding)
