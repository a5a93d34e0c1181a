"""A rule that can be tried on text: what most scripts and notebooks need."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape
from typing import NamedTuple

from yellow_trellis.findings import Finding, RuleFailure
from yellow_trellis.languages import DEFAULT, language
from yellow_trellis.plans import Conflict, rework
from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.example import RuleError
from yellow_trellis.rules.ruleset import Ruleset
from yellow_trellis.source import Source
from yellow_trellis.source.diff import hunks_of, patch
from yellow_trellis.syntax import Tree


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

    @property
    def diff(self) -> str:
        """A unified diff from `before` to `code`; empty where they are the same."""
        if self.before == self.code:
            return ""
        before, after = self.before.encode(), self.code.encode()
        return patch("code", before, after, hunks_of(before, after)).decode()

    def __repr__(self) -> str:
        state = "changed" if self.before != self.code else "unchanged"
        counts = f"{len(self.findings)} findings, {len(self.conflicts)} conflicts"
        return f"<CodeResult {counts}, code {state}>"

    def _repr_html_(self) -> str:
        rows = "".join(
            f"<li><code>{escape(finding.rule)}</code> {escape(finding.message)}</li>"
            for finding in self.findings
        )
        return f"<ul>{rows}</ul><pre>{escape(self.diff)}</pre>"


class Rule(RuleDefinition):
    """A rule, declared or in code; see `RuleDefinition` for its arguments."""

    def check(self, text: str) -> CodeResult:
        """Return the findings of the rule in `text`; nothing is changed."""
        return check_code([self], text)

    def fix(self, text: str, *, with_review: bool = False) -> CodeResult:
        """Apply the fixes of the rule to `text`, round after round.

        Arguments: `with_review` also applies fixes that may change behaviour.
        """
        return fix_code([self], text, with_review=with_review)


def check_code(rules: Sequence[RuleDefinition], text: str) -> CodeResult:
    """Return the findings of rules for one language in `text`. Errors: `RuleError`."""
    ruleset = Ruleset.of(rules)
    findings, failures = ruleset.look(_tree(ruleset, text))
    return CodeResult(text, text, tuple(findings), (), tuple(failures))


def fix_code(
    rules: Sequence[RuleDefinition], text: str, *, with_review: bool = False
) -> CodeResult:
    """Apply the fixes of rules for one language to `text`, round after round.

    What cannot be proved right is refused, as in a run; see `CodeResult`. Errors: `RuleError`.
    """
    ruleset = Ruleset.of(rules)
    first: list[Finding] = []
    failures: list[RuleFailure] = []

    def find(tree: Tree) -> list[Finding]:
        findings, failed = ruleset.look(tree)
        failures.extend(failed)
        if not first:
            first.extend(findings)
        return findings

    done = rework(
        _tree(ruleset, text), find, with_review=with_review, prefer=ruleset.preferences()
    )
    return CodeResult(
        text,
        done.tree.source.data.decode(),
        tuple(first),
        tuple(done.conflicts),
        tuple(dict.fromkeys([*failures, *done.failures])),
    )


def _tree(ruleset: Ruleset, text: str) -> Tree:
    language = ruleset.rules[0].language if ruleset.rules else None
    if language is None:
        from yellow_trellis.languages import DEFAULT
        from yellow_trellis.languages import language as spoken

        language = spoken(DEFAULT)
    return Tree(Source(text.encode()), language)
