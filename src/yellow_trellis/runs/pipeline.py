"""One file from bytes to report: read, scan, plan, and rewrite if that is asked for.

Each step is one function, and enters the layer below once. A survey stops after the plan; `rework`
applies the fixes, round after round.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from typing import NamedTuple

from yellow_trellis import plans
from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.finding import Finding
from yellow_trellis.findings.timing import Watch
from yellow_trellis.languages import Language, language, read_source
from yellow_trellis.plans.contested import may_conflict
from yellow_trellis.plans.outcome import WRITTEN
from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.rules import Fingerprints, RuleDefinition, Ruleset, doubts
from yellow_trellis.rules.known_findings import KnownFinding, matched
from yellow_trellis.rules.suppressions import MARK
from yellow_trellis.runs import file_scan
from yellow_trellis.runs.file_report import FileReport, FindingRecord
from yellow_trellis.runs.file_scan import NO_PROJECT, ProjectView, Scan, ScanInput
from yellow_trellis.runs.report_types import Change, OutcomeRecord, Problem, TextEdit
from yellow_trellis.runs.run_options import USUAL, RunOptions
from yellow_trellis.runs.unparsed_code import misgrouped_code, unparsed_code
from yellow_trellis.scan import local_rules
from yellow_trellis.semantics.alias_map import Vocabulary
from yellow_trellis.source import Source, UnreadableError, line_count
from yellow_trellis.source.diff import hunks_of, patch
from yellow_trellis.syntax import Tree


_NO_FIXES: Mapping[int, plans.SeparateFix] = {}
_NO_REASONS: Mapping[str, str] = {}


class _Outcome(NamedTuple):
    """The outcome of the findings of a file."""

    tree: Tree
    findings: list[Finding]
    """Those of the first round."""
    failures: list[RuleFailure]
    conflicts: list[plans.Conflict]
    rework: plans.Rework | None = None
    fixes: Mapping[int, plans.SeparateFix] = _NO_FIXES
    """By identity of a finding what its fix does by itself, if that was asked for."""
    tells_broken: bool = True
    """Whether it is told where the code does not parse: a survey tells of what rules look at."""
    places: list[tuple[int, int]] | None = None
    """The places that lead rules to what they find; None for all of the file."""


def process_file(
    raw: bytes,
    path: str,
    language_name: str,
    ruleset: Ruleset,
    options: RunOptions = USUAL,
    project: ProjectView = NO_PROJECT,
    *,
    refused: Mapping[str, str] = _NO_REASONS,
    changed_from: tuple[bytes | None] | None = None,
    choose: plans.Choose | None = None,
    watch: Watch | None = None,
) -> FileReport:
    """Return the report of one file with the bytes `raw`; nothing is read or written.

    Arguments:
        path, language_name: how the file is called, and what it is written in.
        options: what is done with it.
        project: what is known of the code base around it.
        refused: rules whose fixes are not applied, with the reasons.
        changed_from: if only findings on changed lines count: the bytes of the earlier text, None
            if there was none.
        choose: takes one of the fixes of a finding, or none.
        watch: follows the work.

    Errors: `OutOfTime`, when `watch` is watched.
    """
    watch = watch or Watch()
    spoken = language(language_name)
    report = FileReport(path, len(raw), line_count(raw), digest=digest_of(raw))
    try:
        source = read_source(raw, spoken, path, options.file_filter.empty_macros)
    except UnreadableError as error:
        return report._replace(problems=(Problem(path, str(error)),))
    file = file_scan.read(source, spoken, ruleset, project, watch)
    if reason := file_scan.misread_name(file):
        return report._replace(problems=(Problem(path, reason),))
    if not file.candidates:
        return report
    if changed_from is not None:
        file = file._replace(earlier=_text(changed_from[0], spoken))
    if options.mode == "survey":
        outcome = _survey(file, options)
        if outcome is None:
            return report
    else:
        outcome = _rework(file, path, options, refused, choose)
    return _report(report, raw, file, options, outcome)


def _text(raw: bytes | None, spoken: Language) -> bytes | None:
    try:
        return raw and Source.read(raw, declarations=spoken.declares_encoding).data
    except UnreadableError:
        return None


def _survey(file: ScanInput, options: RunOptions) -> _Outcome | None:
    """Scan a file and check the fixes against each other; None where nothing had to be parsed.

    Fixes are made and planned on the tree of all of the file only.
    """
    selection = file_scan.selection_of(file)
    if selection is not None and not selection.rules and not options.whole_files:
        return None
    scan = file_scan.scan(file, None if options.whole_files else selection)
    is_told = scan.tree.spans is None and bool(scan.tree.broken)
    if is_told and options.whole_files and selection is not None:
        is_told = bool(selection.rules and file_scan.parse(file, selection.spans).errors)
    with file.watch.phase("conflicts"):
        contested = may_conflict(scan.findings, scan.tree)
    needs_all = contested or (scan.findings and (options.with_marks or options.with_details))
    if scan.tree.spans is not None and needs_all:
        scan.tree.release()
        scan = file_scan.scan(file, None)
        contested = may_conflict(scan.findings, scan.tree)
    with file.watch.phase("conflicts"):
        conflicts, failures = _conflicts(file, scan, contested, options)
    fixes = _NO_FIXES
    if options.with_details and any(finding.fixes for finding in scan.findings):
        fixes, failed = _separate(file, scan, options)
        failures += failed
    return _Outcome(
        scan.tree,
        scan.findings,
        [*scan.failures, *failures],
        conflicts,
        None,
        fixes,
        is_told,
        None if selection is None else [at for found in selection.places.values() for at in found],
    )


def _separate(
    file: ScanInput, scan: Scan, options: RunOptions
) -> tuple[Mapping[int, plans.SeparateFix], list[RuleFailure]]:
    """Return by identity of a finding what its fix does by itself."""
    prefer = file.ruleset.preferences()
    version = dict(options.syntax.versions).get(file.language.name)

    def separate(findings: list[Finding]) -> dict[int, plans.SeparateFix]:
        fixes = plans.separate_fixes(scan.tree, findings, prefer, version)
        return {id(finding): fix for finding, fix in zip(findings, fixes, strict=True)}

    return plans.contained(scan.tree, scan.findings, separate)


def _conflicts(
    file: ScanInput, scan: Scan, contested: list[Finding], options: RunOptions
) -> tuple[list[plans.Conflict], list[RuleFailure]]:
    if not contested:
        return [], []
    prefer = file.ruleset.preferences()

    def plan(findings: list[Finding]) -> plans.Plan:
        with_review = options.with_review
        made = plans.make_plan(scan.tree, findings, with_review=with_review, prefer=prefer)
        plans.prove(made, dict(options.syntax.versions).get(file.language.name))
        return made

    result, failures = plans.contained(scan.tree, contested, plan)
    return result.conflicts, failures


def _but_accepted(
    tree: Tree,
    findings: list[Finding],
    accepted: tuple[KnownFinding, ...],
    spanning: frozenset[str],
) -> list[Finding]:
    """Return the findings without those that are accepted.

    Those of rules over all of a code base stay: such a rule is refused as a whole.
    """
    rules = {entry.rule for entry in accepted} - spanning
    queries = [finding for finding in findings if finding.rule in rules]
    marks = map(Fingerprints(tree).of, queries)
    path = accepted[0].path
    fresh = [
        KnownFinding(path, finding.rule, mark, "")
        for finding, mark in zip(queries, marks, strict=True)
    ]
    known = {id(queries[at]) for at in matched(fresh, list(accepted))}
    return [finding for finding in findings if id(finding) not in known]


def _rework(
    file: ScanInput,
    path: str,
    options: RunOptions,
    refused: Mapping[str, str],
    choose: plans.Choose | None,
) -> _Outcome:
    """Apply the fixes of a file until a round has nothing to apply."""
    ruleset, vocabulary = file.ruleset, file.project.vocabulary
    first: list[Finding] = []
    failures: list[RuleFailure] = []
    accepted = options.accepted.get(path, ())

    def evaluate(
        tree: Tree,
        candidates: list[tuple[int, RuleDefinition]] | None,
        within: plans.Within | None = None,
    ) -> list[Finding]:
        findings, failed = ruleset.look(tree, vocabulary, file.watch, candidates, within)
        failures.extend(failed)
        return findings

    def find(tree: Tree) -> list[Finding]:
        candidates = file.candidates if tree.source.data is file.source.data else None
        findings = file.changed(evaluate(tree, candidates), tree.source)
        if accepted:
            findings = _but_accepted(tree, findings, accepted, ruleset.spanning())
        if not first:
            first.extend(findings)
        return findings

    def find_within(tree: Tree, within: plans.Within) -> list[Finding] | None:
        if file.earlier is not None or accepted:
            return None  # these are about the file as a whole, and so are comments
        if MARK in tree.source.data or MARK in file.source.data:
            return None
        return evaluate(tree, None, within)

    tree = file_scan.parse(file)
    done = plans.rework(
        tree,
        find,
        with_review=options.with_review,
        refused=refused,
        prefer=ruleset.preferences(),
        choose=choose,
        version=dict(options.syntax.versions).get(file.language.name),
        partial=plans.Partial(local_rules(ruleset, file.language), find_within),
    )
    return _Outcome(tree, first, [*failures, *done.failures], done.conflicts, done)


def _report(
    report: FileReport, raw: bytes, file: ScanInput, options: RunOptions, outcome: _Outcome
) -> FileReport:
    """Return the report of a file with all that became of it; its trees are released."""
    path, source = report.path, file.source
    tree, done = outcome.tree, outcome.rework
    problems = [Problem(path, failure.reason, failure.rule) for failure in outcome.failures]
    if outcome.tells_broken and tree.broken:
        problems.append(unparsed_code(tree, dict(options.syntax.versions).get(file.language.name)))
    problems += misgrouped_code(tree, outcome.places)
    if done is not None:
        report = report._replace(
            rounds=sum(1 for turn in done.rounds if turn.rules),
            fates=tuple(_fate(outcome, number) for number, outcome in done.outcomes),
        )
        try:
            change = _change(raw, report.digest, source, done, file.ruleset.spanning())
            report = report._replace(change=change)
        except UnreadableError as error:
            problems.append(Problem(path, str(error)))
    if options.mode == "trial" and outcome.findings:
        from yellow_trellis.plans.pairwise import trials

        find = partial(_findings_of, file.ruleset, file.project.vocabulary)
        report = report._replace(trials=tuple(trials(tree, find)))
    with file.watch.phase("report"):
        records = _records(outcome, source, options)
        doubted: tuple[str, ...] = ()
        if file.tokens.holds(MARK):
            doubted = tuple(doubts(tree, file.ruleset.known, file.ruleset.reasons))
        tree.release()
    return report._replace(
        parsed=True,
        findings=tuple(record for record in records if not record.left),
        conflicts=tuple(outcome.conflicts),
        problems=tuple(dict.fromkeys(problems)),
        excused=sum(bool(finding.left) for finding in outcome.findings),
        suppressed=tuple(record for record in records if record.left),
        doubts=doubted,
    )


def _findings_of(
    ruleset: Ruleset, vocabulary: Vocabulary, tree: Tree, rule: str | None
) -> list[Finding]:
    """Return the findings of one rule, or of all; failures are reported elsewhere."""
    return (ruleset if rule is None else ruleset.only([rule])).look(tree, vocabulary)[0]


def _records(
    outcome: _Outcome, source: Source, options: RunOptions
) -> tuple[FindingRecord, ...]:
    """Return the findings as they are shown, with those left alone only if that is asked for."""
    shown = [f for f in outcome.findings if options.with_details or not f.left]
    records = [_record(finding, source, options.with_holes) for finding in shown]
    if options.with_marks:
        marks = map(Fingerprints(outcome.tree).of, shown)
        records = [r._replace(mark=m) for r, m in zip(records, marks, strict=True)]
    if outcome.fixes:
        fixes = map(outcome.fixes.get, map(id, shown))
        records = [
            record if fix is None else _with_fix(record, fix, source)
            for record, fix in zip(records, fixes, strict=True)
        ]
    return tuple(records)


def _with_fix(record: FindingRecord, fix: plans.SeparateFix, source: Source) -> FindingRecord:
    edits = tuple(
        TextEdit(
            source.place(edit.span.start),
            source.place(edit.span.end),
            edit.data.decode("utf-8", "replace"),
        )
        for edit in fix.edits
    )
    return record._replace(edits=edits, unfixed=fix.reason if record.fixes else "")


def _record(finding: Finding, source: Source, with_holes: bool) -> FindingRecord:
    fixes = tuple((fix.title, fix.safety) for fix in finding.fixes)
    holes = finding.holes if with_holes else ()
    messages = (finding.rule, finding.level, finding.message)
    record = FindingRecord.of(source, finding.span, *messages, fixes, holes)
    return record._replace(left=finding.left) if finding.left else record


def _fate(outcome: plans.Outcome, round_: int) -> OutcomeRecord:
    return OutcomeRecord(
        outcome.finding.rule, outcome.state, outcome.place, outcome.reason, round_, outcome.knock_on
    )


def _change(
    raw: bytes, digest: str, source: Source, done: plans.Rework, spanning: frozenset[str]
) -> Change | None:
    data = done.tree.source.data
    if data == source.data:
        return None
    results: list[tuple[str, int, int]] = []
    for turn in done.rounds:
        lines = Source(turn.data).lines
        for outcome in turn.outcomes:
            if outcome.state in WRITTEN:
                span = outcome.finding.span
                first, last = lines.number(span.start), lines.number(span.end)
                results.append((outcome.finding.rule, first, last))
    after = source.raw(data)
    declares = done.tree.language.declares_encoding
    if Source.read(after, path=source.path, declarations=declares).data != data:
        raise UnreadableError("the new bytes would be read as another text, by what they declare")
    everyone = tuple(sorted({rule for rule, _, _ in results}))
    # imports follow what the fixes need: their lines are in no finding
    hunks = [h if h.rules else h._replace(rules=everyone) for h in hunks_of(raw, after, results)]
    diff = patch(source.path, raw, after, hunks)
    together = spanning.intersection(everyone)
    return Change(
        source.path,
        done.tree.language.name,
        digest,
        after,
        tuple(hunks),
        source.codec,
        diff,
        together,
    )
