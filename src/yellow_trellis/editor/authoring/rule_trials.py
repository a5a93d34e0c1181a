"""A rule file tried on the workspace as it is written: matches, diff, and why not here."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager

from msgspec.structs import replace

from yellow_trellis.authoring.open_head_count import count_open
from yellow_trellis.editor.answers import Location, PatternPlace, RuleMatches, WrittenRule
from yellow_trellis.editor.authoring.unsaved_rules import as_file
from yellow_trellis.editor.document import Document
from yellow_trellis.editor.open_files import OpenFiles
from yellow_trellis.editor.positions import Position, offset_of, range_at
from yellow_trellis.editor.setup import Setup
from yellow_trellis.editor.workspace import Tell, run_over
from yellow_trellis.errors import TrellisError
from yellow_trellis.patterns import explain
from yellow_trellis.patterns.open_heads import fits_open
from yellow_trellis.project.file_language import language_at
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.run_options import USUAL, RunOptions
from yellow_trellis.syntax import Tree

_DATA = b"[[rule]]"
"""What a file with rules that are data holds."""


def rules_in(files: OpenFiles, path: str) -> list[WrittenRule]:
    """Return the rules that an open file writes; none where they cannot be read."""
    try:
        with _rules(files, path) as (_, rules):
            return [WrittenRule(rule.name, rule.line - 1) for rule in rules]
    except TrellisError:  # it is marked in the text
        return []


def matches(files: OpenFiles, tell: Tell, path: str) -> dict[str, RuleMatches] | str:
    """Return by rule of a rule file the places that it finds in the workspace around it."""
    setup = files.setup(path)
    if isinstance(setup, str):
        return setup
    try:
        with _rules(files, path) as (spec, rules):
            if not rules:
                return {}
            done = run_over(files, setup, spec, tell)
            opened = {rule.name: _opened(files, setup, tell, rule) for rule in rules}
    except TrellisError as error:
        return str(error)
    results: dict[str, list[PatternPlace]] = {rule.name: [] for rule in rules}
    endings = dict(setup.settings.endings)
    for report in done.reports:
        if not report.findings:
            continue
        place = os.path.abspath(report.path)
        source = files.source_of(place, language_at(place, endings) or "")
        for finding in report.findings:
            location = Location(place, range_at(source, finding.start, finding.end, files.encoding))
            results[finding.rule].append(PatternPlace(location, *finding.start, finding.message))
    return {name: RuleMatches(places, opened[name]) for name, places in results.items()}


def _opened(files: OpenFiles, setup: Setup, tell: Tell, rule: RuleDefinition) -> str:
    """Return in words what a rule passes over because its pattern leaves no head open."""
    pattern = rule.compiled.pattern
    options = replace(USUAL, with_holes=True)
    more = pattern and count_open(
        pattern, lambda spec: run_over(files, setup, spec, tell, options)
    )
    return str(more) if more else ""


def preview(files: OpenFiles, tell: Tell, path: str, rule: str) -> str:
    """Return the diff that a rule of a rule file makes in the workspace, or why there is none.

    Fixes that may change behaviour are in it.
    """
    setup = files.setup(path)
    if isinstance(setup, str):
        return setup
    try:
        with _rules(files, path) as (spec, _):
            spec = spec._replace(only=(rule,))
            done = run_over(files, setup, spec, tell, RunOptions(mode="rework", with_review=True))
    except TrellisError as error:
        return str(error)
    text = "".join(str(change.diff) for change in done.changes)
    return text or f"{rule} changes nothing in {setup.root}"


def why_not(files: OpenFiles, path: str, rule: str, place: str, position: Position) -> str:
    """Return in a sentence whether a rule fits the code at a position of another file."""
    try:
        with _rules(files, path) as (_, rules):
            chosen = next((item for item in rules if item.name == rule), None)
            return f"{rule} is gone" if chosen is None else _why(files, chosen, place, position)
    except TrellisError as error:
        return str(error)


def _why(files: OpenFiles, rule: RuleDefinition, place: str, position: Position) -> str:
    document: Document | None = files.documents.get(place)
    pattern = rule.compiled.pattern
    if pattern is None:
        return f"{rule.name} has no pattern: it visits kinds of nodes"
    if document is None:
        return f"{place} is not open any more"
    if document.language.name not in rule.languages:
        return f"{rule.name} is for {rule.language}, and {place} is {document.language.name}"
    tree = Tree(document.source, document.language, files.context(place, os.path.dirname(place)))
    offset = offset_of(document.source, position, files.encoding)
    where = document.source.place(offset)
    pattern = rule.in_language(document.language.name).compiled.pattern
    assert pattern is not None
    try:
        result = explain(pattern, tree, where.line)
    except ValueError as error:
        return str(error)
    shown = f"{os.path.basename(place)}:{result.node.place}"
    if result.match is None:
        reason = f"they part at {result.place}: {result.reason}"
        if opened := fits_open(pattern, lambda other: explain(other, tree, where.line).match):
            reason += f"; where more may stand it fits: {opened}"
        return f"{rule.name} does not fit at {shown}: {reason}"
    unmet = rule.compiled.unmet(result.match)
    if unmet:
        asks = "; ".join(map(str, unmet))
        return f"the pattern of {rule.name} fits at {shown}, but the rule asks for more: {asks}"
    return f"{rule.name} fits at {shown}"


@contextmanager
def _rules(files: OpenFiles, path: str) -> Iterator[tuple[RulesSpec, list[RuleDefinition]]]:
    """Give the rules of a file: data as it is typed, code as it is saved and configured.

    Only what the configuration names is run as code, and only where it may be: a file that is open
    may say `yellow_trellis` and be any program. Errors: `RuleError`.
    """
    source, setup = files.plain.get(path), files.setup(path)
    if source is not None and path.endswith(".toml") and _DATA in source.data:
        with as_file(path, source) as copy:
            yield _of_file(RulesSpec((str(copy),)), str(copy))
    elif path.endswith(".py") and path in files.documents and isinstance(setup, Setup):
        yield _of_file(setup.spec, path)
    else:
        yield RulesSpec(()), []


def _of_file(spec: RulesSpec, path: str) -> tuple[RulesSpec, list[RuleDefinition]]:
    file = os.path.realpath(path)
    rules = [rule for rule in spec.rules() if os.path.realpath(rule.path) == file]
    return spec._replace(only=tuple(rule.name for rule in rules)), rules
