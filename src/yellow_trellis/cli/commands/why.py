"""`ytr why`: pattern and code side by side, and the first place where they part."""

from __future__ import annotations

import re
import sys
from functools import partial

from yellow_trellis.cli.arguments import Takes, UsageError, option, several
from yellow_trellis.cli.console import BAD, DIM, GOOD, PLACE, console, shown_path
from yellow_trellis.cli.exit_codes import FOUND
from yellow_trellis.cli.options import configured_here, format_option, settings_here, spec_of
from yellow_trellis.cli.output import Output, styled, write
from yellow_trellis.cli.source_file import source_file
from yellow_trellis.languages import MissingLanguageError, language
from yellow_trellis.patterns import Explanation, Pattern, compile_pattern, explain
from yellow_trellis.patterns.open_heads import fits_open
from yellow_trellis.patterns.readings import other_readings, read_as
from yellow_trellis.project.discovery import root_of
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.project_registry import BaseSpec, surroundings
from yellow_trellis.reports.json import VERSION, dumped, place_as_json
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.rules.definition import NAME
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.source import Source, UnreadableError
from yellow_trellis.syntax import Tree
from yellow_trellis.visible_text import visible

_PLACE = re.compile(r"(?P<path>.+?):(?P<line>\d+)(?::(?P<column>\d+))?")


EXAMPLE = (
    "ytr why 'stamp(@{zone})' depot/roster.py:55    "
    "ytr why stamp-to-tick depot/roster.py:55 --rules rules/"
)
TAKES: Takes = (
    option("pattern", metavar="PATTERN", help="A pattern, or the name of a rule."),
    option(
        "place",
        metavar="FILE:LINE[:COLUMN]",
        help="Where the code is that it may fit.",
        is_place=True,
    ),
    several(
        "--rules",
        "-r",
        dest="rule_paths",
        metavar="PATH",
        help="Take PATTERN as the name of a rule in these files. Without this the rules of the "
        "configuration are known by name. Example: --rules rules/",
    ),
    option("--part", help="What the pattern is a part of. Example: --part argument"),
    format_option("text", "json"),
)


def command(
    pattern: str, place: str, rule_paths: tuple[str, ...], part: str | None, form: str
) -> None:
    """Lay PATTERN, or a rule's pattern, beside the code at FILE:LINE that comes nearest to it.

    Says in words where the two part first, and exits with 1. If they fit it says what each hole
    takes.
    """
    tree, line, column = _tree_at(place)
    rule = _rule_called(pattern, rule_paths)
    if rule is not None:
        if rule.compiled.pattern is None:
            raise UsageError(f"the rule {pattern} has no pattern: it visits kinds of nodes")
        compiled = rule.compiled.pattern
        if tree.language.name not in rule.languages:
            raise UsageError(
                f"the rule {pattern} is for {rule.language}, the file is {tree.language.name}"
            )
        in_language = rule.in_language(tree.language.name).compiled.pattern
        compiled = in_language if in_language is not None else compiled
    else:
        compiled = compile_pattern(pattern, tree.language, part=part)
    try:
        result = explain(compiled, tree, line, column)
    except ValueError as wrong:
        raise UsageError(str(wrong)) from None
    fitting = ""
    if result.match is None and part is None and (rule is None or rule.part is None):
        readings = other_readings(compiled).items()
        fitting = next((p for p, it in readings if explain(it, tree, line, column).match), "")
    open_pattern = ""
    if result.match is None:
        open_pattern = fits_open(compiled, lambda it: explain(it, tree, line, column).match)
    if form == "json":
        write(dumped(_as_json(compiled, result, fitting, open_pattern)))
    else:
        _show(console(), compiled, result, rule, fitting, open_pattern)
    if result.match is None:
        sys.exit(FOUND)


def _rule_called(name: str, rule_paths: tuple[str, ...]) -> RuleDefinition | None:
    """Return the rule of a name; None where it is no name of one but a pattern.

    Errors: `RuleError`, where rules are named and none of them has that name.
    """
    if rule_paths:
        return RulesSpec(rule_paths).ruleset()[name]
    if NAME.fullmatch(name) is None or not (configured_here() and settings_here().rules):
        return None
    return next((rule for rule in spec_of((), ()).ruleset() if rule.name == name), None)


def _tree_at(place: str) -> tuple[Tree, int, int | None]:
    parsed = _PLACE.fullmatch(place)
    if parsed is None:
        raise UsageError(f"{place!r} is no place; write FILE:LINE or FILE:LINE:COLUMN")
    path = parsed["path"]
    source, spoken = source_file(path)
    column = int(parsed["column"]) if parsed["column"] else None
    base = BaseSpec(str(root_of([path])), frozenset(), "why")
    tree = Tree(source, spoken, partial(surroundings, base, path))
    return tree, int(parsed["line"]), column


def _show(
    out: Output,
    pattern: Pattern,
    explanation: Explanation,
    rule: RuleDefinition | None,
    part: str,
    open_pattern: str,
) -> None:
    place = f"{shown_path(explanation.node.tree.source.path)}:{explanation.node.place}"
    first = pattern.text.split("\n", 1)[0]
    out.print(styled("pattern  ", (first, "yellow")))
    code = visible(explanation.node.text.split("\n", 1)[0])
    out.print(styled("code     ", (code, "bold"), "  ", (place, PLACE)))
    out.print()
    width = max((len("  " * row.depth + row.pattern) for row in explanation.rows), default=0)
    for row in explanation.rows:
        left = "  " * row.depth + row.pattern
        mark, style = ("=", GOOD) if row.agrees else ("/", BAD)
        right = visible("  " * row.depth + row.code)
        out.print(styled(f"  {left:<{width}}  ", (mark, style), f"  {right}"))
    out.print()
    if explanation.match is None:
        reason = visible(explanation.reason)
        out.print(styled(("They part ", BAD), f"at {explanation.place}: {reason}."))
        if part:
            out.print(f"Read as {read_as(pattern)}; read as {part} it fits: --part {part}")
        if open_pattern:
            out.print(styled("Where more may stand it fits: ", (open_pattern, "yellow")))
        return
    unmet = rule.compiled.unmet(explanation.match) if rule is not None else []
    if unmet:
        out.print(styled("They fit, but the rule asks for more, which is not met:", style=BAD))
        for condition in unmet:
            out.print(f"  {visible(str(condition))}")
        return
    out.print(styled("They fit.", style=GOOD))
    if rule is not None and rule.function is not None:
        out.print(styled("What comes of it is up to the function of the rule.", style=DIM))


def _as_json(
    pattern: Pattern, explanation: Explanation, part: str, open_pattern: str
) -> dict[str, object]:
    return {
        "version": VERSION,
        "pattern": pattern.text,
        "matches": explanation.match is not None,
        "code": explanation.node.text,
        "start": place_as_json(explanation.node.place),
        "reason": explanation.reason,
        "read_as": read_as(pattern),
        "fits_as_part": part or None,
        "fits_left_open": open_pattern or None,
        "at": place_as_json(explanation.place) if explanation.place is not None else None,
        "rows": [
            {"depth": r.depth, "pattern": r.pattern, "code": r.code, "agrees": r.agrees}
            for r in explanation.rows
        ],
    }
