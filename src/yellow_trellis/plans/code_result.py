"""The result of rules, or of edits by hand, on one text."""

from __future__ import annotations

from typing import NamedTuple

from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.finding import Finding
from yellow_trellis.notebook_html import Diff, table
from yellow_trellis.plans.conflict import Conflict
from yellow_trellis.plans.fixpoint import Rework
from yellow_trellis.plans.outcome import Outcome
from yellow_trellis.source import Source
from yellow_trellis.source.diff import hunks_of, patch


class CodeResult(NamedTuple):
    """The result of rules on one text.

    The findings are those of the first round, by place; `code` is the text after all rounds, the
    same as before where nothing was applied.
    """

    before: str
    code: str
    findings: tuple[Finding, ...]
    conflicts: tuple[Conflict, ...] = ()
    failures: tuple[RuleFailure, ...] = ()
    """The rules that raised, or whose fixes did."""
    outcomes: tuple[Outcome, ...] = ()
    """What became of each finding, where fixes were to be applied."""

    @classmethod
    def of(
        cls, before: str, done: Rework, findings: list[Finding], failures: list[RuleFailure]
    ) -> CodeResult:
        """Return the result of reworking the text `before`.

        Arguments: `findings` are those of the first round, `failures` those of rules.
        """
        return cls(
            before,
            done.tree.source.data.decode(),
            tuple(findings),
            tuple(done.conflicts),
            tuple(dict.fromkeys([*failures, *done.failures])),
            tuple(outcome for _, outcome in done.outcomes),
        )

    @property
    def diff(self) -> Diff:
        """A unified diff from `before` to `code`; empty where they are the same."""
        if self.before == self.code:
            return Diff()
        before, after = self.before.encode(), self.code.encode()
        return Diff(patch("code", before, after, hunks_of(before, after)).decode())

    @property
    def refused(self) -> tuple[Outcome, ...]:
        """The outcomes of findings whose fixes could not be proved right, each with its reason."""
        return tuple(outcome for outcome in self.outcomes if outcome.state == "refused")

    def __repr__(self) -> str:
        state = "changed" if self.before != self.code else "unchanged"
        counts = f"{len(self.findings)} findings, {len(self.conflicts)} conflicts"
        return f"<CodeResult {counts}, {len(self.refused)} refused, code {state}>"

    def _repr_html_(self) -> str:
        places = Source(self.before.encode())
        rows = ((f.rule, f.level, places.place(f.span.start), f.message) for f in self.findings)
        conflicts = "".join(conflict._repr_html_() for conflict in self.conflicts)
        header = ("rule", "level", "place", "message")
        return table(header, rows) + conflicts + self.diff._repr_html_()
