"""A rule made ready to find: pattern, conditions, template and search plan."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING

from yellow_trellis import fixes
from yellow_trellis.findings.finding import Finding
from yellow_trellis.languages import KindKeyword, Language, MissingLanguageError
from yellow_trellis.languages import language as language_called
from yellow_trellis.patterns import (
    Match,
    Pattern,
    PatternError,
    compile_pattern,
    may_be_among,
    may_hold,
)
from yellow_trellis.patterns.search_plan import SearchPlan, search_plan
from yellow_trellis.rules import conditions
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.evaluate import evaluate
from yellow_trellis.rules.example import RuleError
from yellow_trellis.rules.option import OptionError, settled
from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.source import Span, TokenIndex, TokenSequence
from yellow_trellis.syntax import Tree
from yellow_trellis.syntax.queries import StructureQuery

if TYPE_CHECKING:
    from yellow_trellis.rules.definition import RuleDefinition


_SOMEWHERE = re.compile(
    r"\b(?:async|await|break|continue|del|except|global|import|nonlocal|return|super|yield)\b|\*|=>"
)
"""Words and signs of code that may stand in some places only."""
_HOLE = re.compile(r"@\{[^}]*\}")


def _bound_to_places(text: str) -> frozenset[str]:
    """Return the words and signs of a pattern that may stand in some places only."""
    return frozenset(_SOMEWHERE.findall(_HOLE.sub("", text)))


class CompiledRule:
    """A rule definition with everything compiled that finding and fixing need.

    Each part is compiled when it is first asked for: a ruleset of thousands is loaded to look at a
    few files.
    """

    def __init__(self, definition: RuleDefinition) -> None:
        self.definition = definition

    def __repr__(self) -> str:
        return f"<CompiledRule {self.definition.name}>"

    def prepare(self) -> None:
        """Compile everything now.

        Errors: `RuleError` for a pattern or template that cannot be used.
        """
        definition = self.definition
        part = "its language"
        try:
            _ = self.language
            part = "its pattern"
            _ = self.pattern
            part = "its options"
            self._refuse_doubled_options()
            part = "its conditions"
            _ = self.checks
            part = "its template"
            _ = self.template
            part = "its kinds"
            _ = self.visited
        except (PatternError, MissingLanguageError, OptionError) as wrong:
            message = f"the rule {definition.name!r} cannot be used: {part} cannot be read: {wrong}"
            raise RuleError(f"{definition.place}: {message}") from None

    def _refuse_doubled_options(self) -> None:
        holes = self.pattern.holes if self.pattern is not None else ()
        for option in self.definition.options:
            if option.name in holes:
                raise OptionError(f"`{option.name}` is both an option and a hole of the pattern")

    @cached_property
    def language(self) -> Language:
        """The language of the code that the rule looks at."""
        return language_called(self.definition.language)

    @cached_property
    def pattern(self) -> Pattern | None:
        """The compiled `find`."""
        rule = self.definition
        if rule.find is None:
            return None
        return compile_pattern(rule.find, self.language, part=rule.part, any_order=rule.any_order)

    @cached_property
    def checks(self) -> tuple[conditions.Check, ...]:
        """The compiled conditions, cheapest first."""
        if self.pattern is None:
            return ()
        results = (conditions.compiled(condition, self.pattern) for condition in self._settled())
        return tuple(sorted(results, key=lambda check: check.cost))

    @cached_property
    def search_plan(self) -> SearchPlan:
        """The way to the nodes at which the pattern may match."""
        assert self.pattern is not None
        constraints = conditions.hole_constraints(self._settled(), self.language)
        return search_plan(self.pattern, constraints)

    @cached_property
    def required_patterns(self) -> tuple[Pattern, ...]:
        """The patterns that stand in every match besides, by its conditions."""
        return tuple(conditions.contained_patterns(self._settled(), self.language))

    def _settled(self) -> Iterator[Condition]:
        """Yield the conditions with the values of options in them."""
        return (settled(condition, self.definition.values) for condition in self.definition.where)

    def unmet(self, match: Match) -> list[Condition]:
        """Return the conditions that `match` does not meet."""
        values = self.definition.values
        return [
            condition
            for condition in self.definition.where
            if not conditions.compiled(settled(condition, values), match.pattern).met(match)
        ]

    @cached_property
    def template(self) -> fixes.Template | None:
        """The compiled `put`; None where there is none, or it only takes out."""
        put = self.definition.put
        if not put or not put.strip() or self.pattern is None:
            return None
        return fixes.compile_template(put, self.pattern)

    @cached_property
    def visited(self) -> frozenset[str]:
        """The kinds of the nodes that a rule without a pattern visits."""
        results: set[str] = set()
        for kind in self.definition.kinds:
            kinds = self.language.family(kind)
            if kinds is None:
                raise PatternError(f"{self.language.name} has no kind or family `{kind}`")
            results |= kinds
        return frozenset(results)

    @property
    def query(self) -> StructureQuery | None:
        """The query for the nodes that the rule looks at; None where a word leads to them."""
        if self.pattern is not None:
            return self.search_plan.query
        return StructureQuery(self.visited) if self.visited else None

    @cached_property
    def required_symbols(self) -> frozenset[str]:
        """The dotted names that the rule asks for, or puts, by meaning."""
        if self.definition.across is not None:
            return self.definition.across.required_symbols
        shapes = (self.pattern, self.template.shape if self.template is not None else None)
        return frozenset(
            name for shape in shapes if shape is not None for name in shape.meant.values()
        )

    def concerns(self, file: TokenIndex, vocabulary: Vocabulary = SPELLED) -> bool:
        """Return whether a file can hold a finding at all; if not, it need not be parsed.

        Arguments: `vocabulary` tells by which words the code base knows what is asked for.
        """
        if self.definition.across is not None:
            return self.definition.across.concerns(file.data)
        if self.pattern is not None:
            has_required = all(may_hold(item, file, vocabulary) for item in self.required_patterns)
            return has_required and may_hold(self.pattern, file, vocabulary, self.search_plan.lead)
        return self.telltales is None or any(file.of(telltale.chain) for telltale in self.telltales)

    @cached_property
    def chains(self) -> tuple[TokenSequence, ...]:
        """The tokens in the bytes of a file that lead to where the rule looks, if any do."""
        if self.pattern is not None:
            lead = self.search_plan.lead
            return (lead.chain,) if lead is not None and lead.chain is not None else ()
        return tuple(telltale.chain for telltale in self.telltales or ())

    @cached_property
    def required_chains(self) -> tuple[TokenSequence, ...]:
        """The tokens of which each stands somewhere in every match."""
        leads = (item.lead for item in self.required_patterns if item.lead is not None)
        return tuple(lead.chain for lead in leads if lead.chain is not None)

    @cached_property
    def telltales(self) -> tuple[KindKeyword, ...] | None:
        """The keywords of the nodes that a rule without a pattern visits, if all have some."""
        return self.language.telltales_of(self.visited)

    def may_fail(self, data: bytes) -> bool:
        """Return whether a fix of the rule may be refused in a file with the bytes `data`.

        That is so where a name of the template is taken, or lost, and where the template writes
        what may stand in some places only.
        """
        if self.pattern is None:
            return False
        from yellow_trellis.fixes.name_capture import binds_any, new_names  # not for each run

        if self.template is None:
            return binds_any(self.pattern)
        put = self.template.shape
        if put.meant or self.pattern.meant:
            return True
        if _bound_to_places(put.text) - _bound_to_places(self.pattern.text):
            return True
        names = new_names(put, self.pattern)
        return names.may_clash(data) or bool(names.was_bound - names.kept) or names.loses

    def lacks(self, data: bytes) -> str:
        """Return a token that every finding holds and UTF-8 `data` does not; empty if none is.

        What is asked for by meaning has other words in other code bases, and is not among them.
        """
        needs = self.pattern.needs if self.pattern is not None else ()
        if self.definition.across is not None:
            needs = (self.definition.across.thing.word.encode("utf-8"),)
        visits = self.pattern is None and self.definition.across is None
        if visits and not self.concerns(TokenIndex(self.language.folded(data))):
            words = {telltale.word for telltale in self.telltales or ()}
            return " or ".join(sorted(word.decode("ascii") for word in words))
        missing = next((token for token in needs if token not in data), b"")
        return missing.decode("utf-8", "replace")

    def may_be_among(self, words: bytes, vocabulary: Vocabulary = SPELLED) -> bool:
        """Return whether a file that has just `words`, one a line, can hold a finding."""
        if self.definition.across is not None:
            return self.definition.across.may_be_among(words)
        if self.pattern is not None:
            return may_be_among(self.pattern, words, vocabulary)
        return self.telltales is None or any(telltale.word in words for telltale in self.telltales)

    def look(
        self,
        tree: Tree,
        rank: int = 0,
        within: list[Span] | None = None,
        places: list[tuple[int, int]] | None = None,
    ) -> list[Finding]:
        """Return the findings in `tree`, in source order.

        Arguments: `rank` is the place of the rule in its ruleset; `within` are the only spans to
        look in, for a rule with a pattern; `places` is where what leads to a match is seen, if that
        is known.
        Errors: whatever the rule's own function raises.
        """
        return list(evaluate(self.definition, tree, rank, within, places))
