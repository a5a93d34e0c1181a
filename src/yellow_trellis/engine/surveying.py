"""What rules find in one file, and which fixes are in each other's way, at the least parsing."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from functools import partial

from yellow_trellis import plans
from yellow_trellis.facts.vocabulary import Vocabulary
from yellow_trellis.languages import Language, Parsed
from yellow_trellis.rules import Finding, Rule, RuleFailure, Ruleset, Share, Shares, Watch, shares
from yellow_trellis.rules.failure import is_contained
from yellow_trellis.rules.reach import keeps_body
from yellow_trellis.source import Sightings, Span
from yellow_trellis.syntax import Tree

_WORTH_PIECES = 1024
"""Bytes above which it may pay to parse a file in part."""

_MOST_TURNS = 3
"""How often it is looked at for rules that want more of it, until all of it is parsed."""

Ranked = Sequence[tuple[int, Rule]]
"""Rules, each with its place in the ruleset."""


class Survey:
    """A survey of one file.

    Arguments:
        plant: makes the tree of the file, of all of it or of as much as it is told.
        concerned: the rules that may find something.
        sift: returns those of the findings that count.
    """

    def __init__(
        self,
        plant: Callable[[Parsed | None], Tree],
        ruleset: Ruleset,
        concerned: Ranked,
        vocabulary: Vocabulary,
        watch: Watch,
        sift: Callable[[list[Finding]], list[Finding]] = list,
    ) -> None:
        self._plant = plant
        self._ruleset = ruleset
        self._concerned = list(concerned)
        self._vocabulary = vocabulary
        self._watch = watch
        self._sift = sift
        self._shares: Shares | None = None
        self._share_out: Callable[[], Shares | None] = lambda: None
        self._trees: list[Tree] = []
        self.findings: list[Finding] = []
        """By place."""
        self.failures: list[RuleFailure] = []

    def narrow(self, file: Sightings, language: Language, *, with_holes: bool) -> bool:
        """Find out how little of the file is to be parsed; tell whether that is anything at all."""
        if len(file.data) > _WORTH_PIECES:
            self._share_out = partial(
                shares, self._concerned, file, language, with_holes=with_holes
            )
            self._shares = self._share_out()
        return self._shares is None or bool(self._shares.found)

    def parse(self) -> None:
        """Parse it; all of the file where a part has syntax errors."""
        if self._shares is not None:
            self._trees = [self._plant(share.only) for share in self._shares.found]
            if not any(tree.errors for tree in self._trees):
                return
        self._parse_all()

    def _parse_all(self) -> None:
        for tree in self._trees:
            tree.release()
        self._shares = None
        self._trees = [self._plant(None)]

    def look(self) -> None:
        """Look at what is parsed with all rules, and at more of the file if a rule wants more."""
        turns = 0
        while not self._look_once():
            self.release()
            turns += 1
            # the rule is known now for one that looks beyond
            self._shares = self._share_out() if turns < _MOST_TURNS else None
            self.parse()

    def _look_once(self) -> bool:
        """Look at what is parsed; tell whether that was enough."""
        shared = self._shares.found if self._shares is not None else [None]
        self.findings, self.failures = [], []
        for tree, share in zip(self._trees, shared, strict=True):
            self._look_at(tree, share)
            if tree.went_beyond:
                return False
        found = sorted(self.findings, key=lambda f: (f.span.start, -f.span.end, f.rank))
        self.findings = self._sift(found)
        return True

    def _look_at(self, tree: Tree, share: Share | None) -> None:
        rules, places = (self._concerned, None) if share is None else (share.rules, share.places)
        found, failed = self._ruleset.look(
            tree, self._vocabulary, self._watch, rules, places=places
        )
        self.findings += found
        self.failures += failed

    @property
    def tree(self) -> Tree:
        """The tree of all of the file."""
        if self._shares is not None:
            self._parse_all()
        return self._trees[0]

    def conflicts(self) -> list[plans.Conflict]:
        """Return how fixes are in each other's way.

        It is enough to see the code around fixes that meet, as long as making them does not take
        more.
        """
        if not self.findings:
            return []
        found = _contested(self.findings, self._trees[0], self._keeping)
        if not found:
            return []
        if self._shares is None:
            return self._planned(found, self._trees[0])
        trees = [one.match.tree for one in found if one.match is not None]
        if len(trees) == len(found) and all(tree is trees[0] for tree in trees):
            with trees[0].watched():
                planned = self._planned(found, trees[0])
            if not trees[0].went_beyond:
                return planned
        ranks = {one.rank for one in found}
        named = [(rank, rule) for rank, rule in self._concerned if rank in ranks]
        part = self._plant(
            self._shares.around((one.extent for one in found), (rule for _, rule in named))
        )
        if not part.errors:
            seen = self._ruleset.look(part, self._vocabulary, None, named)[0]
            wanted = {(one.rank, one.span) for one in found}
            there = [one for one in seen if (one.rank, one.span) in wanted]
            with part.watched():
                planned = self._planned(there, part)
            if not part.went_beyond and len(there) == len(found):
                part.release()
                return planned
        part.release()
        self._parse_all()
        self.look()
        return self._planned(
            _contested(self.findings, self._trees[0], self._keeping), self._trees[0]
        )

    @property
    def _keeping(self) -> frozenset[int]:
        return frozenset(rank for rank, rule in self._concerned if keeps_body(rule))

    def _planned(self, findings: list[Finding], tree: Tree) -> list[plans.Conflict]:
        prefer = self._ruleset.preferences()

        def plan(some: list[Finding]) -> plans.Plan:
            return plans.make_plan(tree, some, with_review=True, prefer=prefer)

        made, failed = plans.contained(tree, findings, plan)
        self.failures += failed
        return made.conflicts

    def release(self) -> None:
        """Let go of the trees; the findings are of no use after that but for their places."""
        for tree in self._trees:
            tree.release()


def _contested(findings: list[Finding], tree: Tree, keeping: frozenset[int]) -> list[Finding]:
    """Return the findings whose fixes may be in anybody's way, or refused: only those are made.

    Alone, a fix can do no worse than lose a comment.
    Arguments: `keeping` are the ranks of rules whose fixes leave the body of what they find alone.
    """
    mark = tree.language.comment_mark
    data = tree.source.data
    found: dict[int, Finding] = {}
    noted: list[Finding] = []
    last: Finding | None = None
    end = -1
    placed = sorted(
        (
            (span, at, f)
            for at, f in enumerate(findings)
            if f.fixes
            for span in (_around_body(f) if f.rank in keeping else (f.extent,))
        ),
        key=lambda one: one[:2],
    )
    for span, _, finding in placed:
        if last is not None and last is not finding and span.start <= end:
            found[id(last)] = last
            found[id(finding)] = finding
        elif any(one.start <= span.end and span.start <= one.end for one in tree.broken):
            found[id(finding)] = finding
        elif mark.search(data, span.start, span.end):
            noted.append(finding)
        if span.end >= end:
            last, end = finding, span.end
    for finding in noted:
        if id(finding) not in found and _may_lose_comment(finding, data, mark):
            found[id(finding)] = finding
    return list(found.values())


def _around_body(finding: Finding) -> tuple[Span, ...]:
    """Return what a fix may write that leaves the body of the statement found as it is.

    That is the header, to the end of its line, and the very end.
    """
    assert finding.match is not None
    node, tree = finding.match.node, finding.match.tree
    data, language = tree.source.data, tree.language
    assert node.raw is not None
    header = [child for child in node.raw.children if child.type not in language.bodies]
    end = data.find(b"\n", header[-1].end_byte)
    if end < 0 or end >= node.end:
        return (finding.extent,)
    return Span(node.start, end), Span(node.end, node.end)


def _may_lose_comment(finding: Finding, data: bytes, mark: re.Pattern[bytes]) -> bool:
    """Return whether the fix of a finding replaces anything that looks like a comment."""
    tree = finding.match.tree if finding.match is not None else None
    try:
        if tree is None or tree.only is None:
            fix = finding.choice(with_review=True)
        else:
            with tree.watched():
                fix = finding.choice(with_review=True)
    except BaseException as wrong:  # it is told where the fix is planned
        if not is_contained(wrong):
            raise
        return True
    if tree is not None and tree.only is not None:
        if tree.went_beyond:
            tree.went_beyond = False
            return True
    return fix is None or any(mark.search(data, *edit.span) for edit in fix.edits)
