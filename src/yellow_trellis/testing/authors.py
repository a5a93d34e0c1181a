"""Helpers for the tests of a rule's author: what it finds, what it makes of some code."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable

from yellow_trellis.authoring.example_runner import Verdict, code_of, differences, verdict_on
from yellow_trellis.findings.finding import Finding
from yellow_trellis.plans import Conflict, Rework, rework
from yellow_trellis.rules import Example, Rule, RuleError, Ruleset
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

Rules = Rule | Iterable[Rule]
"""A rule, or several in their order."""


def find(rules: Rules, code: str, *, given: str = "") -> list[Finding]:
    """Return what rules find in some code, in source order.

    Arguments: `code` may be indented as a whole; `given` is code that stands before it.
    Errors: `RuleError`, when a rule fails on the code, or the code does not parse.
    """
    _, tree = _parsed(rules, code, given)
    return _findings(_ruleset(rules), tree)


def fix(rules: Rules, code: str, *, given: str = "") -> str:
    """Return what becomes of some code when rules are applied until nothing is left.

    Arguments: as for `find`. Fixes that ask for review are taken too.
    Returns: the code without what was given, as far as that is still there as it was.
    Errors: as for `find`.
    """
    head, tree = _parsed(rules, code, given)
    result = _reworked(_ruleset(rules), tree).tree.source.data.decode("utf-8")
    return result[len(head) :] if result.startswith(head) else result


def becomes(rule: Rule, code: str, target: str, *, given: str = "") -> None:
    """Hold that a rule makes `target` of some code, and breaks none of the laws of fixes.

    Errors: `AssertionError`, with the lines that differ.
    """
    _hold(verdict_on(rule, Example(_plain(code), becomes=_plain(target), given=_plain(given))))


def stays(rule: Rule, code: str, *, given: str = "") -> None:
    """Hold that a rule finds nothing in some code. Errors: `AssertionError`."""
    _hold(verdict_on(rule, Example(_plain(code), stays=True, given=_plain(given))))


def clashes_with(rule: Rule, second: Rule, code: str, *, given: str = "") -> list[Conflict]:
    """Return the conflicts between the fixes of two rules in some code, the first going first.

    Arguments and errors: as for `find`.
    """
    _, tree = _parsed((rule, second), code, given)
    return [
        conflict
        for conflict in _reworked(_ruleset((rule, second)), tree).conflicts
        if conflict.other is not None and conflict.party.rule != conflict.other.rule
    ]


def report(verdict: Verdict) -> str:
    """Return in lines why an example failed: the reason, and what differs."""
    lines = [f"{verdict.rule}: {verdict.reason}"]
    if verdict.wanted:
        lines += [f"{sign:<6} {line}".rstrip() for sign, line in differences(verdict)]
    else:
        lines += [f"       {line}" for line in verdict.example.code.strip("\n").splitlines()]
    return "\n".join(lines)


def _hold(verdict: Verdict) -> None:
    if not verdict.passed:
        raise AssertionError(report(verdict))


def _plain(code: str) -> str:
    return textwrap.dedent(code).strip("\n")


def _ruleset(rules: Rules) -> Ruleset:
    return Ruleset.of([rules] if isinstance(rules, Rule) else rules)


def _parsed(rules: Rules, code: str, given: str) -> tuple[str, Tree]:
    """Return what stands before the code, and the tree of all of it."""
    head, text = code_of(Example(_plain(code), given=_plain(given)))
    language = next(iter(_ruleset(rules))).compiled.language
    tree = Tree(Source(text.encode("utf-8")), language)
    if tree.errors:
        raise RuleError(f"the code does not parse as {language.name}:\n{text}")
    return head, tree


def _findings(ruleset: Ruleset, tree: Tree) -> list[Finding]:
    findings, failures = ruleset.look(tree)
    if failures:
        raise RuleError(f"the rule {failures[0].rule!r} raised {failures[0].reason}")
    return findings


def _reworked(ruleset: Ruleset, tree: Tree) -> Rework:
    return rework(
        tree,
        lambda now: _findings(ruleset, now),
        with_review=True,
        prefer=ruleset.preferences(),
    )
