"""Conditions on what holes took."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any, ClassVar

from yellow_trellis.languages import Language
from yellow_trellis.patterns import Match, Pattern, PatternError
from yellow_trellis.patterns.prefilter import HoleConstraint
from yellow_trellis.rules.conditions.condition import Check, DeclaredCondition, Nested
from yellow_trellis.rules.option import or_option
from yellow_trellis.schema import NUMBER_OR_OPTION, STRING, STRINGS
from yellow_trellis.syntax import Node, same_code


class HoleCondition(DeclaredCondition, frozen=True):
    """A condition on what the hole `hole` took; everything given must hold."""

    forms: ClassVar[Mapping[str, Mapping[str, str]]] = {
        "hole": {
            "hole": STRING,
            "kind": STRING,
            "text": STRING,
            "equal_to": STRING,
            "one_of": STRINGS,
            "least": NUMBER_OR_OPTION,
            "most": NUMBER_OR_OPTION,
        }
    }

    hole: str
    kind: str | None = None
    """Of this kind or family."""
    text: str | None = None
    """Its text matches this regular expression in full."""
    equal_to: str | None = None
    """It is the same code as what this other hole took."""
    one_of: tuple[str, ...] = ()
    """Its text is one of these."""
    least: float | None = None
    most: float | None = None
    """It is a number in this range, both ends included."""

    def __str__(self) -> str:
        table: dict[str, object] = {"kind": self.kind, "text": self.text, "equal to": self.equal_to}
        table |= {"least": self.least, "most": self.most, "one of": ", ".join(self.one_of) or None}
        text = ", ".join(f"{name} {value}" for name, value in table.items() if value is not None)
        return f"@{{{self.hole}}}: {text}"

    @classmethod
    def from_table(cls, key: str, table: Mapping[str, Any], nested: Nested) -> HoleCondition:
        """Return the condition of a table such as ``{ hole = "x", text = "a.*" }``."""
        return taken(**{name: or_option(value) for name, value in table.items()})

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` for an unknown hole or kind."""
        for name in filter(None, (self.hole, self.equal_to)):
            _require(pattern, name)
        kinds = None
        if self.kind is not None:
            kinds = pattern.language.family(self.kind)
            if kinds is None:
                raise PatternError(f"{pattern.language.name} has no kind or family `{self.kind}`")
        regex = None if self.text is None else _regex(self.text)

        def met(match: Match) -> bool:
            run = match.run_of(self.hole)
            return all(self._fits(node, kinds, regex, match) for node in run)

        return Check(1, met)

    def _fits(
        self,
        node: Node,
        kinds: frozenset[str] | None,
        regex: re.Pattern[str] | None,
        match: Match,
    ) -> bool:
        if kinds is not None and not {node.kind, node.bare.kind, node.core.kind} & kinds:
            return False
        if regex is not None and regex.fullmatch(node.text) is None:
            return False
        if self.one_of and node.text not in self.one_of:
            return False
        if self.equal_to is not None:
            second = match.run_of(self.equal_to)
            if len(second) != 1 or not same_code(node, second[0]):
                return False
        if self.least is None and self.most is None:
            return True
        value = _number(node)
        return value is not None and (
            (self.least is None or value >= self.least)
            and (self.most is None or value <= self.most)
        )

    def hole_constraints(self, language: Language) -> Iterator[HoleConstraint]:
        """Yield the kinds and the text that it asks for."""
        kinds = language.family(self.kind) if self.kind is not None else None
        regex = _regex(self.text) if self.text is not None else None
        yield HoleConstraint(self.hole, kinds, regex)


class CountCondition(DeclaredCondition, frozen=True):
    """The hole `hole`, one for several, took at least `least` and at most `most` nodes."""

    forms: ClassVar[Mapping[str, Mapping[str, str]]] = {
        "count": {"count": STRING, "least": NUMBER_OR_OPTION, "most": NUMBER_OR_OPTION}
    }

    hole: str
    least: int = 0
    most: int | None = None

    def __str__(self) -> str:
        limit = "" if self.most is None else f", {self.most} at most"
        return f"@{{{self.hole}}}: {self.least} at least{limit}"

    @classmethod
    def from_table(cls, key: str, table: Mapping[str, Any], nested: Nested) -> CountCondition:
        """Return the condition of a table such as ``{ count = "x", least = 2 }``."""
        least, most = or_option(table.get("least", 0)), or_option(table.get("most"))
        return CountCondition(table["count"], least, most)

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` for an unknown hole."""
        _require(pattern, self.hole)

        def met(match: Match) -> bool:
            count = len(match.run_of(self.hole))
            return self.least <= count and (self.most is None or count <= self.most)

        return Check(1, met)


def taken(
    hole: str,
    *,
    kind: str | None = None,
    text: str | None = None,
    equal_to: str | None = None,
    one_of: Iterable[str] = (),
    least: float | None = None,
    most: float | None = None,
) -> HoleCondition:
    """Return a condition on what the hole `hole` took; see `HoleCondition`."""
    return HoleCondition(hole, kind, text, equal_to, tuple(one_of), least, most)


def count(hole: str, *, least: int = 0, most: int | None = None) -> CountCondition:
    """Return a condition on how many nodes the hole `hole` took."""
    return CountCondition(hole, least, most)


def _require(pattern: Pattern, name: str) -> None:
    if name not in pattern.holes:
        entry = ", ".join(f"`{hole}`" for hole in pattern.holes) or "none"
        raise PatternError(
            f"a condition asks for the hole `{name}`, which the pattern does not have; "
            f"it has {entry}"
        )


def _regex(text: str) -> re.Pattern[str]:
    try:
        return re.compile(text, re.DOTALL)
    except (re.error, OverflowError, RecursionError) as wrong:
        raise PatternError(f"a condition is no regular expression: {wrong}", text) from None


def _number(node: Node) -> float | None:
    language: Language = node.tree.language
    sign = 1.0
    core = node.core
    if core.kind.startswith("unary") and len(core.items) == 2 and core.items[0].text == "-":
        sign, core = -1.0, core.items[1].core
    if not language.is_literal(core.kind):
        return None
    try:
        value = language.literal_forms.value(core.text)
    except ValueError:
        return None
    return sign * value if isinstance(value, (int, float)) else None
