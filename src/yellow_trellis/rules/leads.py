"""Which rules the words of a file lead to, so that the others are not asked about it one by one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from yellow_trellis.rules.definition import Rule
from yellow_trellis.source import Lookout, Sightings

_MANY = 15
"""Words to look for from which on one pass for all is cheaper than one for each."""

Ranked = tuple[int, Rule]
"""A rule with its place in the ruleset."""


class Leads:
    """The rules for one language, by the words that lead to what they find.

    Arguments: `rules` are those rules, each with its rank, in order.
    """

    def __init__(self, rules: Iterable[Ranked]) -> None:
        self._rules = list(rules)
        chains = [c for _, one in self._rules for c in (*one.chains, *one.held_chains)]
        many = len({start for chain in chains for start in chain.starts}) >= _MANY
        self.lookout = Lookout(chains) if many else None
        """Finds those words, if there are enough of them."""
        self._anyway: list[Ranked] = []
        self._by_start: dict[int, list[Ranked]] = defaultdict(list)
        for ranked in self._rules:
            starts = self._starts_of(ranked[1])
            for start in starts:
                self._by_start[start].append(ranked)
            if not starts:
                self._anyway.append(ranked)

    def _starts_of(self, rule: Rule) -> set[int]:
        """Return the numbers of the words one of which any finding needs; none if not known."""
        if self.lookout is None or not all(chain.starts for chain in rule.chains):
            return set()
        numbers = self.lookout.numbers
        return {numbers[start] for chain in rule.chains for start in chain.starts}

    def led_in(self, file: Sightings) -> list[Ranked]:
        """Return the rules, in order, that the words of `file` do not rule out."""
        started = file.started(self.lookout) if self.lookout is not None else None
        if started is None:
            return self._rules
        found = dict(self._anyway)
        for start in started:
            found.update(self._by_start[start])
        return sorted(found.items(), key=_rank_of)


def _rank_of(ranked: Ranked) -> int:
    return ranked[0]
