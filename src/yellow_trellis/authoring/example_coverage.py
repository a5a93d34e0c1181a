"""Coverage of a rule by its examples: conditions, and lines of its function, that none touches."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from types import CodeType, FrameType
from typing import Any

from yellow_trellis.authoring.example_runner import code_of
from yellow_trellis.patterns import seek
from yellow_trellis.rules import RuleDefinition, Ruleset
from yellow_trellis.rules.conditions import compiled, leaves
from yellow_trellis.rules.option import settled
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree


def untouched(rule: RuleDefinition) -> list[str]:
    """Return what no example of `rule` shows, in words; nothing for a rule without examples."""
    if not rule.examples:
        return []
    shown = [
        (
            rule.for_example(example),
            Tree(Source(code_of(example)[1].encode("utf-8")), rule.compiled.language),
        )
        for example in rule.examples
    ]
    return [*_conditions(rule, shown), *_lines(rule, shown)]


_Shown = list[tuple[RuleDefinition, Tree]]
"""The rule as each example knows it, and the tree of the example."""


def _conditions(rule: RuleDefinition, shown: _Shown) -> Iterator[str]:
    """Yield the conditions that no example meets, or none fails to meet."""
    if rule.compiled.pattern is None or not rule.where:
        return
    pattern = rule.compiled.pattern
    matches = [(its, match) for its, tree in shown for match in seek(pattern, tree)]
    for condition in leaves(rule.where):
        name = getattr(condition, "__name__", None) or str(condition)
        visits = {
            bool(compiled(settled(condition, its.values), pattern).met(match))
            for its, match in matches
        }
        if True not in visits:
            yield f"no example meets: {name}"
        if False not in visits:
            yield f"no example fails to meet: {name}"


def _lines(rule: RuleDefinition, shown: _Shown) -> Iterator[str]:
    """Yield the lines of the function of a rule that ran for no example."""
    code = getattr(rule.function, "__code__", None)
    if code is None or sys.gettrace() is not None:  # whoever traces already goes first
        return
    codes = set(_codes(code))
    ran: set[tuple[CodeType, int]] = set()

    def trace(frame: FrameType, event: str, _: Any) -> Any:
        if frame.f_code not in codes:
            return None
        ran.add((frame.f_code, frame.f_lineno))
        return trace

    sys.settrace(trace)
    try:
        for its, tree in shown:
            for finding in Ruleset((its,)).look(tree)[0]:
                finding.choice(with_review=True)
    finally:
        sys.settrace(None)
    missed = sorted(
        {
            line
            for code in codes
            for _, _, line in code.co_lines()
            if line is not None and line != code.co_firstlineno and (code, line) not in ran
        }
        - {line for _, line in ran}
    )
    for first, last in _runs(missed):
        message = f"line {first}" if first == last else f"lines {first} to {last}"
        yield f"no example runs {message} of {Path(code.co_filename).name}"


def _codes(code: CodeType) -> Iterator[CodeType]:
    yield code
    for inner in code.co_consts:
        if isinstance(inner, CodeType):
            yield from _codes(inner)


def _runs(lines: list[int]) -> Iterator[tuple[int, int]]:
    """Yield first and last of lines that follow each other."""
    for number, line in enumerate(lines):
        if number == 0 or line != lines[number - 1] + 1:
            first = line
        if number == len(lines) - 1 or lines[number + 1] != line + 1:
            yield first, line
