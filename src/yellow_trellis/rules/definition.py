"""A rule, declared or in code."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable, Iterable, Iterator
from copy import copy
from functools import cached_property
from typing import TYPE_CHECKING, TypeVar

from yellow_trellis import fixes
from yellow_trellis.findings.finding import LEVELS, UNASKED, Finding, Level, Unasked
from yellow_trellis.languages import DEFAULT, KindKeyword, Language, MissingLanguage, language
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
from yellow_trellis.rules.example import Example, RuleError
from yellow_trellis.rules.option import Option, OptionError, Value, settled
from yellow_trellis.rules.override import Setting
from yellow_trellis.schema import nearest
from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.source import Span, TokenIndex, TokenSequence
from yellow_trellis.syntax import Tree
from yellow_trellis.syntax.queries import StructureQuery

if TYPE_CHECKING:
    from yellow_trellis.rules.project_rule import Across
    from yellow_trellis.rules.rule_context import Draft

Check = Callable[..., "Iterable[Draft]"]
"""A function of a match (or a node) and the code, which yields what `Code.finding` returns."""

Own = TypeVar("Own", bound="RuleDefinition")

NAME = re.compile(r"[a-z][a-z0-9]*(-[a-z0-9]+)*")
"""What a rule may be called."""


class RuleDefinition:
    """A rule: `find` a pattern, and `put` a template or let `check` judge.

    Arguments:
        name: lower-case words joined by hyphens.
        summary: one sentence for the catalogue, and the message where no other is given.
        find: the pattern to find.
        part: ``argument``, ``parameter`` or another part that the pattern is, where alone it
            would parse as something else.
        put: the template to put instead; an empty one takes the match out.
        rename, move: the dotted name of what gets another name, or is imported from elsewhere,
            in every file that mentions it or in none; ``function(argument)`` for an argument.
        to: its new name; for `move` the dotted name of where it is now.
        check: a function of (match, code), or of (node, code) for a rule over `kinds`.
        any_order: whether named arguments may stand in another order than in the pattern.
        where: conditions that a match must meet, all of them; see `conditions`.
        kinds: node kinds or families to visit, for a rule without a pattern.
        message: what to tell at a finding; `@{name}` shows what a hole took.
        language, level, tags, safety, examples, help: as the words say.
        unasked: which of the fixes are applied without asking: ``nothing``, ``safe`` or ``all``.
        options: what a code base may set; the value of one is `code.options[name]` in a function,
            ``chosen(name)`` in a condition, and `@{name}` in the message.
        wins_over: rules whose fixes yield to those of this one, although they stand earlier.
        drops_comments: whether the fix may lose comments in the code it replaces.
        width: how long a line may get, in characters, before a list that the fix wrote is broken.
        place: file and line where it is written; told by the caller if left out.

    Errors: `RuleError` with the place of the rule.
    """

    def __init__(
        self,
        name: str,
        *,
        summary: str,
        find: str | None = None,
        put: str | None = None,
        part: str | None = None,
        any_order: bool = False,
        where: Iterable[Condition] = (),
        rename: str | None = None,
        move: str | None = None,
        to: str | None = None,
        check: Check | None = None,
        kinds: Iterable[str] = (),
        message: str | None = None,
        language: str = DEFAULT,
        level: Level = "warning",
        tags: Iterable[str] = (),
        wins_over: Iterable[str] = (),
        safety: fixes.Safety = "safe",
        unasked: Unasked = "safe",
        drops_comments: bool = False,
        width: int | None = None,
        options: Iterable[Option] = (),
        examples: Iterable[Example] = (),
        help: str = "",
        place: tuple[str, int] | None = None,
    ) -> None:
        self.name = name
        self.summary = summary
        self.find = find
        self.put = put
        self.part = part
        self.any_order = any_order
        self.where = tuple(where)
        self.rename = rename
        self.move = move
        self.to = to
        self.function = check
        self.kinds = tuple(kinds)
        self.message = message
        self.language_name = language
        self.level: Level = level
        self.tags = tuple(tags)
        self.wins_over = tuple(wins_over)
        self.safety: fixes.Safety = safety
        self.unasked: Unasked = unasked
        self.drops_comments = drops_comments
        self.width = width
        self.options = {option.name: option for option in options}
        self.values: dict[str, Value] = {name: o.default for name, o in self.options.items()}
        self.said: dict[str, str] = {}
        """By ``level``, ``unasked`` or the name of an option: the place that says what it is."""
        self.examples = tuple(examples)
        self.help = help
        self.path, self.line = place or _caller()
        self._refuse_contradictions()

    def __repr__(self) -> str:
        return f"<Rule {self.name} {self.place}>"

    @property
    def place(self) -> str:
        """The place where the rule is written: file and line."""
        return f"{self.path}:{self.line}"

    def _refuse_contradictions(self) -> None:
        if not isinstance(self.name, str) or NAME.fullmatch(self.name) is None:
            self._refuse("its name must be lower-case words joined by hyphens")
        if self.level not in LEVELS:
            self._refuse(f"there is no level {self.level!r}; there are {', '.join(LEVELS)}")
        if self.safety not in ("safe", "review"):
            self._refuse(f"a fix is `safe` or for `review`, not {self.safety!r}")
        sought = {"find": self.find, "kinds": self.kinds, "rename": self.rename, "move": self.move}
        arguments = [f"`{name}`" for name, value in sought.items() if value]
        if not arguments:
            self._refuse("it finds nothing: give it `find`, or `kinds` to visit")
        if len(arguments) > 1:
            self._refuse(f"it has both {' and '.join(arguments)}: choose one")
        if (self.rename or self.move) and not self.to:
            self._refuse("it does not say what becomes of the thing: give it `to`")
        if self.unasked not in UNASKED:
            self._refuse(f"unasked is one of {', '.join(UNASKED)}, not {self.unasked!r}")
        if self.width is not None and self.width < 20:
            self._refuse(f"a `width` of {self.width} leaves no room for code")
        if self.to and not (self.rename or self.move):
            self._refuse("`to` goes with `rename` or `move`")
        if self.across is not None and (fault := self.across.fault()):
            self._refuse(fault)
        if self.where and self.find is None:
            self._refuse("its conditions are about a match: give it `find`")
        if self.put is not None and self.function is not None:
            self._refuse("it has both `put` and a function: let the function offer the fix")
        if self.kinds and self.function is None:
            self._refuse("a rule over `kinds` needs a function that judges each node")

    def _refuse(self, reason: str) -> None:
        raise RuleError(f"{self.place}: the rule {self.name!r} cannot be used: {reason}")

    def prepare(self) -> None:
        """Compile everything now.

        Errors: `RuleError` for a pattern or template that cannot be used.
        """
        part = "its language"
        try:
            _ = self.language
            part = "its pattern"
            _ = self.pattern
            part = "its options"
            self._refuse_doubled_options()
            for example in self.examples:
                if example.options:
                    self.for_example(example)
            part = "its conditions"
            _ = self.checks
            part = "its template"
            _ = self.template
            part = "its kinds"
            _ = self.visited
        except (PatternError, MissingLanguage, OptionError) as wrong:
            message = f"the rule {self.name!r} cannot be used: {part} cannot be read: {wrong}"
            raise RuleError(f"{self.place}: {message}") from None

    def _refuse_doubled_options(self) -> None:
        holes = self.pattern.holes if self.pattern is not None else ()
        for name in self.options:
            if name in holes:
                raise OptionError(f"`{name}` is both an option and a hole of the pattern")

    @cached_property
    def language(self) -> Language:
        """The language of the code that the rule looks at."""
        return language(self.language_name)

    @cached_property
    def across(self) -> Across | None:
        """The change of one symbol in many files, if the rule is about that."""
        if not self.rename and not self.move:
            return None
        from yellow_trellis.rules.project_rule import Across  # few rules are of that kind

        if self.rename:
            return Across("rename", self.rename, self.to or "")
        return Across("move", self.move or "", self.to or "")

    @cached_property
    def pattern(self) -> Pattern | None:
        """The compiled `find`."""
        if self.find is None:
            return None
        return compile_pattern(self.find, self.language, part=self.part, any_order=self.any_order)

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
        return search_plan(self.pattern, conditions.asked_of(self._settled(), self.language))

    @cached_property
    def held(self) -> tuple[Pattern, ...]:
        """The patterns that stand in every match besides, by its conditions."""
        return tuple(conditions.held_by(self._settled(), self.language))

    def _settled(self) -> Iterator[Condition]:
        """Yield the conditions with the values of options in them."""
        return (settled(condition, self.values) for condition in self.where)

    def unmet(self, match: Match) -> list[Condition]:
        """Return the conditions that `match` does not meet."""
        return [
            condition
            for condition in self.where
            if not conditions.compiled(settled(condition, self.values), match.pattern).met(match)
        ]

    @cached_property
    def template(self) -> fixes.Template | None:
        """The compiled `put`; None where there is none, or it only takes out."""
        if not self.put or not self.put.strip() or self.pattern is None:
            return None
        return fixes.compile_template(self.put, self.pattern)

    @cached_property
    def visited(self) -> frozenset[str]:
        """The kinds of the nodes that a rule without a pattern visits."""
        results: set[str] = set()
        for kind in self.kinds:
            kinds = self.language.family(kind)
            if kinds is None:
                raise PatternError(f"{self.language.name} has no kind or family `{kind}`")
            results |= kinds
        return frozenset(results)

    def at_level(self: Own, level: Level) -> Own:
        """Return the same rule at another level."""
        second = copy(self)
        second.level = level
        return second

    def under(self: Own, setting: Setting) -> Own:
        """Return the same rule with what `setting` says of it.

        Errors: `RuleError` for an option that it does not have, or a value that cannot be.
        """
        second = copy(self)
        second.said = {**self.said, (setting.option or setting.about): setting.place}
        if setting.about == "level":
            second.level = setting.value  # type: ignore[assignment]
        elif setting.about == "unasked":
            second.unasked = setting.value  # type: ignore[assignment]
        else:
            if setting.option not in self.options:
                hint = nearest(setting.option, self.options) if self.options else "it has none"
                message = f"the rule `{self.name}` has no option `{setting.option}`: {hint}"
                raise RuleError(f"{setting.place}: {message}")
            try:
                value = self.options[setting.option].accept(setting.value)
            except OptionError as wrong:
                message = f"of the rule `{self.name}` the option {wrong}"
                raise RuleError(f"{setting.place}: {message}") from None
            second._take({**self.values, setting.option: value})
        return second

    def _take(self, values: dict[str, Value]) -> None:
        """Have other values of options, and forget what rests on those there were."""
        self.values = values
        for name in ("checks", "search_plan", "held", "held_chains"):
            self.__dict__.pop(name, None)

    def for_example(self: Own, example: Example) -> Own:
        """Return the rule as an example knows it, whatever is set elsewhere.

        Errors: `RuleError` for an option of the example that cannot be.
        """
        result = copy(self)
        result._take({name: option.default for name, option in self.options.items()})
        for name, value in example.options.items():
            result = result.under(Setting(self.name, "option", value, name, self.place))
        return result

    def governed_by(self, about: str = "level") -> str:
        """Return the place that says the level, what is fixed unasked, or an option by its name."""
        return self.said.get(about, self.place)

    @property
    def query(self) -> StructureQuery | None:
        """The query for the nodes that the rule looks at; None where a word leads to them."""
        if self.pattern is not None:
            return self.search_plan.query
        return StructureQuery(self.visited) if self.visited else None

    @property
    def fixable(self) -> bool:
        """Return whether the rule can offer fixes; a rule in code may."""
        return self.put is not None or self.function is not None or self.across is not None

    @cached_property
    def asked(self) -> frozenset[str]:
        """The dotted names that the rule asks for, or puts, by meaning."""
        if self.across is not None:
            return self.across.asked
        shapes = (self.pattern, self.template.shape if self.template is not None else None)
        return frozenset(
            name for shape in shapes if shape is not None for name in shape.meant.values()
        )

    def concerns(self, file: TokenIndex, vocabulary: Vocabulary = SPELLED) -> bool:
        """Return whether a file can hold a finding at all; if not, it need not be parsed.

        Arguments: `vocabulary` tells by which words the code base knows what is asked for.
        """
        if self.across is not None:
            return self.across.concerns(file.data)
        if self.pattern is not None:
            has_required = all(may_hold(item, file, vocabulary) for item in self.held)
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
    def held_chains(self) -> tuple[TokenSequence, ...]:
        """The tokens of which each stands somewhere in every match."""
        leads = (item.lead for item in self.held if item.lead is not None)
        return tuple(lead.chain for lead in leads if lead.chain is not None)

    @cached_property
    def telltales(self) -> tuple[KindKeyword, ...] | None:
        """The keywords of the nodes that a rule without a pattern visits, if all have some."""
        return self.language.telltales_of(self.visited)

    def lacks(self, data: bytes) -> str:
        """Return a token that every finding holds and UTF-8 `data` does not; empty if none is.

        What is asked for by meaning has other words in other code bases, and is not among them.
        """
        needs = self.pattern.needs if self.pattern is not None else ()
        if self.across is not None:
            needs = (self.across.thing.word.encode("utf-8"),)
        if self.pattern is None and self.across is None and not self.concerns(TokenIndex(data)):
            words = {telltale.word for telltale in self.telltales or ()}
            return " or ".join(sorted(word.decode("ascii") for word in words))
        missing = next((token for token in needs if token not in data), b"")
        return missing.decode("utf-8", "replace")

    def may_be_among(self, words: bytes, vocabulary: Vocabulary = SPELLED) -> bool:
        """Return whether a file that has just `words`, one a line, can hold a finding."""
        if self.across is not None:
            return self.across.may_be_among(words)
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
        return list(evaluate(self, tree, rank, within, places))


def _caller() -> tuple[str, int]:
    """Return the file and line outside of this module from which a rule is being made."""
    frame = sys._getframe(1)
    while frame.f_back is not None and frame.f_code.co_filename == __file__:
        frame = frame.f_back
    return frame.f_code.co_filename, frame.f_lineno
