"""`ytr rules`: the rules there are, and one of them explained."""

from __future__ import annotations

from pathlib import Path

import click
from rich.console import Console
from rich.text import Text

from yellow_trellis.cli.options import format_option, settings_here, spec_of
from yellow_trellis.cli.terminal import BAD, DIM, GOOD, RULE, console, counted, shown_path
from yellow_trellis.engine.spec import RulesSpec, rules_of
from yellow_trellis.formats.json import VERSION, dumped
from yellow_trellis.rules import Rule, RuleError, Ruleset
from yellow_trellis.tables import nearest


@click.command(
    "rules", epilog="Example: ytr rules --rules rules/    ytr rules stamp-to-tick --rules rules/"
)
@click.argument("name", required=False)
@click.option(
    "--rules",
    "-r",
    "rule_paths",
    metavar="PATH",
    multiple=True,
    help="A rule file, or a folder of them. Example: --rules rules/",
)
@click.option(
    "--why",
    metavar="RULE",
    help="Say whether a rule is on, at which level, and what says so; with NAME, in that file. "
    "Example: --why bare-except alder/app.py",
)
@format_option("text", "json")
def command(name: str | None, rule_paths: tuple[str, ...], why: str | None, form: str) -> None:
    """List the rules in their order, or explain the rule NAME with its examples."""
    spec: RulesSpec = spec_of(rule_paths, ())
    if why is not None:
        _say_why(console(), spec, why, name, configured=not rule_paths)
        return
    ruleset = spec.ruleset()
    chosen = list(ruleset) if name is None else [ruleset[name]]
    if form == "json":
        click.echo(dumped({"version": VERSION, "rules": [_as_json(rule) for rule in chosen]}))
    elif name is None:
        _list(console(), ruleset)
    else:
        _explain(console(), chosen[0])


def _say_why(
    out: Console, spec: RulesSpec, rule: str, file: str | None, *, configured: bool
) -> None:
    """Print the level of a rule, in `file` if one is named, and what says so."""
    known = {one.name: one for one in rules_of(spec.paths)}
    if rule not in known:
        raise RuleError(f"no rule is called {rule!r}: {nearest(rule, known)}")
    one = known[rule]
    said = settings_here().said_of(rule, Path(file) if file else None) if configured else None
    level, by = said if said is not None else (one.level, one.place)
    state = "off" if level == "off" else f"on, {level}"
    where = f" in {file}" if file else ""
    by = ":".join([shown_path(by.rpartition(":")[0]), by.rpartition(":")[2]])
    out.print(Text.assemble((rule, RULE), f" is {state}{where}: {by} says so"))


def _list(out: Console, ruleset: Ruleset) -> None:
    width = max(len(rule.name) for rule in ruleset)
    for rule in ruleset:
        what = "fix" if rule.put is not None else "code" if rule.check is not None else "find"
        out.print(
            Text.assemble(
                (f"{rule.name:<{width}}", RULE),
                f"  {rule.level:<7}",
                (f"  {what:<4}", DIM),
                f"  {rule.summary}",
            )
        )
    out.print(Text(f"{counted(len(ruleset), 'rule')}; the earlier one wins a conflict.", style=DIM))


def _explain(out: Console, rule: Rule) -> None:
    out.print(Text.assemble((rule.name, RULE), f"  {rule.level}, {rule.language_name}"))
    out.print(Text(rule.summary))
    if rule.help:
        out.print(Text(rule.help))
    out.print(Text(f"written in {shown_path(rule.path)}, line {rule.line}", style=DIM))
    if rule.find is not None:
        _block(out, "finds", rule.find, "yellow")
    elif rule.kinds:
        _block(out, "visits", ", ".join(rule.kinds), "yellow")
    if rule.put is not None:
        _block(out, f"puts ({rule.safety})", rule.put or "nothing: it is taken out", "yellow")
    for example in rule.examples:
        if example.stays:
            _block(out, "leaves alone", example.code, "")
        elif example.becomes is None:
            _block(out, "reports", example.code, "")
        else:
            _block(out, "turns", example.code, BAD)
            _block(out, "into", example.becomes, GOOD)


def _block(out: Console, title: str, code: str, style: str) -> None:
    out.print(Text(f"{title}:"))
    for line in code.strip("\n").splitlines():
        out.print(Text(f"    {line}", style=style))


def _as_json(rule: Rule) -> dict[str, object]:
    return {
        "name": rule.name,
        "summary": rule.summary,
        "language": rule.language_name,
        "level": rule.level,
        "tags": list(rule.tags),
        "find": rule.find,
        "put": rule.put,
        "kinds": list(rule.kinds),
        "safety": rule.safety,
        "examples": len(rule.examples),
        "path": rule.path,
        "line": rule.line,
    }
