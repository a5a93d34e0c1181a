"""The catalogue as Markdown: a page for each rule, from its examples, and an index."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from pathlib import PurePath

from yellow_trellis.rules import Example, RuleDefinition
from yellow_trellis.rules.option import Value
from yellow_trellis.visible_text import outside_code


def pages(rules: Iterable[RuleDefinition], pack_of: Callable[[str], str]) -> dict[str, str]:
    """Return Markdown pages by file name: ``index.md``, and one a rule.

    Arguments: `pack_of` returns the pack that the rule of that name comes from, or an empty text.
    """
    rules = list(rules)
    results = {f"{rule.name}.md": _page(rule, pack_of(rule.name)) for rule in rules}
    return {"index.md": _index(rules), **results}


def _index(rules: list[RuleDefinition]) -> str:
    rows = "".join(
        f"| [{rule.name}]({rule.name}.md) | {rule.level} | {'yes' if rule.fixable else 'no'} "
        f"| {_cell(rule.summary)} |\n"
        for rule in rules
    )
    return (
        "# Rules\n\nIn their order: the earlier one wins where two fixes conflict.\n\n"
        f"| rule | level | fix | |\n|---|---|---|---|\n{rows}"
    )


def _page(rule: RuleDefinition, pack: str) -> str:
    facts = [f"Level `{rule.level}`", f"language {', '.join(rule.languages)}"]
    if rule.fixable:
        facts.append(f"its fixes are {'safe' if rule.safety == 'safe' else 'for review'}")
    if rule.tags:
        facts.append("tags " + ", ".join(f"`{tag}`" for tag in rule.tags))
    facts.append(f"pack `{pack}`" if pack else f"defined in `{PurePath(rule.path).name}`")
    parts = [f"# {rule.name}", _line(rule.summary), "; ".join(facts) + "."]
    if rule.help:
        parts.append(_prose(rule.help))
    if rule.find is not None:
        parts += ["## Finds", _block(rule.find, "")]
    if rule.put is not None and rule.put.strip():
        parts += ["## Puts instead", _block(rule.put, "")]
    if rule.options:
        parts += ["## Options", _options(rule)]
    parts += _examples(rule)
    parts.append(f"Where it is not wanted: `{_leaving(rule)}`")
    return "\n\n".join(parts) + "\n"


def _leaving(rule: RuleDefinition) -> str:
    return f"{rule.compiled.language.line_comment} trellis: leave {rule.name} because REASON"


def _options(rule: RuleDefinition) -> str:
    rows = [
        f"| `{option.name}` | {option.kind}{', ' + option.bounds if option.bounds else ''} "
        f"| `{shown_value(option.default)}` | {_cell(option.help)} |"
        for option in rule.options
    ]
    return "\n".join(["| option | must be | default | |", "|---|---|---|---|", *rows])


def shown_value(value: Value) -> str:
    """Return the value of an option as it is shown, and written in TOML."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, tuple):
        return "[" + ", ".join(f'"{item}"' for item in value) + "]"
    return f'"{value}"' if isinstance(value, str) else str(value)


def _examples(rule: RuleDefinition) -> list[str]:
    language = rule.language
    parts: list[str] = []
    for title, target in _KINDS.items():
        examples = [example for example in rule.examples if _kind(example) == target]
        if examples:
            parts.append(f"## {title}")
        for example in examples:
            if example.options:
                statements = [f"`{name} = {shown_value(v)}`" for name, v in example.options.items()]
                parts.append(f"With {', '.join(statements)}:")
            if example.given.strip():
                parts += ["Given", _block(example.given, language)]
                parts.append("this")
            parts.append(_block(example.code, language))
            if example.becomes is not None:
                parts += ["becomes", _block(example.becomes, language)]
    return parts


_KINDS = {"Changes": "becomes", "Reports": "found", "Leaves alone": "stays"}


def _kind(example: Example) -> str:
    if example.stays:
        return "stays"
    return "found" if example.becomes is None else "becomes"


def _block(code: str, language: str) -> str:
    fence = "`" * max(3, *(len(run) + 1 for run in re.findall("`+", code)), 3)
    body = code.strip("\n") or "(nothing)"
    return f"{fence}{language}\n{body}\n{fence}"


def _cell(text: str) -> str:
    return _line(text).replace("|", "\\|")


def _line(text: str) -> str:
    """Return a text on one line, in which nothing but code between backticks is more than text."""
    return _prose(outside_code(" ".join(text.split()), _MARKS, r"\\\g<0>"))


def _prose(text: str) -> str:
    """Return Markdown without any HTML in it, which would be run where the page is shown."""
    return outside_code(text, _TAG, "&lt;")


_TAG = re.compile("<")
_MARKS = re.compile(r"[\\*_\[\]!#~>]")
