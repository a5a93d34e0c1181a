"""The rules that the words of a file lead to, so that the others are not tried one by one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from operator import itemgetter

from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.suppressions import UNNEEDED
from yellow_trellis.source import MultiPatternMatcher, TokenIndex

_MANY = 15
"""Words from which on one pass for all of them is cheaper than one for each."""

Ranked = tuple[int, RuleDefinition]
"""A rule with its place in the ruleset."""


class RuleIndex:
    """The rules for one language, by the words that lead to what they find.

    Arguments: `rules` are those rules, each with its rank, in order.
    """

    def __init__(self, rules: Iterable[Ranked]) -> None:
        self._rules = list(rules)
        compiled = [rule.compiled for _, rule in self._rules]
        chains = [chain for rule in compiled for chain in (*rule.chains, *rule.required_chains)]
        many = len({start for chain in chains for start in chain.starts}) >= _MANY
        self.matcher = MultiPatternMatcher(chains) if many else None
        """Finds those words, if there are enough of them."""
        queries = (rule.compiled.query for _, rule in self._rules if rule.name != UNNEEDED)
        self.queries = tuple(dict.fromkeys(query for query in queries if query is not None))
        """What these rules ask of the parser's query engine, all at once."""
        self._always: list[Ranked] = []
        self._by_start: dict[int, list[Ranked]] = defaultdict(list)
        for ranked in self._rules:
            starts = self._starts_of(ranked[1])
            for start in starts:
                self._by_start[start].append(ranked)
            if not starts:
                self._always.append(ranked)

    def _starts_of(self, rule: RuleDefinition) -> set[int]:
        """Return the numbers of the words one of which any finding needs; none if unknown."""
        if self.matcher is None or not all(chain.starts for chain in rule.compiled.chains):
            return set()
        numbers = self.matcher.numbers
        return {numbers[start] for chain in rule.compiled.chains for start in chain.starts}

    def candidates(self, index: TokenIndex) -> list[Ranked]:
        """Return the rules, in order, that the words of a file do not rule out."""
        started = index.started(self.matcher) if self.matcher is not None else None
        if started is None:
            return self._rules
        candidates = dict(self._always)
        for start in started:
            candidates.update(self._by_start[start])
        return sorted(candidates.items(), key=itemgetter(0))
