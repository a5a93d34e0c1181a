"""Several conditions as one."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

from yellow_trellis.patterns import Pattern
from yellow_trellis.rules.conditions.condition import (
    Check,
    Condition,
    DeclaredCondition,
    Nested,
    compiled,
)
from yellow_trellis.schema import TABLES


class CombinedCondition(DeclaredCondition, frozen=True):
    """Several conditions: ``any``, ``all`` or ``none`` of them must be met."""

    forms: ClassVar[Mapping[str, Mapping[str, str]]] = {
        f"{how}_of": {f"{how}_of": TABLES} for how in ("any", "all", "none")
    }

    how: str
    """One of ``any``, ``all`` and ``none``."""
    conditions: tuple[Condition, ...]

    def __str__(self) -> str:
        return f"{self.how} of: {'; '.join(map(str, self.conditions))}"

    @classmethod
    def from_table(cls, key: str, table: Mapping[str, Any], nested: Nested) -> CombinedCondition:
        """Return the condition of a table such as ``{ any_of = [{ ... }, { ... }] }``."""
        return CombinedCondition(key.removesuffix("_of"), tuple(map(nested, table[key])))

    def parts(self) -> tuple[Condition, ...]:
        """Return the conditions that it combines."""
        return self.conditions

    def required_parts(self) -> tuple[Condition, ...]:
        """Return its conditions, if all must be met."""
        return self.conditions if self.how == "all" else ()

    def compile(self, pattern: Pattern) -> Check:
        """Make the check. Errors: `PatternError` from any of the conditions."""
        checks = sorted((compiled(c, pattern) for c in self.conditions), key=lambda c: c.cost)
        cost = sum(check.cost for check in checks)
        if self.how == "any":
            return Check(cost, lambda match: any(check.met(match) for check in checks))
        if self.how == "all":
            return Check(cost, lambda match: all(check.met(match) for check in checks))
        return Check(cost, lambda match: not any(check.met(match) for check in checks))


def any_of(*conditions: Condition) -> CombinedCondition:
    """Return a condition that is met when any of these is."""
    return CombinedCondition("any", conditions)


def all_of(*conditions: Condition) -> CombinedCondition:
    """Return a condition that is met when all of these are."""
    return CombinedCondition("all", conditions)


def none_of(*conditions: Condition) -> CombinedCondition:
    """Return a condition that is met when none of these is."""
    return CombinedCondition("none", conditions)
