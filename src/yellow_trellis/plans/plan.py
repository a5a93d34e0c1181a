"""One round's plan: which fixes go, which yield and to whom, and the text that comes of it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import pairwise
from operator import itemgetter

from msgspec import Struct

from yellow_trellis.edits import Slice
from yellow_trellis.findings.failure import is_contained
from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes import Fix
from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.conflict import Conflict, ConflictSide
from yellow_trellis.plans.disjoint import Sketch, apart, sketched
from yellow_trellis.plans.outcome import DOUBT, FOR_ASKING, FOR_REVIEW, SKIPPED, Outcome, State
from yellow_trellis.plans.overlap import Meeting, Meetings, meetings
from yellow_trellis.plans.readings import misread_before
from yellow_trellis.plans.refusals import refusal
from yellow_trellis.plans.render import Rendered, Renderer
from yellow_trellis.plans.write_op import Primitive
from yellow_trellis.semantics import RequiredImport
from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Tree

Prefer = frozenset[tuple[str, str]]
"""Pairs of rules: the first wins over the second, whichever stands first."""

Choose = Callable[[Finding, Tree], "Fix | None"]
"""Takes one of the fixes of a finding in a tree, or none."""


class FixError(Exception):
    """Raised where the fix of a finding cannot be made: what its rule raised is the cause."""

    def __init__(self, finding: Finding) -> None:
        super().__init__(finding.rule)
        self.finding = finding


class Plan(Struct):
    """The fixes of one round over one tree."""

    tree: Tree
    candidates: list[Candidate]
    accepted: list[Candidate]
    outcomes: list[Outcome]
    conflicts: list[Conflict]
    met: Meetings

    def render(self, chosen: list[Candidate] | None = None) -> Rendered:
        """Return the text with the accepted fixes, or only those `chosen`, applied."""
        chosen = self.accepted if chosen is None else chosen
        alone = [c for c in chosen if c.made is not None]
        chosen = [c for c in chosen if c.made is None]
        numbers = {c.number for c in chosen}
        writes = [p for c in chosen for p in c.writes]
        if self.met.shared:
            writes = [p for p in writes if not self._is_shared(p, numbers)]
        buried = {}
        for key, over in self.met.buried.items():
            if remaining := [p for p in over if p.fix in numbers]:
                buried[key] = remaining
        for candidate in chosen:
            writes += candidate.edges
            if buried:
                _bury_edges(candidate, buried)
        result = Renderer(self.tree, writes, buried).render(c.made for c in alone if c.made)
        result.alone = [(c.number, c.fix.extent) for c in alone]
        return result

    def _is_shared(self, primitive: Primitive, numbers: set[int]) -> bool:
        twins = self.met.shared.get(id(primitive), ())
        return any(twin.fix in numbers for twin in twins)

    def party(self, candidate: Candidate, span: Span | None = None) -> ConflictSide:
        """Describe one side of a conflict."""
        return _party(self.tree, candidate, span)


def make_plan(
    tree: Tree,
    findings: list[Finding],
    *,
    with_review: bool = False,
    prefer: Prefer = frozenset(),
    choose: Choose | None = None,
) -> Plan:
    """Compose the fixes of `findings`, all found in `tree`.

    Arguments: `with_review` also takes fixes that may change behaviour; `prefer` are pairs of
    rules of which the first wins although it stands later; `choose` takes one of a finding's
    fixes, or none, instead of the first.
    The result does not depend on the order of `findings`: the rule's rank, then the place, then
    the text decide.
    """
    outcomes: list[Outcome] = []
    candidates = _candidates(tree, findings, with_review, choose, outcomes)
    sound: list[Candidate] = []
    conflicts: list[Conflict] = []
    comments = [match.start() for match in tree.language.comment_mark.finditer(tree.source.code)]
    misread = misread_before(tree, (w.span for c in candidates for w in c.writes))
    for candidate in candidates:
        refused = refusal(tree, candidate, comments, misread)
        if refused is None:
            sound.append(candidate)
        else:
            kind, reason = refused
            conflicts.append(Conflict(kind, _party(tree, candidate), reason=reason))
            outcomes += _outcomes(tree, candidate, "refused", reason)
    close = [c for c in sound if c.made is None]
    met = meetings([p for c in close for p in c.writes], {c.number: c.moves for c in close})
    accepted = _resolve(tree, sound, met, prefer, conflicts, outcomes)
    outcomes += _applied(tree, accepted)
    return Plan(tree, candidates, accepted, outcomes, conflicts, met)


def _candidates(
    tree: Tree,
    findings: list[Finding],
    with_review: bool,
    choose: Choose | None,
    outcomes: list[Outcome],
) -> list[Candidate]:
    candidates: list[Candidate] = []
    alike: dict[tuple[Span, int], list[Candidate]] = {}
    queries: list[tuple[Finding, Fix]] = []
    for finding in findings:
        if finding.left:
            outcomes.append(Outcome(finding, "left", tree.source, finding.left))
            continue
        asked_for = choose is not None and bool(finding.fixes)
        try:
            if choose is not None and asked_for:
                chosen = choose(finding, tree)
            else:
                chosen = finding.choice(with_review)
        except BaseException as error:
            if not is_contained(error):
                raise
            raise FixError(finding) from error
        if chosen is None:
            why = _why_left(finding)
            why = SKIPPED if asked_for else why
            outcomes.append(Outcome(finding, "left", tree.source, why))
        else:
            queries.append((finding, chosen))
    queries = _by_priority(queries)
    sketches = [sketched(fix, tree.source) for _, fix in queries]
    alone = apart([fix for _, fix in queries], sketches)
    for (finding, chosen), sketch, is_apart in zip(queries, sketches, alone, strict=True):
        text = sketch[4]
        if _changes_nothing(chosen, sketch, tree.source):
            outcomes.append(Outcome(finding, "left", tree.source, "its fix changes nothing"))
            continue
        if is_apart and text is not None:
            results = (sketch[2], sketch[3], text)
            candidates.append(Candidate(finding, chosen, len(candidates), results))
            continue
        near = alike.setdefault((chosen.extent, len(chosen.edits)), [])
        twin = next((c for c in near if _identical(c.fix, chosen)), None)
        if twin is not None:
            twin.twins.append(finding)
            continue
        near.append(Candidate(finding, chosen, len(candidates), None))
        candidates.append(near[-1])
    return candidates


def _changes_nothing(fix: Fix, sketch: Sketch, source: Source) -> bool:
    """Return whether the text with a fix is the text without."""
    if fix.imports or fix.clash or fix.fault:
        return False
    start, end, result = sketch[2], sketch[3], sketch[4]
    if result is not None:
        return source.data[start:end] == result
    return all(
        not edit.inserts and edit.pieces == (Slice(edit.span),) for edit in fix.edits
    )


def _why_left(finding: Finding) -> str:
    """Return why none of the fixes of a finding is applied where nobody is asked."""
    if not finding.fixes:
        return DOUBT if finding.lasts else "it has no fix"
    return FOR_ASKING if finding.unasked == "nothing" else FOR_REVIEW


def _identical(fix: Fix, second: Fix) -> bool:
    return fix.edits == second.edits and fix.imports == second.imports


def _by_priority(findings: list[tuple[Finding, Fix]]) -> list[tuple[Finding, Fix]]:
    """Sort by the rank of the rule, then the place, the longest first, then the text."""
    keyed = []
    for pair in findings:
        finding, fix = pair
        start, end = fix.extent
        keyed.append(((finding.rank, start, -end, finding.rule, fix.title), pair))
    keyed.sort(key=itemgetter(0))
    if any(item[0] == second[0] for item, second in pairwise(keyed)):
        keyed.sort(key=lambda item: (item[0], _spans(item[1][1])))
    return [pair for _, pair in keyed]


def _spans(fix: Fix) -> tuple[Span, ...]:
    return tuple(edit.span for edit in fix.edits)


def _resolve(
    tree: Tree,
    sound: list[Candidate],
    met: Meetings,
    prefer: Prefer,
    conflicts: list[Conflict],
    outcomes: list[Outcome],
) -> list[Candidate]:
    """Accept in order of priority; a fix that conflicts with an accepted one yields."""
    against: dict[int, list[Meeting]] = {}
    for meeting in [*met.conflicts, *_mutual(met)]:
        against.setdefault(meeting.one.fix, []).append(meeting)
        if meeting.other.fix != meeting.one.fix:
            against.setdefault(meeting.other.fix, []).append(meeting)
    by_number = {c.number: c for c in sound}
    accepted: dict[int, Candidate] = {}
    imported: dict[str, tuple[RequiredImport, Candidate]] = {}
    for candidate in _in_turn(sound, against, prefer) if prefer else sound:
        if candidate.made is not None and not candidate.fix.imports:
            accepted[candidate.number] = candidate
            continue
        lost = None
        for meeting in against.get(candidate.number, ()):
            item, second = meeting.one.fix, meeting.other.fix
            rival = second if item == candidate.number else item
            if rival == candidate.number or rival in accepted:
                lost = (meeting, rival)
                break
        if lost is None:
            clash = _clashing(candidate, imported) if candidate.fix.imports else None
            if clash is None:
                accepted[candidate.number] = candidate
                imported.update((item.bound, (item, candidate)) for item in candidate.fix.imports)
                continue
            bound, winner = clash[0].bound, clash[1]
            reason = f"both would import `{bound}`, from two places"
            conflicts.append(
                Conflict("name clash", _party(tree, winner), _party(tree, candidate), reason)
            )
            reason = f"name clash with {winner.finding.rule}: {reason}"
            outcomes += _outcomes(tree, candidate, "deferred", reason, winner.finding.rule)
            continue
        meeting, rival = lost
        mine, theirs = meeting.one, meeting.other
        if mine.fix != candidate.number:
            mine, theirs = theirs, mine
        if rival == candidate.number:
            reason = "the fix edits the same bytes twice"
            if meeting.kind == "lost work":
                place = tree.source.place(theirs.start)
                reason = f"the fix takes away the place where it adds code, at {place}"
            conflicts.append(Conflict(meeting.kind, _party(tree, candidate), reason=reason))
            outcomes += _outcomes(tree, candidate, "refused", reason)
            continue
        winner = by_number[rival]
        conflict = Conflict(
            meeting.kind, _party(tree, winner, theirs.span), _party(tree, candidate, mine.span)
        )
        conflicts.append(conflict)
        reason = f"{meeting.kind} with {winner.finding.rule}: {conflict.explained}"
        outcomes += _outcomes(tree, candidate, "deferred", reason, winner.finding.rule)
    return list(accepted.values())


def _in_turn(
    sound: list[Candidate], against: dict[int, list[Meeting]], prefer: Prefer
) -> Iterator[Candidate]:
    """Yield the fixes by rank, but before each those in its way that are preferred to it."""
    by_number = {c.number: c for c in sound}
    begun: set[int] = set()
    for first in sound:
        stack = [(first, False)]
        while stack:
            candidate, ready = stack.pop()
            if ready:
                yield candidate
                continue
            if candidate.number in begun:
                continue
            begun.add(candidate.number)
            stack.append((candidate, True))
            for meeting in against.get(candidate.number, ()):
                item, second = meeting.one.fix, meeting.other.fix
                rival = by_number[second if item == candidate.number else item]
                if (rival.finding.rule, candidate.finding.rule) in prefer:
                    stack.append((rival, False))


def _clashing(
    candidate: Candidate, imported: dict[str, tuple[RequiredImport, Candidate]]
) -> tuple[RequiredImport, Candidate] | None:
    """Return an import of an accepted fix that binds a name which `candidate` needs for another."""
    for item in candidate.fix.imports:
        entry = imported.get(item.bound)
        if entry is not None and entry[0].statement != item.statement and item.name is not None:
            return entry
    return None


def _mutual(met: Meetings) -> list[Meeting]:
    """Return pairs of fixes each of which would carry off a part of the other."""
    carried = {(outer.fix, inner.fix): outer for inner, outer in met.nestings}
    return [
        Meeting("overlap", outer, inner)
        for inner, outer in met.nestings
        if outer.fix < inner.fix and (inner.fix, outer.fix) in carried
    ]


def _outcomes(
    tree: Tree, candidate: Candidate, state: State, reason: str = "", by: str = ""
) -> list[Outcome]:
    results = [Outcome(candidate.finding, state, tree.source, reason, by)]
    for twin in candidate.twins:
        results.append(Outcome(twin, state, tree.source, reason, by))
    return results


def _applied(tree: Tree, accepted: list[Candidate]) -> list[Outcome]:
    nested = nested_in(accepted)
    outcomes: list[Outcome] = []
    for candidate in accepted:
        state: State = "composed" if candidate.number in nested else "applied"
        outcomes.append(Outcome(candidate.finding, state, tree.source))
        for twin in candidate.twins:
            outcomes.append(Outcome(twin, "merged", tree.source))
    return outcomes


def nested_in(accepted: list[Candidate]) -> set[int]:
    """Return the numbers of fixes whose extent lies in another's, or holds another's."""
    results: set[int] = set()
    around: list[tuple[int, int]] = []
    for start, less, number in sorted(
        (c.fix.extent[0], -c.fix.extent[1], c.number) for c in accepted
    ):
        while around and around[-1][0] <= start:
            around.pop()
        if around:
            results.add(around[-1][1])
            results.add(number)
        around.append((-less, number))
    return results


def _party(tree: Tree, candidate: Candidate, span: Span | None = None) -> ConflictSide:
    span = span if span is not None else candidate.fix.extent
    source = tree.source
    return ConflictSide(
        candidate.finding.rule,
        candidate.fix.title,
        span,
        source.place(span.start),
        source.place(span.end),
        source.text(candidate.fix.extent),
        Renderer(tree, candidate.writes, {}).text(candidate.fix.extent),
    )


def _bury_edges(candidate: Candidate, buried: dict[int, list[Primitive]]) -> None:
    """Note in `buried` that a slice which carries off a fix carries off the edges of it."""
    outers = {id(outer): outer for write in candidate.writes for outer in buried.get(id(write), ())}
    if not outers:
        return
    for edge in candidate.edges:
        if over := [outer for outer in outers.values() if outer.span.holds(edge.anchor)]:
            buried[id(edge)] = over
