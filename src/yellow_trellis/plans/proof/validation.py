"""The proof before writing: what fails it is taken out and told, the rest goes on."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.conflict import Conflict, Kind
from yellow_trellis.plans.dependencies import first_touching, settled, touch
from yellow_trellis.plans.plan import Plan, nested_in
from yellow_trellis.plans.proof.advice import way_out, wrong_shape
from yellow_trellis.plans.proof.amendment import ProofText
from yellow_trellis.plans.proof.checker import Attempt, Checker
from yellow_trellis.plans.proof.culprits import sound_part
from yellow_trellis.syntax import Tree


class Proven(Struct):
    """A plan whose text has passed the proof."""

    plan: Plan
    tree: Tree
    """The tree of the new text."""
    draft: ProofText | None = None
    """Where in it each fix has written what; None where none is left."""


def prove(plan: Plan, version: tuple[int, int] | None = None) -> Proven:
    """Render `plan`, check the text, and take out what fails until the rest passes.

    Fixes that do not make the tree which they say are known at once; when the file as a whole is
    broken, or a comment is gone, the fixes at that place are tried first. Each that goes is told in
    `plan.outcomes`.
    Arguments: `version` is the oldest version of the language that the text must be read by; the
    one that the library runs in if left out.
    """
    chosen = plan.accepted
    accepted = len(chosen)
    checker = Checker(plan, version)
    while chosen:
        attempt = checker.attempt(chosen)
        if attempt.fault is not None:
            sound = sound_part(chosen, attempt, checker.attempt)
            gone = _drop(plan, chosen, sound, attempt, checker)
            remaining = [candidate for candidate in chosen if candidate.number not in gone]
        elif attempt.wrong:
            done = settled(chosen, attempt.wrong)
            guilty, waiting = _told_apart(done.alone, chosen, attempt, checker)
            reasons = {c.number: wrong_shape(attempt, c) for c in guilty}
            _take_out(plan, guilty, reasons, checker)
            yielding = [*done.yielding, *waiting]
            for candidate, rival in yielding:
                _defer(plan, candidate, rival, "wrong shape")
            gone = {*_numbers(guilty), *(candidate.number for candidate, _ in yielding)}
            remaining = [candidate for candidate in chosen if candidate.number not in gone]
        else:
            if len(chosen) < accepted:
                _tell_alone(plan)
            return Proven(plan, attempt.tree, attempt.draft)
        plan.accepted = chosen = remaining
    return Proven(plan, plan.tree)


def _told_apart(
    wrong: list[Candidate], chosen: list[Candidate], failed: Attempt, checker: Checker
) -> tuple[list[Candidate], list[tuple[Candidate, Candidate]]]:
    """Return those of `wrong` fixes that are so by themselves, and those that only have to wait.

    Two that touch may spoil each other, or one the other, though each is right alone: the later one
    waits for the earlier, which comes with it. All that stand first are tried without the later
    ones, and these without the first, so that it takes two attempts however many there are.
    """
    earlier = first_touching(wrong, chosen, chosen)
    if not earlier:
        blamed = set(_numbers(wrong))
        rest = [c for c in chosen if c.number not in blamed]
        earlier = first_touching(rest, wrong, chosen)
    later = [c for c in chosen if c.number in earlier]
    numbers = set(_numbers(later))
    if not later:
        return _guilty(wrong, failed, checker), []
    guilty = set[int]()
    without = checker.attempt([c for c in chosen if c.number not in numbers])
    guilty |= without.wrong & set(_numbers(wrong))
    alone = checker.attempt([c for c in later if earlier[c.number].number not in numbers])
    guilty |= alone.wrong & numbers
    waiting = [
        (c, earlier[c.number])
        for c in later
        if c.number not in guilty and earlier[c.number].number not in guilty
    ]
    if waiting:  # for one of them the rest may be wrong: they are looked at again without
        return [], waiting
    return [c for c in wrong if c.number in guilty] or wrong, waiting


def _guilty(wrong: list[Candidate], failed: Attempt, checker: Checker) -> list[Candidate]:
    """Return those of `wrong` fixes that are so by themselves; all, if they are only together.

    One at whose place others are, too, is tried alone.
    """
    guilty = []
    for candidate in wrong:
        if candidate.number in failed.doubtful:
            alone = checker.attempt([candidate])
            if not alone.wrong and alone.fault is None:
                continue
        guilty.append(candidate)
    return guilty or wrong


def _numbers(candidates: list[Candidate]) -> list[int]:
    return [candidate.number for candidate in candidates]


def _drop(
    plan: Plan,
    chosen: list[Candidate],
    sound: list[Candidate],
    failed: Attempt,
    checker: Checker,
) -> set[int]:
    """Refuse the fixes of `chosen` that are not among the `sound` ones, each for its own reason.

    One that fails only with another waits for it, and one that is right by itself stays: another
    was to blame. Return the numbers of those that go, which are some.
    """
    fault = failed.fault
    assert fault is not None
    dropped = [c for c in chosen if c.number not in set(_numbers(sound))]
    faults = _own_faults(dropped, failed, checker)
    reasons: dict[int, tuple[Kind, str]] = {}
    waiting: list[tuple[Candidate, Candidate]] = []
    right: list[Candidate] = []
    for candidate in dropped:
        own = faults[candidate.number]
        rival = next((c for c in sound if touch(c, candidate)), None)
        if own is not None:
            reasons[candidate.number] = own
        elif rival is not None:
            waiting.append((candidate, rival))
        else:
            right.append(candidate)
    if not reasons and not waiting:
        if len(right) > 1:
            waiting.append((right[-1], right[0]))
        else:
            reasons.update((c.number, (fault.kind, fault.reason)) for c in right)
    for candidate, rival in waiting:
        _defer(plan, candidate, rival, fault.kind)
    _take_out(plan, [c for c in dropped if c.number in reasons], reasons, checker)
    return {*reasons, *(candidate.number for candidate, _ in waiting)}


def _own_faults(
    dropped: list[Candidate], failed: Attempt, checker: Checker
) -> dict[int, tuple[Kind, str] | None]:
    """Return by number what is wrong with each fix by itself; None where nothing is.

    Of many fixes of one rule the first few speak for the rest.
    """
    assert failed.fault is not None
    table: dict[int, tuple[Kind, str] | None] = {}
    tried: dict[str, list[tuple[Kind, str] | None]] = {}
    for candidate in dropped:
        earlier = tried.setdefault(candidate.finding.rule, [])
        if len(earlier) >= _FEW and None not in earlier:
            table[candidate.number] = earlier[-1]
            continue
        if len(earlier) >= _MANY:
            table[candidate.number] = failed.fault.kind, failed.fault.reason
            continue
        alone = checker.attempt([candidate])
        own = (alone.fault.kind, alone.fault.reason) if alone.fault is not None else None
        is_loose = own is not None and own[0] == "broken syntax"
        if (is_loose and candidate.number in alone.strengthened) or (own is None and alone.wrong):
            own = wrong_shape(alone, candidate)
        table[candidate.number] = own
        earlier.append(table[candidate.number])
    return table


_FEW = 4
_MANY = 32
"""How many fixes of one rule are tried alone, where all are wrong and where some are."""


def _tell_alone(plan: Plan) -> None:
    """Mark as applied what would have composed with fixes that were taken out."""
    nested = nested_in(plan.accepted)
    alone = {id(c.finding) for c in plan.accepted if c.number not in nested}
    plan.outcomes = [
        replace(o, state="applied") if o.state == "composed" and id(o.finding) in alone else o
        for o in plan.outcomes
    ]


def _defer(plan: Plan, candidate: Candidate, rival: Candidate, kind: Kind) -> None:
    """Let a fix yield to one before it: the next round looks at its place again."""
    message = "one writes what the other relies on"
    if kind != "wrong shape":
        message = f"together {_TOGETHER[kind]}"
    plan.conflicts.append(Conflict("overlap", plan.party(rival), plan.party(candidate), message))
    gone = {id(finding) for finding in (candidate.finding, *candidate.twins)}
    winner = rival.finding.rule
    reason = f"overlap with {winner}: {message}"
    plan.outcomes = [
        replace(o, state="deferred", reason=reason, by=winner) if id(o.finding) in gone else o
        for o in plan.outcomes
    ]


def _take_out(
    plan: Plan,
    gone: list[Candidate],
    reasons: Mapping[int, tuple[Kind, str]],
    checker: Checker,
) -> None:
    """Refuse fixes, and say what each would have written."""
    refused = {}
    for candidate in gone:
        kind, why = reasons[candidate.number]
        party = plan.party(candidate)
        reason = f"{why}: it wanted `{party.wanted}`; {way_out(kind, candidate, checker)}"
        refused.update({id(f): reason for f in (candidate.finding, *candidate.twins)})
        plan.conflicts.append(Conflict(kind, party, reason=reason))
    plan.outcomes = [
        replace(o, state="refused", reason=refused[id(o.finding)])
        if id(o.finding) in refused
        else o
        for o in plan.outcomes
    ]


_TOGETHER: dict[Kind, str] = {
    "broken syntax": "they make what does not parse",
    "comment loss": "they lose a comment",
    "name clash": "they leave a name without a binding",
}
