"""Places where the code base defines the symbols that rules ask for by meaning."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.editor.answers import Location, OpenFinding, Related
from yellow_trellis.editor.open_files import OpenFiles
from yellow_trellis.editor.positions import range_of
from yellow_trellis.languages import language
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.project import CodeBase
from yellow_trellis.rules import RuleDefinition, Ruleset
from yellow_trellis.semantics import facts_of, semantics_of
from yellow_trellis.source import UnreadableError
from yellow_trellis.syntax import Tree


def defined_places(
    files: OpenFiles, path: str, base: CodeBase, ruleset: Ruleset, found: tuple[OpenFinding, ...]
) -> Iterator[Related]:
    """Yield for the findings in a file where the symbols of their rules are defined, each once."""
    spoken = language_at(path)
    if spoken is None or semantics_of(language(spoken)) is None:
        return
    rules = {rule.name: rule for rule in ruleset.rules}
    places: dict[str, Location | None] = {}
    for finding in found:
        rule = rules.get(finding.rule)
        for symbol in _sought(rule) if rule is not None else ():
            if symbol not in places:
                places[symbol] = _definition(files, base, spoken, symbol)
            if (place := places[symbol]) is not None:
                message = f"`{symbol}` is defined here"
                yield Related(finding.rule, finding.range, message, place)


def _sought(rule: RuleDefinition) -> list[str]:
    """Return the dotted names that a rule looks for."""
    pattern = rule.compiled.pattern
    return sorted(pattern.meant.values()) if pattern is not None else []


def _definition(files: OpenFiles, base: CodeBase, spoken: str, symbol: str) -> Location | None:
    """Return where a symbol is defined; None for what is not of the code base."""
    modules = base.modules(spoken)
    module, name = modules.graph.resolve(symbol) or symbol, ""
    while module not in modules.files:
        module, dot, last = module.rpartition(".")
        name = last
        if not dot:
            return None
    if not name:
        return None
    path = modules.files[module]
    try:
        source = files.source_of(path, language_at(path) or spoken)
    except (OSError, UnreadableError):
        return None
    names = facts_of(Tree(source, language(language_at(path) or spoken))).names
    if not names.binds(names.module, name):
        return None
    place = names.bound(names.module, name).definitions[0].span
    return Location(path, range_of(source, place, files.encoding))
