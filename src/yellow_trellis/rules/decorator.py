"""Rules in code: a function that judges each match, or each node, made a rule by a decorator."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from yellow_trellis.findings.finding import Level, Unasked
from yellow_trellis.languages import DEFAULT
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.definition import Judge
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.option import Option
from yellow_trellis.rules.runnable import Rule


def rule(
    name: str,
    *,
    summary: str,
    find: str | None = None,
    part: str | None = None,
    any_order: bool = False,
    where: Sequence[Condition] = (),
    kinds: Sequence[str] = (),
    language: str = DEFAULT,
    also_in: Sequence[str] = (),
    level: Level = "warning",
    tags: Sequence[str] = (),
    wins_over: Sequence[str] = (),
    unasked: Unasked = "safe",
    options: Sequence[Option] = (),
    examples: Sequence[Example] = (),
    help: str = "",
) -> Callable[[Judge], Rule]:
    """Make a rule of the function below: it gets each match (or node) and the code.

    The function yields `code.finding(at, message, fixes)` for what it holds against the code.
    Arguments and errors are those of `Rule`.
    """

    def decorate(function: Judge) -> Rule:
        return Rule(
            name,
            summary=summary,
            find=find,
            part=part,
            any_order=any_order,
            where=where,
            function=function,
            kinds=kinds,
            language=language,
            also_in=also_in,
            level=level,
            tags=tags,
            wins_over=wins_over,
            unasked=unasked,
            options=options,
            examples=examples,
            help=help or (function.__doc__ or "").strip(),
            origin=_origin_of(function),
        )

    return decorate


def _origin_of(function: Judge) -> tuple[str, int] | None:
    """Return the file and the first line of a function, its decorators among it, if it has any."""
    code = getattr(function, "__code__", None)
    return (code.co_filename, code.co_firstlineno) if code is not None else None
