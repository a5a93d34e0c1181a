"""Choosing fixes one by one: questions to a person or a program, and what was answered."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal, NamedTuple

from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes import Fix
from yellow_trellis.plans import make_plan
from yellow_trellis.source import Place
from yellow_trellis.syntax import Tree


class Choice(NamedTuple):
    """One fix that can be taken: what it does, and the lines before and after."""

    title: str
    safety: str
    before: tuple[str, ...]
    after: tuple[str, ...]


class Question(NamedTuple):
    """A finding with fixes, as it is asked about."""

    path: str
    rule: str
    message: str
    place: Place
    choices: tuple[Choice, ...]
    around: tuple[str, ...]
    """The lines around the finding, the finding's own among them."""


class Answer(NamedTuple):
    """An answer: ``take`` a choice, ``skip``, take it for the whole ``rule``, or ``quit``.

    `number` is that of the choice, from 0.
    """

    what: Literal["take", "skip", "rule", "quit"]
    number: int = 0


Ask = Callable[[Question], Answer]

_AROUND = 4


class Asking:
    """Asks about each finding once, and remembers the answers through all rounds and files."""

    def __init__(self, ask: Ask) -> None:
        self._ask = ask
        self._rules: dict[str, int] = {}
        self._over = False
        self._known: dict[tuple[str, str, str], int | None] = {}
        self._tree: Tree | None = None
        self._first = True

    def choose(self, finding: Finding, tree: Tree) -> Fix | None:
        """Return the fix that is to be applied, asking if that is not known yet."""
        if tree is not self._tree:
            self._first = self._tree is None or self._tree.source.path != tree.source.path
            self._tree = tree
        number = self._number(finding, tree)
        if number is None or number >= len(finding.fixes):
            return None
        offered = finding.fixes[number]
        return offered if isinstance(offered, Fix) else offered.fix

    def _number(self, finding: Finding, tree: Tree) -> int | None:
        key = (tree.source.path, finding.rule, tree.source.text(finding.span))
        if not self._first and key in self._known:
            return self._known[key]  # it waited, or was skipped, in an earlier round
        if finding.rule in self._rules:
            return self._rules[finding.rule]
        if self._over:
            return None
        answer = self._ask(question(finding, tree))
        if answer.what == "rule":
            self._rules[finding.rule] = answer.number
        self._over = answer.what == "quit"
        self._known[key] = answer.number if answer.what in ("take", "rule") else None
        return self._known[key]


def question(finding: Finding, tree: Tree) -> Question:
    """Return what to ask about a finding, with what each fix would make of its lines."""
    source = tree.source
    first = source.lines.number(finding.span.start)
    last = source.lines.number(max(finding.span.end - 1, finding.span.start))
    lines = source.data.decode("utf-8", "replace").splitlines()
    around = tuple(lines[max(first - 1 - _AROUND, 0) : last + _AROUND])
    choices = []
    for offered in finding.fixes:
        fix = offered if isinstance(offered, Fix) else offered.fix
        after = make_plan(tree, [finding._replace(fixes=(fix,))], with_review=True).render()
        before, then = _changed(lines, after.data.decode("utf-8", "replace").splitlines())
        choices.append(Choice(offered.title, offered.safety, before, then))
    place = source.place(finding.span.start)
    return Question(source.path, finding.rule, finding.message, place, tuple(choices), around)


def _changed(old: list[str], new: list[str]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the lines that differ, those at both ends that do not aside."""
    head = 0
    while head < min(len(old), len(new)) and old[head] == new[head]:
        head += 1
    tail = 0
    while tail < min(len(old), len(new)) - head and old[-1 - tail] == new[-1 - tail]:
        tail += 1
    return tuple(old[head : len(old) - tail]), tuple(new[head : len(new) - tail])
