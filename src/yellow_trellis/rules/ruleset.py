"""Rules in an order that matters: the earlier one wins where two want the same bytes."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property

from msgspec import Struct
from msgspec.structs import replace

from yellow_trellis import languages
from yellow_trellis.findings.failure import RuleFailure, is_contained, reason_of
from yellow_trellis.findings.finding import Finding
from yellow_trellis.findings.timing import OutOfTime, TreeChangedError, Watch
from yellow_trellis.rules.definition import RuleDefinition
from yellow_trellis.rules.example import RuleError
from yellow_trellis.rules.rule_index import RuleIndex
from yellow_trellis.rules.suppressions import MARK, UNNEEDED, leaves, left_alone
from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.source import Span, TokenIndex
from yellow_trellis.syntax import Tree, queries


class Ruleset(Struct, frozen=True, dict=True):
    """Rules in their order, names unique."""

    rules: tuple[RuleDefinition, ...]
    known: frozenset[str] = frozenset()
    """The names of all rules there are, also of those that are off, or not asked for."""
    reasons: bool = False
    """Whether a comment that leaves something alone counts only with a reason."""
    leaving: str | None = None
    """If every finding is to get a comment that leaves it alone: the reason to write, or none."""

    @classmethod
    def of(cls, rules: Iterable[RuleDefinition]) -> Ruleset:
        """Make a ruleset; a rule whose level is `off` is left out.

        Errors: `RuleError` when two rules share a name, one cannot be used, or rules win over each
        other in a ring.
        """
        by_name: dict[str, RuleDefinition] = {}
        for rule in rules:
            if (first := by_name.get(rule.name)) is not None:
                raise RuleError(
                    f"{rule.place}: the rule {rule.name!r} has the name of another at "
                    f"{first.place}; rename one of them"
                )
            rule.prepare()
            by_name[rule.name] = rule
        _refuse_ring(by_name)
        return cls(tuple(r for r in by_name.values() if r.level != "off"), frozenset(by_name))

    def __len__(self) -> int:
        return len(self.rules)

    def __iter__(self) -> Iterator[RuleDefinition]:
        return iter(self.rules)

    def __getitem__(self, name: str) -> RuleDefinition:
        """Return the rule called `name`. Errors: `RuleError`, with the nearest names."""
        for rule in self.rules:
            if rule.name == name:
                return rule
        names = [rule.name for rule in self.rules]
        from difflib import get_close_matches  # it is only for those who mistype

        near = get_close_matches(name, names, 3)
        hint = f"did you mean {' or '.join(near)}?" if near else f"there are {', '.join(names)}"
        raise RuleError(f"no rule is called {name!r}: {hint}")

    def only(self, names: Iterable[str]) -> Ruleset:
        """Return a ruleset of just these rules, in the order they have here.

        Errors: `RuleError` for a name that no rule has.
        """
        targets = {self[name].name for name in names}
        return replace(self, rules=tuple(rule for rule in self.rules if rule.name in targets))

    @property
    def own_rules(self) -> tuple[RuleDefinition, ...]:
        """The rules that somebody wrote: all but the one about comments that leave places alone."""
        return tuple(rule for rule in self.rules if rule.name != UNNEEDED)

    def languages(self) -> frozenset[str]:
        """Return the names of the languages that any rule looks at."""
        return frozenset(name for item in self.own_rules for name in item.languages)

    def required_symbols(self) -> frozenset[str]:
        """Return the dotted names that any rule asks for, or puts, by meaning."""
        return frozenset(name for rule in self.rules for name in rule.compiled.required_symbols)

    def spanning(self) -> frozenset[str]:
        """Return the names of the rules whose fixes go together in all files or in none."""
        return frozenset(rule.name for rule in self.rules if rule.across is not None)

    def preferences(self) -> frozenset[tuple[str, str]]:
        """Return pairs of rules of which the first wins over the second, wherever they stand."""
        return frozenset((rule.name, loser) for rule in self.rules for loser in rule.wins_over)

    def unknown_losers(self) -> dict[str, tuple[str, ...]]:
        """Return by rule the names in its `wins_over` that no rule here has."""
        names = {rule.name for rule in self.rules}
        table = {
            rule.name: tuple(loser for loser in rule.wins_over if loser not in names)
            for rule in self.rules
        }
        return {name: losers for name, losers in table.items() if losers}

    def candidates(
        self, file: TokenIndex, language: str, vocabulary: Vocabulary = SPELLED
    ) -> list[tuple[int, RuleDefinition]]:
        """Return the rules, each with its rank, that may find something in a file."""
        return [
            (rank, item)
            for rank, item in self._for(language).candidates(file)
            if (
                file.holds(MARK)
                if item.name == UNNEEDED
                else item.compiled.concerns(file, vocabulary)
            )
        ]

    def warm_up(self, language: str) -> None:
        """Compile what leads to findings in a language, so that processes forked later share it."""
        queries.compile_all(self._for(language).queries, languages.language(language))

    def token_index(self, data: bytes, language: str) -> TokenIndex:
        """Return what is to hold what UTF-8 `data` holds, and is asked by all rules."""
        data = languages.language(language).folded(data)
        return TokenIndex(data, self._for(language).matcher)

    def _for(self, language: str) -> RuleIndex:
        index = self._indexes.get(language)
        if index is None:
            some = [
                (rank, rule if rule.name == UNNEEDED else rule.in_language(language))
                for rank, rule in enumerate(self.rules)
                if rule.name == UNNEEDED or language in rule.languages
            ]
            index = self._indexes[language] = RuleIndex(some)
        return index

    @cached_property
    def _indexes(self) -> dict[str, RuleIndex]:
        return {}

    def may_be_among(self, words: bytes, language: str, vocabulary: Vocabulary) -> bool:
        """Return whether any rule may find something in a file with just `words`, one a line."""
        return any(
            MARK.rstrip(b":") in words
            if rule.name == UNNEEDED
            else language in rule.languages
            and rule.in_language(language).compiled.may_be_among(words, vocabulary)
            for rule in self.rules
        )

    def look(
        self,
        tree: Tree,
        vocabulary: Vocabulary = SPELLED,
        watch: Watch | None = None,
        candidates: list[tuple[int, RuleDefinition]] | None = None,
        within: Mapping[str, list[Span]] | None = None,
        places: Mapping[int, list[tuple[int, int]]] | None = None,
    ) -> tuple[list[Finding], list[RuleFailure]]:
        """Return the findings of all rules in `tree` by place, and the rules that failed on it.

        Arguments: `vocabulary` tells by which words the code base knows what is asked for; `watch`
        follows the work; `candidates` is what the method of that name says, if that is known;
        `within` has by rule the only spans in which it is to look; `places` has by rank where what
        leads to a match is seen, for rules of which that is known.
        Errors: `OutOfTime`, when the watch is watched and the file as a whole takes too long;
        `TreeChangedError`, when a rule has written to the tree.
        """
        watch = watch or Watch()
        findings: list[Finding] = []
        failures: list[RuleFailure] = []
        if candidates is None:
            candidates = self.candidates(tree.token_index, tree.language.name, vocabulary)
        tree.prepare(self._for(tree.language.name).queries)
        for rank, item in candidates:
            if item.name == UNNEEDED:
                continue
            if item.name in watch.over:
                failures.append(RuleFailure(item.name, watch.over[item.name]))
                continue
            watch.begin(item.name)
            try:
                spans = None if within is None else within.get(item.name)
                sites = places.get(rank) if places else None
                findings += item.compiled.look(tree, rank, spans, sites)
            except OutOfTime as over:
                if not over.rule:
                    raise
                watch.over[item.name] = str(over)
                failures.append(RuleFailure(item.name, str(over)))
            except BaseException as wrong:  # a rule is foreign code: it costs only itself
                if not is_contained(wrong):
                    raise
                failures.append(RuleFailure(item.name, reason_of(wrong)))
            finally:
                watch.end()
            if watch.is_careful and item.function is not None and not tree.is_intact:
                raise TreeChangedError(item.name)
        if any(item.function is not None for _, item in candidates) and not tree.is_intact:
            raise TreeChangedError("")
        comments, _ = leaves(tree)
        findings = left_alone(findings, comments, self.reasons)
        for rank, item in candidates if comments else ():
            if item.name == UNNEEDED:
                failed = {failure.rule for failure in failures}
                from yellow_trellis.rules.suppression_fixes import unneeded

                active = self._names_for(tree.language.name) - failed
                findings += unneeded(item, rank, comments, findings, active)
        if self.leaving is not None:
            from yellow_trellis.rules.suppression_fixes import with_leaves

            findings = with_leaves(findings, tree, comments, self.leaving)
        findings.sort(key=lambda f: (f.span.start, -f.span.end, f.rank))
        return findings, failures

    def _names_for(self, language: str) -> frozenset[str]:
        """Return the names of the rules that look at code of a language."""
        return frozenset(
            rule.name
            for rule in self.rules
            if language in rule.languages and rule.name != UNNEEDED
        )


def _refuse_ring(rules: Mapping[str, RuleDefinition]) -> None:
    """Refuse rules that win over each other in a ring: no order would keep what they say.

    Errors: `RuleError`, which names the ring.
    """
    done: set[str] = set()
    for name in rules:
        way: list[str] = []
        todo = [(name, False)]
        while todo:
            at, leaves = todo.pop()
            if leaves:
                way.pop()
                done.add(at)
            elif at in way:
                ring = " -> ".join([*way[way.index(at) :], at])
                message = f"`wins_over` goes in a ring: {ring}; take it from one of them"
                raise RuleError(f"{rules[at].place}: {message}")
            elif at in rules and at not in done:
                way.append(at)
                todo.append((at, True))
                todo += ((loser, False) for loser in rules[at].wins_over)
