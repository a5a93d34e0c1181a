"""Mistakes in rule files and configurations as they are typed: each at its place in the text."""

from __future__ import annotations

import re
from pathlib import Path
from typing import NamedTuple

from yellow_trellis.authoring.example_runner import prove_rule
from yellow_trellis.editor.authoring.unsaved_rules import as_file
from yellow_trellis.errors import TrellisError
from yellow_trellis.project.locate import OWN
from yellow_trellis.project.settings import settings_for
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.source import Source, Span
from yellow_trellis.toml_source import TomlFile

_IS_RULES = re.compile(rb"^\s*\[\[rule\]\]", re.MULTILINE)
_CARET = re.compile(r"^    (?P<code>.*)\n    (?P<space> *)\^$", re.MULTILINE)
"""The line of a pattern or template in a message, with a mark under the character."""


class Mistake(NamedTuple):
    """A mistake: where it is, in bytes, and what is wrong."""

    span: Span
    message: str


def is_checked(path: str, source: Source) -> bool:
    """Return whether a text is a rule file that is data, or a configuration."""
    if not path.endswith(".toml"):
        return False
    return Path(path).name == OWN or _IS_RULES.search(source.data) is not None


def faults_in(path: str, source: Source) -> list[Mistake]:
    """Return what is wrong with a rule file or a configuration that may not be saved.

    Of mistakes the first is told, as the rest cannot be read past it; else examples that fail.
    """
    with as_file(path, source) as copy:
        try:
            if copy.name == OWN:
                settings_for(copy.parent)
                return []
            rules = RulesSpec((str(copy),)).rules()
        except TrellisError as error:
            return [_fault(str(error), str(copy), source)]
        file = TomlFile(copy, TrellisError)
        faults: list[Mistake] = []
        for rule in rules:
            for verdict in prove_rule(rule) if rule.path == str(copy) else ():
                if not verdict.passed:
                    at = file.data["rule"].index(
                        next(entry for entry in file.data["rule"] if entry["name"] == rule.name)
                    )
                    line = file.line("rule", at, "examples", verdict.number - 1)
                    message = f"example {verdict.number} of {rule.name} fails: {verdict.reason}"
                    if verdict.wanted or verdict.got:
                        message += f"\nwanted\n{verdict.wanted}\ngot\n{verdict.got}"
                    faults.append(Mistake(_line(source, line), message))
        return faults


def _fault(message: str, path: str, source: Source) -> Mistake:
    """Return a mistake by the message about it, which starts with the place."""
    place = re.match(re.escape(path) + r":(?:(\d+):(?:(\d+):)?)?\s*", message)
    reason = message[place.end() :] if place is not None else message
    line = int(place[1] or 1) if place is not None else 1
    if (caret := _CARET.search(message)) is not None:
        start = source.lines.starts[min(line, len(source.lines.starts)) - 1]
        at = source.data.find(caret["code"].encode("utf-8"), start)
        if at >= 0:
            column = len(caret["code"][: len(caret["space"])].encode("utf-8"))
            return Mistake(Span(at + column, at + column + 1), _CARET.sub("", reason).strip())
    if place is not None and place[2]:
        start = source.lines.starts[line - 1] + int(place[2]) - 1
        return Mistake(Span(start, source.lines.end(start)), reason)
    if (toml := re.search(r"at line (\d+), column (\d+)", reason)) is not None:
        line = int(toml[1])
    return Mistake(_line(source, line), reason)


def _line(source: Source, number: int) -> Span:
    """Return the code of a line, from 1."""
    start = source.lines.starts[min(number, len(source.lines.starts)) - 1]
    line = source.line_at(start)
    return Span(start + len(line) - len(line.lstrip()), start + len(line.rstrip()))
