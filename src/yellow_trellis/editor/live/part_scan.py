"""The findings of rules that look at one part of a file at a time, kept by the text of the part."""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Callable, Iterator

from yellow_trellis.editor.live.finding import LiveFinding
from yellow_trellis.editor.live.parts import TreePart
from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.finding import Finding
from yellow_trellis.findings.timing import Watch
from yellow_trellis.rules import Ruleset
from yellow_trellis.semantics.alias_map import Vocabulary
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree

Key = tuple[str, bytes]
"""The kind of what a part stands in, and its text."""

_MOST = 4
"""How many times as many parts are known as a file has, until those of earlier texts are let go."""


class PartScan:
    """The evaluation of rules of which each looks at one part at a time.

    Arguments: `split` yields the parts of a file in order, none in another.
    """

    def __init__(
        self, ruleset: Ruleset, vocabulary: Vocabulary, split: Callable[[Tree], Iterator[TreePart]]
    ) -> None:
        self._ruleset = ruleset
        self._vocabulary = vocabulary
        self._split = split
        self._known: dict[Key, tuple[LiveFinding, ...]] = {}
        """What was found in the parts of this text, and of some before."""

    def clear(self) -> None:
        """Forget what was found."""
        self._known.clear()

    def look(self, tree: Tree, watch: Watch) -> tuple[list[LiveFinding], list[RuleFailure]]:
        """Return the findings in `tree`, and the rules that failed on it."""
        data = tree.source.data
        parts = list(self._split(tree))
        keys = [(parent, data[start:end]) for start, end, parent in parts]
        fresh = [at for at, key in enumerate(keys) if key not in self._known]
        spans = [Span(parts[at].start, parts[at].end) for at in fresh]
        findings, failures = self._look_in(spans, tree, watch)
        by_start: defaultdict[int, list[LiveFinding]] = defaultdict(list)
        starts = [span.start for span in spans]
        for finding in findings:
            start = starts[bisect_right(starts, finding.span.start) - 1]
            by_start[start].append(LiveFinding.of(finding, start))
        for at in fresh:
            self._known[keys[at]] = tuple(by_start[parts[at].start])
        results = [
            finding.moved(part.start)
            for part, key in zip(parts, keys, strict=True)
            for finding in self._known[key]
        ]
        if failures:
            self._known.clear()
        elif len(self._known) > _MOST * len(keys):
            self._known = {key: self._known[key] for key in keys}
        return results, failures

    def _look_in(
        self, spans: list[Span], tree: Tree, watch: Watch
    ) -> tuple[list[Finding], list[RuleFailure]]:
        """Return what the rules find in some parts."""
        language, ruleset = tree.language.name, self._ruleset
        text = b"\n".join(tree.source.code[span.start : span.end] for span in spans)
        index = ruleset.token_index(text, language)
        candidates = ruleset.candidates(index, language, self._vocabulary)
        if not candidates:
            return [], []
        within = {rule.name: spans for _, rule in candidates}
        return ruleset.look(tree, self._vocabulary, watch, candidates, within)
