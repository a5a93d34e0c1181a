"""Running the examples of a rule: what becomes of each, held against what it says."""

from __future__ import annotations

import difflib
from typing import NamedTuple

from yellow_trellis.authoring.fix_invariants import broken_law
from yellow_trellis.patterns import seek
from yellow_trellis.patterns.open_heads import fits_open
from yellow_trellis.patterns.readings import other_readings, read_as
from yellow_trellis.plans import rework
from yellow_trellis.rules import Example, RuleDefinition, Ruleset
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree


class Verdict(NamedTuple):
    """The outcome of one example; `reason` is empty when it passed."""

    rule: str
    example: Example
    number: int
    """From 1."""
    reason: str = ""
    """What it does not do as it says, or the law that it breaks."""
    wanted: str = ""
    got: str = ""

    @property
    def passed(self) -> bool:
        """Return whether the example passed."""
        return not self.reason


def differences(verdict: Verdict) -> list[tuple[str, str]]:
    """Return the lines of what was wanted and what came, each with ``wanted``, ``got`` or neither.

    Lines that are the same in both come once.
    """
    target, got = verdict.wanted.splitlines(), verdict.got.splitlines()
    messages = {"-": "wanted", "+": "got", " ": ""}
    compared = difflib.ndiff(target, got)
    return [(messages[line[0]], line[2:]) for line in compared if line[0] in messages]


def prove_rule(rule: RuleDefinition) -> list[Verdict]:
    """Run the examples of `rule`, each alone in a file."""
    return [verdict_on(rule, example, n) for n, example in enumerate(rule.examples, 1)]


def code_of(example: Example) -> tuple[str, str]:
    """Return what stands before the code of an example, and all of it together."""
    argument = example.given.strip("\n")
    head = argument + "\n" if argument else ""
    return head, head + example.code.strip("\n") + "\n"


def verdict_on(rule: RuleDefinition, example: Example, number: int = 1) -> Verdict:
    """Run one example of `rule`, alone in a file; `number` is reported with its verdict."""
    rule = rule.for_example(example)
    head, before = code_of(example)
    tree = Tree(Source(before.encode("utf-8")), rule.compiled.language)

    def verdict(reason: str = "", target: str = "", got: str = "") -> Verdict:
        return Verdict(rule.name, example, number, reason, target, got)

    if tree.broken:
        return verdict("its code does not parse")
    ruleset = Ruleset((rule,))
    findings, failures = ruleset.look(tree)
    if failures:
        return verdict(f"the rule raised {failures[0].reason}")
    if example.stays:
        return (
            verdict("the rule finds something in code that it should leave alone")
            if findings
            else verdict()
        )
    if not findings:
        return verdict(f"the rule finds nothing{_other_reading(rule, tree)}")
    if example.becomes is None:
        return verdict()
    done = rework(tree, lambda now: ruleset.look(now)[0], with_review=True)
    got = done.tree.source.data.decode("utf-8")
    target = head + example.becomes.strip("\n") + "\n"
    if got == target or _same_but_imports(got, head, example.becomes.strip("\n") + "\n", rule):
        broken = broken_law(rule, before, got)
        return verdict(f"a law is broken: {broken}" if broken else "")
    refused = [o.reason for _, o in done.outcomes if o.state == "refused"]
    reason = "the code becomes something else"
    if got == before:
        reason = "the code stays as it is" + (f": {refused[0]}" if refused else "")
    return verdict(reason, target[len(head) :], got[len(head) :] if got.startswith(head) else got)


def _other_reading(rule: RuleDefinition, tree: Tree) -> str:
    """Return as what else the pattern of a rule would find something, and how it was read."""
    pattern = rule.compiled.pattern
    if pattern is None:
        return ""
    if opened := fits_open(pattern, lambda other: next(seek(other, tree), None)):
        return f": where more may stand it matches: {opened}"
    if rule.part is not None:
        return ""
    for part, reading in other_readings(pattern).items():
        if next(seek(reading, tree), None) is not None:
            return f': its pattern is read as {read_as(pattern)}; with `part = "{part}"` it matches'
    return ""


def _same_but_imports(got: str, imports: str, target: str, rule: RuleDefinition) -> bool:
    """Return whether `got` is `target` behind what was given, its imports aside.

    Imports follow what a fix puts: an example is about the code, and need not say them.
    """
    if not got.endswith(target) or not imports:
        return False
    head = got[: len(got) - len(target)]
    return (not head or head.endswith("\n")) and _plain(head, rule) == _plain(imports, rule)


def _plain(code: str, rule: RuleDefinition) -> list[str]:
    """Return the statements of some code that are no imports."""
    items = Tree(Source(code.encode("utf-8")), rule.compiled.language).root.items
    return [item.text for item in items if item.kind not in rule.compiled.language.imports]
