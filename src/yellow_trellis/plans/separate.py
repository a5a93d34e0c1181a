"""The fixes of a file as plain edits, each for itself, for reports that others apply fixes from.

All fixes of the file are planned and proved together, as `apply` does. Of those that stand alone in
that text each is told by what it replaces, with the imports that it needs. One that is inside or
around another has no text of its own: it is told why.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from typing import NamedTuple

from yellow_trellis.edits import New
from yellow_trellis.findings.finding import Finding
from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.outcome import WRITTEN
from yellow_trellis.plans.plan import Plan, Prefer, make_plan
from yellow_trellis.plans.proof.amendment import ProofText
from yellow_trellis.plans.proof.regions import Replacement
from yellow_trellis.plans.proof.validation import prove
from yellow_trellis.semantics import semantics_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

_COMPOSED = "it is written together with another fix at the same place"


class PlainEdit(NamedTuple):
    """Bytes in UTF-8 in place of a span of the original."""

    span: Span
    data: bytes


class SeparateFix(NamedTuple):
    """The edits of the fix of a finding, by place; none where `reason` says why."""

    edits: tuple[PlainEdit, ...] = ()
    reason: str = ""


def separate_fixes(
    tree: Tree,
    findings: list[Finding],
    prefer: Prefer = frozenset(),
    version: tuple[int, int] | None = None,
) -> list[SeparateFix]:
    """Return for each finding in `tree` what `apply` would do about it in its first round.

    Arguments: `prefer` and `version` are those of `make_plan` and `prove`.
    """
    plan = make_plan(tree, findings, prefer=prefer)
    proven = prove(plan, version)
    reasons = {id(outcome.finding): outcome.reason or outcome.state for outcome in plan.outcomes}
    applied = {id(outcome.finding) for outcome in plan.outcomes if outcome.state in WRITTEN}
    fixes: dict[int, SeparateFix] = {}
    if proven.draft is not None:
        parts = _parts(proven.draft)
        for candidate in plan.accepted:
            fix = _fix(plan, proven.draft, candidate, parts.get(candidate.number, ()))
            for finding in (candidate.finding, *candidate.twins):
                if id(finding) in applied:
                    fixes[id(finding)] = fix
    return [
        fixes.get(id(finding), SeparateFix(reason=reasons.get(id(finding), "")))
        for finding in findings
    ]


def _parts(draft: ProofText) -> dict[int, list[Replacement]]:
    """Return by number of a fix what it replaces; nothing for those that meet others."""
    parts: defaultdict[int, list[Replacement]] = defaultdict(list)
    together: set[int] = set()
    for replaced in draft.replaced:
        inside = {fix for outer in replaced.kept for inner in outer.inside for fix in inner.fixes}
        if len(replaced.fixes) > 1 or inside:
            together |= replaced.fixes | inside
        for fix in replaced.fixes:
            parts[fix].append(replaced)
    return {fix: some for fix, some in parts.items() if fix not in together}


def _fix(
    plan: Plan, draft: ProofText, candidate: Candidate, parts: Iterable[Replacement]
) -> SeparateFix:
    data = draft.tree.source.data
    edits = [PlainEdit(part.old, data[part.new.start : part.new.end]) for part in parts]
    if not edits:
        return SeparateFix(reason=_COMPOSED)
    semantics = semantics_of(plan.tree.language)
    needs = [(item, candidate.fix.extent.start) for item in candidate.fix.imports]
    for edit in semantics.add_imports(plan.tree, needs) if needs and semantics is not None else ():
        text = "".join(piece.text for piece in edit.pieces if isinstance(piece, New))
        newline = plan.tree.source.newline_at(edit.span.start)
        edits.append(PlainEdit(edit.span, text.encode("utf-8").replace(b"\n", newline)))
    edits.sort()
    if any(one.span.end > follower.span.start for one, follower in zip(edits, edits[1:])):
        return SeparateFix(reason=_COMPOSED)
    return SeparateFix(tuple(edits))
