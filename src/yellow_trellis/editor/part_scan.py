"""The findings of rules that look at one part of a file at a time, kept by the text of the part."""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Callable, Iterator

from yellow_trellis.editor.live_finding import LiveFinding
from yellow_trellis.editor.parts import Part
from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.finding import Finding
from yellow_trellis.findings.timing import Watch
from yellow_trellis.rules import Ruleset
from yellow_trellis.semantics.alias_map import Vocabulary
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

Key = tuple[str, bytes]
"""The kind of what a part stands in, and its text."""


class PartScan:
    """The evaluation of rules of which each looks at one part at a time.

    Arguments: `split` yields the parts of a file in order, none in another.
    """

    def __init__(
        self, ruleset: Ruleset, vocabulary: Vocabulary, split: Callable[[Tree], Iterator[Part]]
    ) -> None:
        self._ruleset = ruleset
        self._vocabulary = vocabulary
        self._split = split
        self._known: dict[Key, tuple[LiveFinding, ...]] = {}
        """What was found in the parts of the text before."""

    def clear(self) -> None:
        """Forget what was found."""
        self._known.clear()

    def look(self, tree: Tree, watch: Watch) -> tuple[list[LiveFinding], list[RuleFailure]]:
        """Return the findings in `tree`, and the rules that failed on it."""
        data = tree.source.data
        parts = list(self._split(tree))
        keys = [(part.parent, data[part.span.start : part.span.end]) for part in parts]
        fresh = [at for at, key in enumerate(keys) if key not in self._known]
        found, failures = self._look_in([parts[at].span for at in fresh], tree, watch)
        starts = [part.span.start for part in parts]
        by_part: defaultdict[int, list[LiveFinding]] = defaultdict(list)
        for finding in found:
            at = bisect_right(starts, finding.span.start) - 1
            by_part[at].append(LiveFinding.of(finding, starts[at]))
        known = {key: self._known.get(key, ()) for key in keys}
        known |= {keys[at]: tuple(by_part[at]) for at in fresh}
        self._known = {} if failures else known
        results = [
            finding.moved(start)
            for start, key in zip(starts, keys, strict=True)
            for finding in known[key]
        ]
        return results, failures

    def _look_in(
        self, spans: list[Span], tree: Tree, watch: Watch
    ) -> tuple[list[Finding], list[RuleFailure]]:
        """Return what the rules find in some parts."""
        language, ruleset = tree.language.name, self._ruleset
        text = b"\n".join(tree.source.data[span.start : span.end] for span in spans)
        index = ruleset.token_index(text, language)
        candidates = ruleset.candidates(index, language, self._vocabulary)
        if not candidates:
            return [], []
        within = {rule.name: spans for _, rule in candidates}
        return ruleset.look(tree, self._vocabulary, watch, candidates, within)
