"""Notes to who tries a pattern: what it would find if it were read, or written, in another way."""

from __future__ import annotations

from msgspec.structs import replace

from yellow_trellis.authoring.open_head_count import count_open
from yellow_trellis.cli.console import ASK, counted, notes, run_shown
from yellow_trellis.cli.options import LookOptions
from yellow_trellis.cli.output import styled
from yellow_trellis.patterns import Pattern
from yellow_trellis.patterns.readings import other_readings, read_as
from yellow_trellis.runs.rule_source import PatternSpec


def tell_readings(
    pattern: Pattern, paths: tuple[str, ...], spec: PatternSpec, look: LookOptions
) -> None:
    """Say how the pattern was read, where it matches something else if it is read otherwise."""
    for part in other_readings(pattern):
        result, _ = run_shown(paths, spec._replace(put=None, part=part), look)
        if count := len(result.findings):
            matches = counted(count, "match", "matches")
            text = f"Read as {read_as(pattern)}; read as {part} it has {matches}: --part {part}"
            notes().print(styled(text, style=ASK))


def tell_open_heads(
    pattern: Pattern, paths: tuple[str, ...], look: LookOptions, count: int | None = None
) -> None:
    """Say how many places the pattern passes over because their heads carry more than it says.

    Arguments: `count` is how many places it finds, where that is known.
    """
    options = replace(look.run, with_holes=True)
    more = count_open(pattern, lambda spec: run_shown(paths, spec, look, options)[0], count)
    if more is not None:
        notes().print(styled(str(more), style=ASK))
