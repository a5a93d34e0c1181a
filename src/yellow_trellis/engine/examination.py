"""One file from bytes to report: findings, conflicts, and the new bytes if it is to be reworked."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from yellow_trellis import facts, plans
from yellow_trellis.engine.diff import changed_lines, hunks_of, patch
from yellow_trellis.engine.notices import Change, Fate, Problem
from yellow_trellis.engine.reports import FileReport, FindingRecord, Mode
from yellow_trellis.engine.stamp import digest_of
from yellow_trellis.engine.surveying import Survey
from yellow_trellis.facts.vocabulary import SPELLED, Vocabulary
from yellow_trellis.languages import Language, Parsed, language
from yellow_trellis.rules import Finding, Rule, Ruleset, Watch, doubts, mark_of
from yellow_trellis.rules.leave import MARK
from yellow_trellis.source import Source, Unreadable, line_count
from yellow_trellis.syntax import Tree


def examine(
    raw: bytes,
    path: str,
    language_name: str,
    ruleset: Ruleset,
    *,
    mode: Mode = "survey",
    with_review: bool = False,
    with_holes: bool = False,
    with_marks: bool = False,
    context: Callable[[], facts.Surroundings] | None = None,
    vocabulary: Vocabulary = SPELLED,
    refused: Mapping[str, str] | None = None,
    choose: plans.Choose | None = None,
    python: tuple[int, int] | None = None,
    only_changed: bool = False,
    changed_from: bytes | None = None,
    watch: Watch | None = None,
) -> FileReport:
    """Look at the bytes `raw` of one file.

    Arguments:
        mode: ``survey`` to find and check fixes against each other, ``rework`` to apply them, round
            after round, or ``trial`` to do that and to try the rules on each other.
        with_review: whether fixes that may change behaviour are taken too.
        with_holes, with_marks: whether each finding tells what the holes of its pattern took, and
            by what it is known again.
        context: gives the code base around the file when a rule asks for it.
        vocabulary: the words of the code base.
        refused: rules whose fixes are not to be applied, each with the reason.
        choose: takes one of the fixes of a finding, or none.
        python: the oldest version of Python that the new text must be read by.
        only_changed: whether only findings on lines count that are not in `changed_from`, the bytes
            of an earlier text (None if there was none).
        watch: follows the work.

    Nothing is read or written here. Errors: `OutOfTime`, when `watch` is watched.
    """
    watch = watch or Watch()
    digest = digest_of(raw)
    lines = line_count(raw)
    tongue = language(language_name)
    try:
        source = Source.read(raw, path=path, declarations=tongue.declares_encoding)
    except Unreadable as wrong:
        problems = (Problem(path, str(wrong)),)
        return FileReport(path, len(raw), lines, problems=problems, digest=digest)
    with watch.phase("filter"):
        file = ruleset.sightings(source.data, language_name)
        concerned = ruleset.concerned(file, language_name, vocabulary)
    nothing = FileReport(path, len(raw), lines, digest=digest)
    if not concerned:
        return nothing
    earlier = None
    if only_changed and changed_from is not None:
        earlier = _text(changed_from, tongue)

    def plant(only: Parsed | None = None) -> Tree:
        return Tree(source, tongue, context, only, file)

    def sift(found: list[Finding], now: Source) -> list[Finding]:
        return found if earlier is None else _on_changed_lines(found, earlier, now)

    first: list[Finding] = []
    failures: list[Problem] = []
    fates: list[Fate] = []
    rounds = 0
    change = None
    survey = Survey(plant, ruleset, concerned, vocabulary, watch, partial(sift, now=source))
    if mode == "survey":
        with watch.phase("filter"):
            if not survey.narrow(file, tongue, with_holes=with_holes):
                return nothing
        with watch.phase("parse"):
            survey.parse()
        survey.look()
        with watch.phase("fixes in each other's way"):
            conflicts = survey.conflicts()
        first = survey.findings
        failures = [Problem(path, one.reason, one.rule) for one in survey.failures]
    else:
        with watch.phase("parse"):
            survey.parse()

        def look(
            now: Tree, known: list[tuple[int, Rule]] | None, within: plans.Within | None = None
        ) -> list[Finding]:
            findings, failed = ruleset.look(now, vocabulary, watch, known, within)
            failures.extend(Problem(path, one.reason, one.rule) for one in failed)
            return findings

        def look_at_all(now: Tree) -> list[Finding]:
            known = concerned if now.source.data is source.data else None
            findings = sift(look(now, known), now.source)
            if not first:
                first.extend(findings)
            return findings

        def look_in(now: Tree, within: plans.Within) -> list[Finding] | None:
            if earlier is not None or MARK in now.source.data or MARK in source.data:
                return None  # comments and changed lines are about the file as a whole
            return look(now, None, within)

        done = plans.rework(
            survey.tree,
            look_at_all,
            with_review=with_review,
            refused=refused,
            prefer=ruleset.preferences(),
            choose=choose,
            version=python if language_name == "python" else None,
            partial=plans.Partial(ruleset.reaches(tongue), look_in),
        )
        conflicts = done.conflicts
        failures += [Problem(path, one.reason, one.rule) for one in done.failures]
        rounds = sum(1 for turn in done.rounds if turn.rules)
        fates = [_fate(outcome, number) for number, outcome in done.outcomes]
        try:
            change = _change(raw, digest, source, done, ruleset.spanning())
        except Unreadable as wrong:
            failures.append(Problem(path, str(wrong)))
    tried: tuple[plans.Trial, ...] = ()
    if mode == "trial" and first:
        from yellow_trellis.plans.trials import trials

        tried = tuple(trials(survey.tree, partial(_look_with, ruleset, vocabulary)))
    with watch.phase("report"):
        shown = [finding for finding in first if not finding.left]
        records = tuple(_record(finding, source, with_holes) for finding in shown)
        if with_marks and shown:  # what stands around a finding counts
            marks = (mark_of(finding, survey.tree) for finding in shown)
            records = tuple(r._replace(mark=m) for r, m in zip(records, marks, strict=True))
        doubted: tuple[str, ...] = ()
        if file.holds(MARK):
            doubted = tuple(doubts(survey.tree, ruleset.known, ruleset.reasons))
        survey.release()
    return FileReport(
        path,
        len(raw),
        lines,
        True,
        records,
        tuple(conflicts),
        tuple(dict.fromkeys(failures)),
        tuple(fates),
        rounds,
        change,
        tried,
        len(first) - len(records),
        doubted,
        digest=digest,
    )


def _text(raw: bytes, tongue: Language) -> bytes | None:
    try:
        return Source.read(raw, declarations=tongue.declares_encoding).data
    except Unreadable:
        return None


def _on_changed_lines(findings: list[Finding], earlier: bytes, source: Source) -> list[Finding]:
    """Return the findings that have a line which is not in the `earlier` text."""
    changed = changed_lines(earlier, source.data)
    lines = source.lines
    return [
        one
        for one in findings
        if any(
            lines.number(one.span.start) <= last and first <= lines.number(one.span.end)
            for first, last in changed
        )
    ]


def _look_with(
    ruleset: Ruleset, vocabulary: Vocabulary, tree: Tree, rule: str | None
) -> list[Finding]:
    """Return the findings of one rule, or of all; what fails is told elsewhere."""
    return (ruleset if rule is None else ruleset.only([rule])).look(tree, vocabulary)[0]


def _record(finding: Finding, source: Source, with_holes: bool) -> FindingRecord:
    fixes = tuple((fix.title, fix.safety) for fix in finding.fixes)
    holes = finding.holes if with_holes else ()
    told = (finding.rule, finding.level, finding.message)
    return FindingRecord.of(source, finding.span, *told, fixes, holes)


def _fate(outcome: plans.Outcome, round_: int) -> Fate:
    return Fate(
        outcome.finding.rule, outcome.state, outcome.place, outcome.reason, round_, outcome.knock_on
    )


def _change(
    raw: bytes, digest: str, source: Source, done: plans.Rework, spanning: frozenset[str]
) -> Change | None:
    data = done.tree.source.data
    if data == source.data:
        return None
    marks: list[tuple[str, int, int]] = []
    for turn in done.rounds:
        lines = Source(turn.data).lines
        for o in turn.outcomes:
            if o.state in ("applied", "composed", "merged"):
                span = o.finding.span
                marks.append((o.finding.rule, lines.number(span.start), lines.number(span.end)))
    after = source.raw(data)
    everyone = tuple(sorted({rule for rule, _, _ in marks}))
    # imports follow what the fixes need: their lines are in no finding
    found = [h if h.rules else h._replace(rules=everyone) for h in hunks_of(raw, after, marks)]
    diff = patch(source.path, raw, after, found)
    together = spanning.intersection(everyone)
    return Change(source.path, digest, after, tuple(found), source.codec, diff, together)
