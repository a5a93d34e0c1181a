"""The catalogue of rules: which of them are asked for."""

from __future__ import annotations

from typing import NamedTuple

from yellow_trellis.rules import UNNEEDED, RuleDefinition
from yellow_trellis.runs.rule_source import RulesSpec


class RuleFilter(NamedTuple):
    """A filter for the list of rules; all that is set must hold."""

    tags: tuple[str, ...] = ()
    """They have each of these tags."""
    level: str | None = None
    fixable: bool = False
    pack: str | None = None
    words: str = ""
    """These words stand in the name, the summary, the help, the pattern or the tags."""

    def fits(self, rule: RuleDefinition, pack: str) -> bool:
        """Return whether a rule, which comes from `pack`, is asked for."""
        return (
            set(self.tags) <= set(rule.tags)
            and rule.level == (self.level or rule.level)
            and (rule.fixable or not self.fixable)
            and pack == (pack if self.pack is None else self.pack)
            and all(word in _text(rule) for word in self.words.lower().split())
        )


def rules_asked(spec: RulesSpec, rule_filter: RuleFilter) -> list[RuleDefinition]:
    """Return the rules that are asked for, in their order; those that are off only by level.

    Errors: `RuleError`.
    """
    rules = spec.rules() if rule_filter.level == "off" else spec.ruleset().own_rules
    return [
        rule
        for rule in rules
        if rule.name != UNNEEDED and rule_filter.fits(rule, spec.pack_of(rule.name))
    ]


def _text(rule: RuleDefinition) -> str:
    parts = (rule.name, rule.summary, rule.help, rule.find or "", *rule.tags)
    return "\n".join(parts).lower()
