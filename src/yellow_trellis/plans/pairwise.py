"""Pairwise trials: rules applied one after the other, in both orders, to one file."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from itertools import combinations

from yellow_trellis.findings.finding import Finding
from yellow_trellis.plans.containment import contained
from yellow_trellis.plans.plan import Plan, make_plan
from yellow_trellis.plans.proof.validation import Proven, prove
from yellow_trellis.plans.trial import Trial, TrialKind
from yellow_trellis.syntax import Tree

MOST_RULES = 16
"""Of a file that more rules have fixes for, only so many are tried with each other."""

LookWith = Callable[[Tree, "str | None"], list[Finding]]
"""Returns the findings of one rule in a tree, or of all rules."""


def trials(tree: Tree, look: LookWith) -> list[Trial]:
    """Apply the rules that have fixes in `tree` alone, then in pairs, and tell what shows.

    Each rule is applied for one round. Nothing here depends on the order of findings.
    """
    return list(_Trials(tree, look).run())


class _Trials:
    def __init__(self, tree: Tree, look: LookWith) -> None:
        self.tree = tree
        self.look = look
        self.findings = [f for f in look(tree, None) if f.fixes]
        ranks = {f.rule: f.rank for f in self.findings}
        self.rules = sorted(ranks, key=ranks.__getitem__)[:MOST_RULES]
        self.first = {rule: self._first(rule) for rule in self.rules}

    def _first(self, rule: str) -> Finding:
        return next(f for f in self.findings if f.rule == rule)

    def run(self) -> Iterator[Trial]:
        once = {rule: self._applied(self.tree, rule) for rule in self.rules}
        before = Counter(f.rule for f in self.findings)
        for rule, (after, deferred) in once.items():
            if after is self.tree:
                continue
            counter = Counter(f.rule for f in self.look(after, None) if f.fixes)
            if counter[rule] and not deferred:
                yield self._trial("unfinished", rule, rule)
            for second in sorted(o for o in counter if o != rule and counter[o] > before[o]):
                brought = self._applied(after, second)[0]
                undone = brought.source.data == self.tree.source.data
                yield self._trial("undoes" if undone else "feeds", rule, second)
        for item, second in combinations(self.rules, 2):
            there = self._applied(once[item][0], second)[0]
            back = self._applied(once[second][0], item)[0]
            if _but_imports(there) != _but_imports(back):
                yield self._trial("order matters", item, second)

    def _applied(self, tree: Tree, rule: str) -> tuple[Tree, bool]:
        """Return the tree after one round of a rule, and whether a fix of it had to wait."""
        findings = self.look(tree, rule)
        if not any(f.fixes for f in findings):
            return tree, False

        def planned(some: list[Finding]) -> tuple[Plan, Proven]:
            plan = make_plan(tree, some, with_review=True)
            return plan, prove(plan)

        (plan, proven), _ = contained(tree, findings, planned)
        same = proven.tree.source.data == tree.source.data
        waits = any(o.state == "deferred" for o in plan.outcomes)
        return (tree if same else proven.tree), waits

    def _trial(self, kind: TrialKind, first: str, second: str) -> Trial:
        entry = self.first[first]
        source = self.tree.source
        code = source.text(entry.span).splitlines() or [""]
        return Trial(kind, first, second, source.place(entry.span.start), code[0])


def _but_imports(tree: Tree) -> bytes:
    """Return the text without its imports, whose order says nothing about the rules."""
    data = tree.source.data
    out, at = [], 0
    for statement in tree.of_kinds(tree.language.imports) if tree.language.imports else ():
        out.append(data[at : statement.start])
        at = statement.end
    return b"".join([*out, data[at:]])
