"""The findings of an open file, from edit to edit: what is the same is not evaluated again.

A rule that looks at nothing beyond a statement at the top of a file finds in an equal statement
what it found there, and most look at nothing beyond a member of a class. The other rules are
evaluated on all of the file each time.
"""

from __future__ import annotations

from yellow_trellis.editor.live.finding import LiveFinding
from yellow_trellis.editor.live.part_scan import PartScan
from yellow_trellis.editor.live.parts import fits_in_members, members_of, statements_of
from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.timing import Watch
from yellow_trellis.languages import Language
from yellow_trellis.rules import Ruleset
from yellow_trellis.rules.suppressions import MARK
from yellow_trellis.scan import local_rules
from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.syntax import Tree


class LiveScan:
    """The evaluation of the rules of one open file."""

    def __init__(
        self, ruleset: Ruleset, language: Language, vocabulary: Vocabulary = SPELLED
    ) -> None:
        self._all = ruleset
        self._vocabulary = vocabulary
        self._ranks = {rule.name: rank for rank, rule in enumerate(ruleset.own_rules)}
        local = local_rules(ruleset, language)
        small = {name for name in local if fits_in_members(ruleset[name], language)}
        self._by_part = [
            PartScan(ruleset.only(names), vocabulary, split)
            for names, split in ((small, members_of), (local - small, statements_of))
            if names
        ]
        self._others = ruleset.only(self._ranks.keys() - local)

    def look(self, tree: Tree, watch: Watch) -> tuple[list[LiveFinding], list[RuleFailure]]:
        """Return the findings in `tree` by place, and the rules that failed on it."""
        if tree.token_index.holds(MARK) or watch.over:  # a comment may speak for any code
            for scan in self._by_part:
                scan.clear()
            findings, failures = self._all.look(tree, self._vocabulary, watch)
            results = [LiveFinding.of(finding) for finding in findings if not finding.left]
        else:
            findings, failures = self._others.look(tree, self._vocabulary, watch)
            results = list(map(LiveFinding.of, findings))
            for scan in self._by_part:
                part, failed = scan.look(tree, watch)
                results += part
                failures += failed
        results.sort(key=self._order)
        return results, failures

    def _order(self, one: LiveFinding) -> tuple[int, int, int]:
        rank = self._ranks.get(one.rule, len(self._ranks))
        return one.span.start, -one.span.end, rank
