"""`ytr prove`: the examples of the rules, run."""

from __future__ import annotations

import difflib
import sys

import click
from rich.console import Console
from rich.text import Text

from yellow_trellis.cli.app import FOUND
from yellow_trellis.cli.options import format_option, rules_options, spec_of
from yellow_trellis.cli.terminal import BAD, DIM, GOOD, RULE, console, counted, listed, visible
from yellow_trellis.engine.prove import Verdict, prove_rule
from yellow_trellis.formats.json import VERSION, dumped


@click.command("prove", epilog="Example: ytr prove --rules rules/")
@rules_options
@format_option("text", "json")
def command(rule_paths: tuple[str, ...], only: tuple[str, ...], form: str) -> None:
    """Run the examples of the rules: each must become what it says, or stay.

    Exits with 1 when an example fails. Rules without examples are named.
    """
    ruleset = spec_of(rule_paths, only).ruleset()
    verdicts = {rule.name: prove_rule(rule) for rule in ruleset}
    failed = [v for found in verdicts.values() for v in found if not v.passed]
    if form == "json":
        click.echo(_as_json(verdicts))
    else:
        _show(console(), verdicts, failed)
    if failed:
        sys.exit(FOUND)


def _show(out: Console, verdicts: dict[str, list[Verdict]], failed: list[Verdict]) -> None:
    width = max(len(name) for name in verdicts)
    for name, found in verdicts.items():
        bad = sum(not v.passed for v in found)
        if not found:
            told, style = "no examples", DIM
        elif bad:
            told, style = f"{bad} of {counted(len(found), 'example')} failed", BAD
        else:
            told, style = f"{counted(len(found), 'example')} held", GOOD
        out.print(Text.assemble((f"  {name:<{width}}", RULE), "  ", (told, style)))
        for verdict in found:
            if not verdict.passed:
                _show_failure(out, verdict)
    bare = [name for name, found in verdicts.items() if not found]
    total = sum(len(found) for found in verdicts.values())
    if failed:
        out.print(Text(f"{len(failed)} of {counted(total, 'example')} failed.", style=BAD))
    else:
        out.print(Text(f"All {counted(total, 'example')} held."))
    if bare:
        out.print(Text(f"Without examples: {listed(bare)}.", style=DIM))


def _show_failure(out: Console, verdict: Verdict) -> None:
    out.print(Text(f"    example {verdict.number}: {visible(verdict.reason)}", style=BAD))
    if not verdict.wanted:
        for line in verdict.example.code.strip("\n").splitlines():
            out.print(Text(f"        {visible(line)}"))
        return
    wanted, got = verdict.wanted.splitlines(), verdict.got.splitlines()
    for line in list(difflib.unified_diff(wanted, got, "wanted", "got", lineterm="", n=9))[3:]:
        style = {"-": GOOD, "+": BAD}.get(line[:1], "")
        word = {"-": "wanted", "+": "got   "}.get(line[:1], "      ")
        out.print(Text(f"        {word} {visible(line[1:])}", style=style))


def _as_json(verdicts: dict[str, list[Verdict]]) -> str:
    return dumped(
        {
            "version": VERSION,
            "rules": [
                {
                    "rule": name,
                    "examples": [
                        {
                            "number": v.number,
                            "passed": v.passed,
                            "reason": v.reason,
                            "wanted": v.wanted,
                            "got": v.got,
                        }
                        for v in found
                    ],
                }
                for name, found in verdicts.items()
            ],
        }
    )
