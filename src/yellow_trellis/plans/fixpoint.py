"""Rounds: find, plan, rewrite, look again, until nothing is left or a loop shows."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping
from itertools import pairwise
from operator import itemgetter

from msgspec import Struct, field
from msgspec.structs import replace

from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.finding import Finding
from yellow_trellis.plans.conflict import Conflict, ConflictSide
from yellow_trellis.plans.containment import contained
from yellow_trellis.plans.incremental import Carried, Partial, Parts, changed
from yellow_trellis.plans.outcome import DOUBT, WRITTEN, Outcome, State
from yellow_trellis.plans.plan import Choose, Plan, Prefer, make_plan
from yellow_trellis.plans.proof.validation import Proven, prove
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree
from yellow_trellis.trace import tracer

MOST_ROUNDS = 20
MOST_GROWTH = 4
"""A file that grows to more than so many times its size, and 2 KiB, is taken for a loop."""
DOUBLINGS = 4
"""A rule that finds twice as much in this many rounds on end is taken for a loop."""


_OUT_OF_ONE = (
    "give it a condition that leaves out what is done, let it write what its pattern does not "
    "take, or say `once = true`"
)
_OUT_OF_MANY = "leave one of them out, or give one a condition"

Look = Callable[[Tree], list[Finding]]
"""Returns the findings in a tree."""


class Round(Struct):
    """One round over one file."""

    data: bytes
    """The text, in UTF-8, that the round started from."""
    outcomes: list[Outcome]
    conflicts: list[Conflict]
    rules: frozenset[str]
    """The rules whose fixes went into the text."""
    carried: Parts = field(default_factory=dict)
    """The parts that were not looked at, as they had not changed, with what became of them."""


class Rework(Struct):
    """The result of reworking one file."""

    tree: Tree
    """The tree at the end."""
    rounds: list[Round] = field(default_factory=list)
    failures: list[RuleFailure] = field(default_factory=list)
    """Rules whose fixes could not be made or planned."""

    @property
    def outcomes(self) -> list[tuple[int, Outcome]]:
        """The outcomes of all findings, each with its round, from 1.

        A finding that is refused or left in one round is found again in the next: only the last
        round says what became of it; of one that `lasts`, the first.
        """
        last = len(self.rounds)
        results = [
            (number, outcome)
            for number, turn in enumerate(self.rounds, 1)
            for outcome in turn.outcomes
            if outcome.state not in ("refused", "left")
            or number == (1 if outcome.finding.lasts else last)
        ]
        carried = [outcome for part in self._carried for outcome in part.outcomes]
        return sorted([*results, *carried], key=itemgetter(0)) if carried else results

    @property
    def _carried(self) -> list[Carried]:
        """The parts that the last round has not looked at any more."""
        carried = self.rounds[-1].carried if self.rounds else {}
        return [part for parts in carried.values() for part in parts]

    @property
    def conflicts(self) -> list[Conflict]:
        """All conflicts: between two fixes from every round, of one fix from the last."""
        rounds = [
            conflict
            for turn in self.rounds
            for conflict in turn.conflicts
            if turn is self.rounds[-1] or conflict.other is not None
        ]
        return [*rounds, *(conflict for part in self._carried for conflict in part.conflicts)]


def rework(
    tree: Tree,
    look: Look,
    *,
    with_review: bool = False,
    most_rounds: int = MOST_ROUNDS,
    refused: Mapping[str, str] | None = None,
    prefer: Prefer = frozenset(),
    choose: Choose | None = None,
    version: tuple[int, int] | None = None,
    partial: Partial | None = None,
) -> Rework:
    """Apply the fixes of all findings in `tree` until a round has nothing to apply.

    Arguments: `look` finds; `with_review` also takes fixes that may change behaviour; `refused`
    are rules whose fixes are not to be applied, each with the reason; `prefer` and `choose` are
    those of `make_plan`; `version` is the oldest version of the language that the new text must be
    read by; `partial` says how to look only at what a round has changed.
    A finding of a later round whose rule and code were not found before is a knock-on: a fix of
    this run has caused it.
    When the rounds come back to an earlier text, or do not end within `most_rounds`, all starts
    anew without the rules of the loop, which are named: no half of a loop is ever written.
    """
    original = tree
    barred = dict(refused or {})
    conflicts: list[Conflict] = []
    failures: list[RuleFailure] = []
    rounds: list[Round] = []
    before = tree
    while True:
        findings, carried = _find(tree, before, rounds, look, partial)
        findings = _still_due(tree, findings, rounds)
        eligible = [finding for finding in findings if finding.rule not in barred]
        now = tree

        def planned(some: list[Finding], now: Tree = now) -> tuple[Plan, Proven]:
            plan = make_plan(now, some, with_review=with_review, prefer=prefer, choose=choose)
            return plan, prove(plan, version)

        (plan, proven), failed = contained(tree, eligible, planned)
        failures += failed
        barred.update((failure.rule, failure.reason) for failure in failed)
        turn, after = _one_round(plan, proven, findings, barred)
        turn.carried = carried
        _mark_knock_ons(tree, turn, rounds[-1] if rounds else None)
        rounds.append(turn)
        _trace_round(tree, turn, len(rounds))
        if not turn.rules:
            break
        before, tree = tree, after
        again = next((i for i, r in enumerate(rounds) if r.data == tree.source.data), None)
        size = len(tree.source.data)
        grown = size > MOST_GROWTH * len(rounds[0].data) + 2048 or _feeds_itself(rounds)
        if again is None and len(rounds) < most_rounds and not grown:
            continue
        loop = rounds[again:] if again is not None else rounds[-1:]
        rules = frozenset(rule for turn in loop for rule in turn.rules)
        conflicts.append(_loop_conflict(rounds, rules, returns=again is not None))
        barred.update(dict.fromkeys(rules, "see-saw: its rule is part of a loop in this file"))
        rounds.clear()
        tree = original
    if conflicts:
        rounds[-1].conflicts.extend(conflicts)
    return Rework(tree, rounds, failures)


def _trace_round(tree: Tree, turn: Round, number: int) -> None:
    trace = tracer("plan")
    for outcome in turn.outcomes if trace is not None else ():
        if trace is not None and outcome.state not in WRITTEN:
            place = f"{tree.source.path}:{outcome.place}"
            state = f"{outcome.finding.rule} {outcome.state}: {outcome.reason}"
            trace(f"round {number}: {place}: {state}")


def _feeds_itself(rounds: list[Round]) -> bool:
    """Return whether the fixes of a rule have doubled from round to round, again and again."""
    counts = [
        Counter(outcome.finding.rule for outcome in turn.outcomes if outcome.state in WRITTEN)
        for turn in rounds[-DOUBLINGS - 1 :]
    ]
    return len(counts) > DOUBLINGS and any(
        all(later[rule] >= 2 * count[rule] for count, later in pairwise(counts))
        for rule, first in counts[0].items()
        if first
    )


def _find(
    tree: Tree, before: Tree, rounds: list[Round], look: Look, partial: Partial | None
) -> tuple[list[Finding], Parts]:
    """Return the findings in a tree, and the parts that need not be looked at again."""
    sound = not (tree.errors or before.errors)
    if partial is not None and rounds and partial.local and sound:
        last = rounds[-1]
        messages = (last.outcomes, last.conflicts, last.carried)
        new = changed(len(rounds), before, *messages, tree, partial.local)
        findings = partial.look(tree, new.within)
        if findings is not None:
            return findings, new.carried
    return look(tree), {}


def _still_due(tree: Tree, findings: list[Finding], rounds: list[Round]) -> list[Finding]:
    """Return the findings without those of rules applied once that fixes of this run have made.

    Those that an earlier round has put off are known by their code.
    """
    if not rounds or not any(finding.once for finding in findings):
        return findings
    last = rounds[-1]
    source = Source(last.data)
    due = Counter(
        (outcome.finding.rule, source.text(outcome.finding.span))
        for outcome in last.outcomes
        if outcome.finding.once and outcome.state not in WRITTEN
    )
    results: list[Finding] = []
    for finding in findings:
        key = (finding.rule, tree.source.text(finding.span))
        if not finding.once or due[key] > 0:
            results.append(finding)
        due[key] -= 1
    return results


def _mark_knock_ons(tree: Tree, turn: Round, before: Round | None) -> None:
    """Mark what a fix of this run has caused: more of a rule than the last round left over.

    Which of them it is, is told by their code: what was not there before.
    """
    if before is None:
        return
    table: Counter[str] = Counter()
    results: set[tuple[str, str]] = set()
    caused: Counter[tuple[str, str]] = Counter()
    source = Source(before.data)
    carried = {
        id(outcome)
        for parts in turn.carried.values()
        for part in parts
        for _, outcome in part.outcomes
    }
    for outcome in before.outcomes:
        key = (outcome.finding.rule, source.text(outcome.finding.span))
        results.add(key)
        if id(outcome) not in carried and outcome.state in ("deferred", "refused", "left"):
            table[outcome.finding.rule] += 1
            caused[key] += outcome.knock_on
    extra = Counter(outcome.finding.rule for outcome in turn.outcomes) - table
    for at, outcome in enumerate(turn.outcomes):
        rule = outcome.finding.rule
        key = (rule, tree.source.text(outcome.finding.span))
        if caused[key]:  # and still there
            caused[key] -= 1
            turn.outcomes[at] = replace(outcome, knock_on=True)
        elif extra[rule] and key not in results:
            extra[rule] -= 1
            turn.outcomes[at] = replace(outcome, knock_on=True)


def _one_round(
    plan: Plan, proven: Proven, findings: list[Finding], barred: Mapping[str, str]
) -> tuple[Round, Tree]:
    tree = plan.tree
    for finding in findings:
        if finding.rule in barred:
            state: State = "refused" if finding.fixes else "left"
            reason = DOUBT if finding.lasts else barred[finding.rule]
            plan.outcomes.append(Outcome(finding, state, tree.source, reason))
    rules = {o.finding.rule for o in plan.outcomes if o.state in WRITTEN}
    if proven.tree.source.data == tree.source.data:
        rules = set()
    turn = Round(tree.source.data, plan.outcomes, plan.conflicts, frozenset(rules))
    return turn, proven.tree


def _loop_conflict(rounds: list[Round], rules: frozenset[str], *, returns: bool) -> Conflict:
    """Describe a loop by the first fix in it."""
    turn, item = next(
        (turn, outcome)
        for turn in rounds
        for outcome in turn.outcomes
        if outcome.finding.rule in rules and outcome.state in WRITTEN
    )
    source = Source(turn.data)
    span = item.finding.span
    party = ConflictSide(
        item.finding.rule,
        item.finding.message,
        span,
        source.place(span.start),
        source.place(span.end),
        source.text(span),
    )
    names = " and ".join(sorted(rules))
    if len(rules) == 1:
        what = "and the text comes back to an earlier one" if returns else "round after round"
        reason = f"{names} finds what it has written itself, {what}; {_OUT_OF_ONE}"
    elif returns:
        reason = f"the rounds come back to an earlier text; in the loop: {names}; {_OUT_OF_MANY}"
    else:
        reason = f"no end after {len(rounds)} rounds; still at work: {names}; {_OUT_OF_MANY}"
    return Conflict("see-saw", party, reason=reason)
