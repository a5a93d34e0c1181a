"""The laws that hold for what a rule makes of any code, tried on one example."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.plans import Rework, rework
from yellow_trellis.rules import RuleDefinition, Ruleset
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

_MOST_COMMENTED = 20
"""Lines of an example that get a comment, each in turn."""


def broken_law(rule: RuleDefinition, before: str, after: str) -> str:
    """Return which law the change from `before` to `after` breaks; empty if none.

    A fix is idempotent, its result compiles where the original does, and no comment is lost unless
    the rule says so.
    """
    again = after if rule.once else _reworked(rule, after).tree.source.data.decode("utf-8")
    if again != after:
        return f"its own output changes once more, into: {again.strip()}"
    if (wrong := _uncompiled(rule, after)) and not _uncompiled(rule, before):
        return f"what it makes does not compile: {wrong}"
    for number, commented in _commented(rule, before) if not rule.drops_comments else ():
        result = _reworked(rule, commented).tree.source.data
        if _MARK.encode() not in result:
            return f"a comment on line {number} of the example is lost"
    return ""


_MARK = "kept?"


def _reworked(rule: RuleDefinition, code: str) -> Rework:
    tree = Tree(Source(code.encode("utf-8")), rule.compiled.language)
    return rework(tree, lambda now: Ruleset((rule,)).look(now)[0], with_review=True)


def _commented(rule: RuleDefinition, code: str) -> Iterator[tuple[int, str]]:
    """Yield the code with a comment at the end of a line, for each line where one can stand."""
    mark = f"  {rule.compiled.language.line_comment} {_MARK}"
    lines = code.splitlines()
    plain = Tree(Source(code.encode("utf-8")), rule.compiled.language)
    for number, line in list(enumerate(lines, 1))[:_MOST_COMMENTED]:
        result = "\n".join([*lines[: number - 1], line + mark, *lines[number:]]) + "\n"
        tree = Tree(Source(result.encode("utf-8")), rule.compiled.language)
        comments = [comment for comment in tree.comments() if _MARK in comment.text]
        own = len(comments) == 1 and comments[0].text == mark.strip()
        if own and len(tree.errors) <= len(plain.errors):
            yield number, result


def _uncompiled(rule: RuleDefinition, code: str) -> str:
    """Return why code is refused by the compiler of its language, where one is at hand."""
    errors = rule.compiled.language.compile_errors(code.encode("utf-8"), (), None)
    return errors[0].reason if errors else ""
