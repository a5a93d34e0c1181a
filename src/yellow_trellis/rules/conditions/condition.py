"""The face of a condition: how it is written, how far it looks, and the check it becomes."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any, ClassVar, Literal, NamedTuple, Union

from msgspec import Struct

from yellow_trellis.languages import Language
from yellow_trellis.patterns import Match, Pattern, PatternError
from yellow_trellis.patterns.prefilter import HoleConstraint

Predicate = Callable[[Match], bool]
"""A condition in Python: a function of the match."""

Reach = Literal["match", "around", "file"]
"""How far a condition looks: at the match, at the code that it lies in, or anywhere in the file."""

Nested = Callable[[Mapping[str, Any]], "Condition"]
"""Makes the condition of a table within another."""


class Check(NamedTuple):
    """A compiled condition. `cost` says roughly how dear it is, for the order."""

    cost: int
    met: Predicate


class DeclaredCondition(Struct, frozen=True):
    """A condition that is data: it can be written in a rule file.

    Whatever the library asks of a condition it asks here, so that another one is a class of its
    own and a line in `KINDS`.
    """

    forms: ClassVar[Mapping[str, Mapping[str, str]]] = {}
    """By the key that names it in a table: all keys of that table, and what each must be."""

    @classmethod
    @abstractmethod
    def from_table(cls, key: str, table: Mapping[str, Any], nested: Nested) -> DeclaredCondition:
        """Return the condition that a checked table says; `key` is the one that names it."""

    @abstractmethod
    def compile(self, pattern: Pattern) -> Check:
        """Make the check for matches of `pattern`. Errors: `PatternError`."""

    @property
    def reach(self) -> Reach:
        """The farthest code that it looks at."""
        return "match"

    def parts(self) -> tuple[Condition, ...]:
        """Return the conditions that it combines."""
        return ()

    def required_parts(self) -> tuple[Condition, ...]:
        """Return those of its parts that must be met whenever it is."""
        return ()

    def patterns(self, language: Language) -> Iterator[Pattern]:
        """Yield the patterns that it compares other code with."""
        return iter(())

    def hole_constraints(self, language: Language) -> Iterator[HoleConstraint]:
        """Yield what it asks of each node that a hole takes."""
        return iter(())

    def contained_patterns(self, language: Language) -> Iterator[Pattern]:
        """Yield what must stand in a match for it to be met, if tokens tell it."""
        return iter(())


Condition = Union[DeclaredCondition, Predicate]


def compiled(condition: Condition, pattern: Pattern) -> Check:
    """Make the check of any condition. Errors: `PatternError`."""
    if isinstance(condition, DeclaredCondition):
        return condition.compile(pattern)
    if not callable(condition):
        raise PatternError(f"{condition!r} is no condition")
    return Check(100, condition)


def leaves(conditions: Iterable[Condition]) -> Iterator[Condition]:
    """Yield the conditions that combine no others, in order, those within others too."""
    for condition in conditions:
        if isinstance(condition, DeclaredCondition) and (parts := condition.parts()):
            yield from leaves(parts)
        else:
            yield condition


def required(conditions: Iterable[Condition]) -> Iterator[DeclaredCondition]:
    """Yield the declared conditions that must be met for all of `conditions` to be."""
    for condition in conditions:
        if isinstance(condition, DeclaredCondition):
            yield condition
            yield from required(condition.required_parts())


def hole_constraints(
    conditions: Iterable[Condition], language: Language
) -> Iterator[HoleConstraint]:
    """Yield what conditions that must all be met ask of the nodes that holes take."""
    for condition in required(conditions):
        yield from condition.hole_constraints(language)


def contained_patterns(conditions: Iterable[Condition], language: Language) -> Iterator[Pattern]:
    """Yield what must stand in a match for all of the conditions to be met, if tokens tell it."""
    for condition in required(conditions):
        yield from condition.contained_patterns(language)
