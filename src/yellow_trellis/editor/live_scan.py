"""The findings of an open file, from edit to edit: what is the same is not evaluated again.

A rule that looks at nothing beyond a statement at the top of a file finds in an equal statement
what it found there. The other rules are evaluated on all of the file each time.
"""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from typing import NamedTuple

from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.finding import Finding, Level
from yellow_trellis.findings.timing import Watch
from yellow_trellis.fixes import Safety
from yellow_trellis.languages import Language
from yellow_trellis.plans.incremental import units
from yellow_trellis.rules import Ruleset
from yellow_trellis.rules.suppressions import MARK
from yellow_trellis.scan import local_rules
from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


class LiveFinding(NamedTuple):
    """A finding without its fixes: they are made when they are asked for. Places are in bytes."""

    rule: str
    level: Level
    span: Span
    message: str
    fixes: tuple[tuple[str, Safety], ...]
    """Titles and safety of the fixes that are offered."""
    rank: int

    def moved(self, start: int) -> LiveFinding:
        """Return the same with places that count from the start of the file."""
        return self._replace(span=Span(self.span.start + start, self.span.end + start))


class LiveScan:
    """The evaluation of the rules of one open file."""

    def __init__(
        self, ruleset: Ruleset, language: Language, vocabulary: Vocabulary = SPELLED
    ) -> None:
        self._all = ruleset
        self._language = language.name
        self._vocabulary = vocabulary
        names = [rule.name for rule in ruleset.own_rules]
        self._ranks = {name: rank for rank, name in enumerate(names)}
        local = local_rules(ruleset, language)
        self._local = ruleset.only(name for name in names if name in local)
        self._others = ruleset.only(name for name in names if name not in local)
        self._known: dict[bytes, tuple[LiveFinding, ...]] = {}
        """By text of a statement of the text before: what local rules find in it."""

    def look(self, tree: Tree, watch: Watch) -> tuple[list[LiveFinding], list[RuleFailure]]:
        """Return the findings in `tree` by place, and the rules that failed on it."""
        if tree.token_index.holds(MARK) or watch.over:  # a comment may speak for any code
            self._known.clear()
            found, failures = self._all.look(tree, self._vocabulary, watch)
            results = [self._live(finding) for finding in found if not finding.left]
        else:
            results, failures = self._of_statements(tree, watch)
            found, failed = self._others.look(tree, self._vocabulary, watch)
            results += map(self._live, found)
            failures += failed
        results.sort(key=lambda one: (one.span.start, -one.span.end, one.rank))
        return results, failures

    def _live(self, finding: Finding, start: int = 0) -> LiveFinding:
        """Return what is told of a finding, with places that count from `start`."""
        span = Span(finding.span.start - start, finding.span.end - start)
        fixes = tuple((fix.title, fix.safety) for fix in finding.fixes)
        rank = self._ranks.get(finding.rule, len(self._ranks))
        return LiveFinding(finding.rule, finding.level, span, finding.message, fixes, rank)

    def _of_statements(
        self, tree: Tree, watch: Watch
    ) -> tuple[list[LiveFinding], list[RuleFailure]]:
        """Return what the local rules find, from what they found in the text before."""
        data = tree.source.data
        statements = list(units(tree))
        texts = [data[span.start : span.end] for span in statements]
        fresh = [at for at, text in enumerate(texts) if text not in self._known]
        found, failures = self._in_statements(tree, watch, [statements[at] for at in fresh])
        starts = [span.start for span in statements]
        by_statement: defaultdict[int, list[LiveFinding]] = defaultdict(list)
        for finding in found:
            at = bisect_right(starts, finding.span.start) - 1
            by_statement[at].append(self._live(finding, starts[at]))
        known = {text: self._known.get(text, ()) for text in texts}
        known |= {texts[at]: tuple(by_statement[at]) for at in fresh}
        self._known = {} if failures else known
        results = [
            finding.moved(start)
            for start, text in zip(starts, texts, strict=True)
            for finding in known[text]
        ]
        return results, failures

    def _in_statements(
        self, tree: Tree, watch: Watch, spans: list[Span]
    ) -> tuple[list[Finding], list[RuleFailure]]:
        """Return what the local rules find in some statements at the top of a file."""
        text = b"\n".join(tree.source.data[span.start : span.end] for span in spans)
        index = self._local.token_index(text, self._language)
        candidates = self._local.candidates(index, self._language, self._vocabulary)
        if not candidates:
            return [], []
        within = {rule.name: spans for _, rule in candidates}
        return self._local.look(tree, self._vocabulary, watch, candidates, within)
