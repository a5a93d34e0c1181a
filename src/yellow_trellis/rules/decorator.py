"""Rules in code: a function that judges each match, or each node, made a rule by a decorator."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from yellow_trellis.findings.finding import Level, Unasked
from yellow_trellis.languages import DEFAULT
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.definition import Check
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
    where: Iterable[Condition] = (),
    kinds: Iterable[str] = (),
    language: str = DEFAULT,
    level: Level = "warning",
    tags: Iterable[str] = (),
    wins_over: Iterable[str] = (),
    unasked: Unasked = "safe",
    options: Iterable[Option] = (),
    examples: Iterable[Example] = (),
    help: str = "",
) -> Callable[[Check], Rule]:
    """Make a rule of the function below: it gets each match (or node) and the code.

    The function yields `code.finding(at, message, fixes)` for what it holds against the code.
    Arguments and errors are those of `Rule`.
    """

    def decorate(check: Check) -> Rule:
        return Rule(
            name,
            summary=summary,
            find=find,
            part=part,
            any_order=any_order,
            where=where,
            check=check,
            kinds=kinds,
            language=language,
            level=level,
            tags=tags,
            wins_over=wins_over,
            unasked=unasked,
            options=options,
            examples=examples,
            help=help or (check.__doc__ or "").strip(),
            place=_place_of(check),
        )

    return decorate


def _place_of(check: Check) -> tuple[str, int] | None:
    """Return the file and the first line of a function, its decorators among it, if it has any."""
    code = getattr(check, "__code__", None)
    return (code.co_filename, code.co_firstlineno) if code is not None else None
