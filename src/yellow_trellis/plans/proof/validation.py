"""The proof before writing: what fails it is taken out and told, the rest goes on."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis.plans.conflict import EXPLAINED, Conflict, Kind
from yellow_trellis.plans.dependencies import meet, settled
from yellow_trellis.plans.plan import Candidate, Plan, nested_in
from yellow_trellis.plans.proof.amendment import Draft
from yellow_trellis.plans.proof.checker import Attempt, Checker
from yellow_trellis.plans.proof.culprits import sound_part
from yellow_trellis.syntax import Tree


class Proven(Struct):
    """A plan whose text has passed the proof."""

    plan: Plan
    tree: Tree
    """The tree of the new text."""
    draft: Draft | None = None
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
            remaining = sound_part(chosen, attempt, checker.attempt)
            _drop(plan, chosen, remaining, attempt, checker)
        elif attempt.wrong:
            done = settled(chosen, attempt.wrong)
            guilty = _guilty(done.alone, attempt, checker)
            _take_out(plan, guilty, dict.fromkeys(_numbers(guilty), _WRONG_SHAPE))
            for candidate, rival in done.yielding:
                _defer(plan, candidate, rival, "wrong shape")
            gone = {*_numbers(guilty), *(candidate.number for candidate, _ in done.yielding)}
            remaining = [candidate for candidate in chosen if candidate.number not in gone]
        else:
            if len(chosen) < accepted:
                _tell_alone(plan)
            return Proven(plan, attempt.tree, attempt.draft)
        plan.accepted = chosen = remaining
    return Proven(plan, plan.tree)


_WRONG_SHAPE: tuple[Kind, str] = ("wrong shape", EXPLAINED["wrong shape"])


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
    remaining: list[Candidate],
    failed: Attempt,
    checker: Checker,
) -> None:
    """Refuse the fixes of `chosen` that do not remain; one that fails with another only waits."""
    assert failed.fault is not None
    stays = set(_numbers(remaining))
    refused: list[Candidate] = []
    reasons: dict[int, tuple[Kind, str]] = {}
    for candidate in chosen:
        if candidate.number in stays:
            continue
        rival = next((c for c in remaining if meet(c, candidate)), None)
        alone = checker.attempt([candidate]) if rival is not None else failed
        if rival is not None and alone.fault is None and not alone.wrong:
            _defer(plan, candidate, rival, failed.fault.kind)
            continue
        fault = alone.fault or failed.fault
        reasons[candidate.number] = fault.kind, fault.reason
        if candidate.number in failed.strengthened and fault.kind == "broken syntax":
            reasons[candidate.number] = _WRONG_SHAPE
        refused.append(candidate)
    _take_out(plan, refused, reasons)


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
    plan: Plan, gone: list[Candidate], reasons: Mapping[int, tuple[Kind, str]]
) -> None:
    """Refuse fixes, and say what each would have written."""
    refused = {}
    for candidate in gone:
        kind, why = reasons[candidate.number]
        party = plan.party(candidate)
        reason = f"{why}: it wanted `{party.wanted}`"
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
