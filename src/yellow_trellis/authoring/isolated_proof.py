"""The examples of a rule, run where a rule that hangs or ends its process costs only its proof."""

from __future__ import annotations

from typing import NamedTuple

from yellow_trellis.authoring.example_coverage import untouched
from yellow_trellis.authoring.example_runner import Verdict, prove_rule
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.runs.processes.isolated_call import LostCallError, done_apart
from yellow_trellis.runs.run_options import USUAL


class RuleProof(NamedTuple):
    """The outcomes of the examples of one rule, and what none of them covers, in words."""

    verdicts: list[Verdict]
    untouched: list[str]

    @property
    def failed(self) -> list[Verdict]:
        """The examples that did not go as they say."""
        return [verdict for verdict in self.verdicts if not verdict.passed]


def proof_of(rule: RuleDefinition, seconds: float | None = USUAL.limits.file) -> RuleProof:
    """Run the examples of `rule`, all together within `seconds`; None is no limit.

    A rule that takes longer, or ends its process, fails its first example.
    """

    if not rule.examples:
        return RuleProof([], [])

    def work() -> tuple[list[tuple[str, str, str]], list[str]]:
        messages = [(item.reason, item.wanted, item.got) for item in prove_rule(rule)]
        return messages, untouched(rule)

    try:
        messages, parts = done_apart(work, seconds)
    except LostCallError as wrong:
        messages, parts = [(f"the rule failed: {wrong}", "", "")], []
    verdicts = [
        Verdict(rule.name, example, number, *item)
        for number, (example, item) in enumerate(zip(rule.examples, messages, strict=False), 1)
    ]
    return RuleProof(verdicts, parts)
