"""`ytr rules`: the rules there are, and one of them explained."""

from __future__ import annotations

import os
from pathlib import Path

from yellow_trellis.authoring.isolated_proof import proof_of
from yellow_trellis.authoring.rule_filter import RuleFilter, rules_asked
from yellow_trellis.cli.arguments import Takes, UsageError, flag, option
from yellow_trellis.cli.console import (
    BAD,
    DIM,
    GOOD,
    RULE,
    console,
    counted,
    listed,
    shown_path,
    shown_place,
)
from yellow_trellis.cli.options import RULES, RuleChoice, format_option
from yellow_trellis.cli.output import Output, styled, write
from yellow_trellis.findings.finding import LEVELS
from yellow_trellis.project.discovery import MissingPathError
from yellow_trellis.project.safe_paths import Beneath
from yellow_trellis.reports.json import VERSION, dumped
from yellow_trellis.reports.markdown import shown_value
from yellow_trellis.reports.markdown import pages as pages_of
from yellow_trellis.rules import Option, RuleDefinition, RuleError, names_of_packs, pack_called
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.schema import nearest

EXAMPLE = "ytr rules --rules rules/    ytr rules stamp-to-tick --rules rules/"
TAKES: Takes = (
    option("name", metavar="NAME", nargs="?", help="The rule to explain."),
    RULES,
    option(
        "--level",
        choices=LEVELS,
        help="List those of this level, also those that are off. Example: --level off",
    ),
    flag("--fixable", help="List those that offer fixes."),
    option("--pack", metavar="PACK", help="List those of a pack. Example: --pack python-names"),
    option(
        "--about",
        metavar="WORDS",
        default="",
        help="List those with these words in name, summary, help, pattern or tags. "
        "Example: --about 'import unused'",
    ),
    flag("--packs", help="List the packs that are installed."),
    option(
        "--pages",
        metavar="DIR",
        help="Write a Markdown page for each rule, and an index. Example: --pages docs/rules",
    ),
    flag("--why", help="Say whether the rule NAME is on, at which level, and what says so."),
    option(
        "--in",
        dest="file",
        metavar="FILE",
        help="With --why: say it of this file. Example: ytr rules say-what-is-caught --why --in "
        "alder/app.py",
    ),
    format_option("text", "json"),
)


def command(
    name: str | None,
    choice: RuleChoice,
    level: str | None,
    fixable: bool,
    pack: str | None,
    about: str,
    packs: bool,
    pages: str | None,
    why: bool,
    file: str | None,
    form: str,
) -> None:
    """List the rules in their order, or explain the rule NAME with its options and examples."""
    if packs:
        _list_packs(console(), form)
        return
    spec = choice._replace(tags=()).spec()
    if why or file is not None:
        if name is None or not why:
            raise UsageError("--why is of one rule, and --in goes with it: ytr rules NAME --why")
        _say_why(console(), spec, name, file)
        return
    rule_filter = RuleFilter(choice.tags, level, fixable, pack, about)
    chosen = rules_asked(spec, rule_filter) if name is None else [spec.ruleset()[name]]
    if pages is not None:
        _write_pages(console(), Path(pages), chosen, spec)
    elif form == "json":
        messages = [_as_json(rule, spec.pack_of(rule.name)) for rule in chosen]
        write(dumped({"version": VERSION, "rules": messages}))
    elif name is None:
        _list(console(), chosen)
    else:
        _explain(console(), chosen[0], spec.pack_of(name))


def _list_packs(out: Output, form: str) -> None:
    packs = {name: pack_called(name) for name in names_of_packs()}
    if form == "json":
        rows = [
            {
                "name": name,
                "package": pack.package,
                "runs_code": pack.code,
                "summary": pack.summary,
            }
            for name, pack in packs.items()
            if pack is not None
        ]
        write(dumped({"version": VERSION, "packs": rows}))
        return
    for name, result in packs.items():
        assert result is not None
        runs = "code" if result.code else "data"
        out.print(styled((name, RULE), (f"  {runs}  {result.package}  ", DIM), result.summary))


def _write_pages(out: Output, folder: Path, rules: list[RuleDefinition], spec: RulesSpec) -> None:
    """Write the catalogue, which is only what its examples show it to be."""
    failed = [verdict for rule in rules for verdict in proof_of(rule).failed]
    if failed:
        names = listed(dict.fromkeys(f"`{verdict.rule}`" for verdict in failed))
        raise RuleError(f"examples of {names} fail, and no page is written: `ytr prove` says why")
    result = pages_of(rules, spec.pack_of)
    folder.mkdir(parents=True, exist_ok=True)
    files = Beneath(folder)  # a page may be there already, as a link to anywhere
    for name, text in result.items():
        files.replace(name, text.encode("utf-8"))
    out.print(f"Wrote {counted(len(result), 'page')}: {shown_path(str(folder / 'index.md'))}.")


def _say_why(out: Output, spec: RulesSpec, rule: str, file: str | None) -> None:
    """Print the level of a rule, in `file` if one is named, and what says so."""
    if file is not None and not Path(file).exists():
        raise MissingPathError(f"{file}: there is no such file or folder")
    entries = {rule.name: rule for rule in spec.rules(os.path.abspath(file) if file else None)}
    if rule not in entries:
        raise RuleError(f"no rule is called {rule!r}: {nearest(rule, entries)}")
    item = entries[rule]
    state = "off" if item.level == "off" else f"on, {item.level}"
    where = f" in {file}" if file else ""
    by = shown_place(item.governed_by())
    out.print(styled((rule, RULE), f" is {state}{where}: {by} says so"))
    if item.fixable:
        message = {
            "nothing": "its fixes are applied only when asked",
            "safe": "safe fixes are applied without asking",
            "all": "its fixes are all applied unasked",
        }[item.unasked]
        if item.is_set("unasked"):
            by = shown_place(item.governed_by("unasked"))
            out.print(styled(f"  {message}: ", (by, DIM)))
        else:
            out.print(f"  {message} (default)")
    for name, value in item.values.items():
        message = shown_value(value)
        by = shown_place(item.governed_by(name)) if item.is_set(name) else "its default"
        out.print(styled(f"  {name} = {message}: ", (by, DIM)))


def _list(out: Output, ruleset: list[RuleDefinition]) -> None:
    if not ruleset:
        out.print("No rule matches these filters.")
        return
    width = max(len(rule.name) for rule in ruleset)
    for rule in ruleset:
        label = "fix" if rule.put is not None else "code" if rule.function is not None else "find"
        out.print(
            styled(
                (f"{rule.name:<{width}}", RULE),
                f"  {rule.level:<7}",
                (f"  {label:<4}", DIM),
                f"  {rule.summary}",
            )
        )
    out.print(
        styled(f"{counted(len(ruleset), 'rule')}.", style=DIM)
    )


def _explain(out: Output, rule: RuleDefinition, pack: str) -> None:
    messages = [rule.level, *rule.languages, *(f"#{tag}" for tag in rule.tags)]
    out.print(styled((rule.name, RULE), f"  {', '.join(messages)}"))
    out.print(rule.summary)
    if rule.help:
        out.print(rule.help)
    of = f" of the pack {pack}" if pack else ""
    out.print(styled(f"written in {shown_path(rule.path)}, line {rule.line}{of}", style=DIM))
    if rule.find is not None:
        _block(out, "finds", rule.find, "yellow")
    elif rule.kinds:
        _block(out, "visits", ", ".join(rule.kinds), "yellow")
    if rule.put is not None:
        _block(out, f"puts ({rule.safety})", rule.put or "nothing: it is taken out", "yellow")
    for choice in rule.options:
        _show_option(out, rule, choice)
    for example in rule.examples:
        if example.stays:
            _block(out, "leaves alone", example.code, "")
        elif example.becomes is None:
            _block(out, "reports", example.code, "")
        else:
            _block(out, "turns", example.code, BAD)
            _block(out, "into", example.becomes, GOOD)


def _show_option(out: Output, rule: RuleDefinition, option: Option) -> None:
    bounds = f", {option.bounds}" if option.bounds else ""
    value = shown_value(rule.values[option.name])
    out.print(styled(("option ", ""), (f"{option.name} = {value}", "yellow")))
    out.print(f"    {option.kind}{bounds}; {shown_value(option.default)} if nothing is said")
    if option.help:
        out.print(f"    {option.help}")


def _block(out: Output, title: str, code: str, style: str) -> None:
    out.print(f"{title}:")
    for line in code.strip("\n").splitlines():
        out.print(styled(f"    {line}", style=style))


def _as_json(rule: RuleDefinition, pack: str) -> dict[str, object]:
    return {
        "name": rule.name,
        "summary": rule.summary,
        "language": rule.language,
        "also_in": list(rule.languages[1:]),
        "level": rule.level,
        "tags": list(rule.tags),
        "find": rule.find,
        "put": rule.put,
        "kinds": list(rule.kinds),
        "safety": rule.safety,
        "unasked": rule.unasked,
        "pack": pack,
        "options": {
            option.name: {
                "value": rule.values[option.name],
                "default": option.default,
                "must_be": ", ".join(filter(None, (option.kind, option.bounds))),
                "help": option.help,
            }
            for option in rule.options
        },
        "examples": len(rule.examples),
        "path": rule.path,
        "line": rule.line,
    }
