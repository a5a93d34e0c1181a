"""A rule that can be tried on text: what most scripts and notebooks need."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Union

from yellow_trellis.findings import Finding, RuleFailure
from yellow_trellis.languages import DEFAULT
from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.example import RuleError
from yellow_trellis.rules.ruleset import Ruleset
from yellow_trellis.syntax import Tree, parse_text

if TYPE_CHECKING:
    from yellow_trellis.plans import CodeResult


class Rule(RuleDefinition, frozen=True, eq=False, dict=True):
    """A rule, declared or in code; see `RuleDefinition` for its arguments."""

    def check(self, text: str) -> CodeResult:
        """Return the findings of the rule in `text`; nothing is changed."""
        return check_code([self], text)

    def fix(self, text: str, *, with_review: bool = False) -> CodeResult:
        """Apply the fixes of the rule to `text`, round after round.

        Arguments: `with_review` also applies fixes that may change behaviour.
        """
        return fix_code([self], text, with_review=with_review)


RulesOnText = Union[RuleDefinition, str, Path, Iterable[Union[RuleDefinition, str, Path]]]
"""A rule, a rule file, a folder of them or the name of a pack, or several of these."""


def check_code(rules: RulesOnText, text: str) -> CodeResult:
    """Return the findings of rules for one language in `text`; nothing is changed.

    Errors: `RuleError` for rules that cannot be used, or that are for several languages.
    """
    from yellow_trellis.plans import CodeResult  # who loads rules need not load plans

    ruleset = _ruleset(rules)
    findings, failures = ruleset.look(_tree(ruleset, text))
    return CodeResult(text, text, tuple(findings), (), tuple(failures))


def fix_code(rules: RulesOnText, text: str, *, with_review: bool = False) -> CodeResult:
    """Apply the fixes of rules for one language to `text`, round after round.

    What cannot be proved right is refused, as in a run; see `CodeResult`.
    Arguments: `with_review` also applies fixes that may change behaviour.
    Errors: see `check_code`.
    """
    from yellow_trellis.plans import CodeResult, rework

    ruleset = _ruleset(rules)
    first: list[Finding] = []
    failures: list[RuleFailure] = []

    def find(tree: Tree) -> list[Finding]:
        findings, failed = ruleset.look(tree)
        failures.extend(failed)
        if not first:
            first.extend(findings)
        return findings

    tree = _tree(ruleset, text)
    done = rework(tree, find, with_review=with_review, prefer=ruleset.preferences())
    return CodeResult.of(text, done, first, failures)


def _ruleset(rules: RulesOnText) -> Ruleset:
    ruleset = Ruleset.of(loaded(rules))
    if len(languages := {rule.language for rule in ruleset.own_rules}) > 1:
        names = " and ".join(sorted(languages))
        raise RuleError(f"a text is in one language, and the rules are for {names}")
    return ruleset


def loaded(rules: RulesOnText) -> list[RuleDefinition]:
    """Return rules as objects, those in files and packs loaded. Errors: `RuleError`."""
    result: list[RuleDefinition] = []
    for item in [rules] if isinstance(rules, (RuleDefinition, str, Path)) else rules:
        if isinstance(item, RuleDefinition):
            result.append(item)
        else:
            from yellow_trellis.rules.files.loader import load_rules  # it makes rules itself

            result += load_rules([item])
    return result


def _tree(ruleset: Ruleset, text: str) -> Tree:
    return parse_text(text, ruleset.rules[0].language if ruleset.rules else DEFAULT)
