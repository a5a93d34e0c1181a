"""A rule in a few lines of Markdown: what one wants to know while looking at a finding."""

from __future__ import annotations

from yellow_trellis.rules import RuleDefinition
from yellow_trellis.visible_text import inert


def rule_text(rule: RuleDefinition) -> str:
    """Return name, level, summary and reason of a rule, and its first example before and after."""
    parts = [f"**{rule.name}** ({rule.level}): {inert(rule.summary)}"]
    if rule.help:
        parts.append(inert(rule.help.strip()))
    example = next((item for item in rule.examples if item.becomes is not None), None)
    if example is not None and example.becomes is not None:
        parts += [_block(example.code, rule.language), "becomes"]
        parts.append(_block(example.becomes, rule.language))
    mark = rule.compiled.language.line_comment
    parts.append(f"`{mark} trellis: leave {rule.name} because REASON` leaves a place alone.")
    return "\n\n".join(parts)


def _block(code: str, language: str) -> str:
    fence = "`" * 3
    while fence in code:
        fence += "`"
    return f"{fence}{language}\n{code.strip(chr(10))}\n{fence}"
