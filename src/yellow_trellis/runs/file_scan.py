"""The scan of one file: parse what the rules need of it, and evaluate them on that."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from yellow_trellis.findings.failure import RuleFailure
from yellow_trellis.findings.finding import Finding
from yellow_trellis.findings.timing import Watch
from yellow_trellis.languages import Language
from yellow_trellis.rules import RuleDefinition, Ruleset
from yellow_trellis.scan import Selection, select
from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.source import Source, TokenIndex, normalized, words_in_other_form
from yellow_trellis.source.diff import changed_lines
from yellow_trellis.syntax import Tree
from yellow_trellis.trace import tracer

if TYPE_CHECKING:
    from yellow_trellis.semantics import ProjectContext


class ProjectView(NamedTuple):
    """The view that a file has of the code base around it."""

    context: Callable[[], ProjectContext] | None = None
    """Gives the code base around the file when a rule asks for it."""
    vocabulary: Vocabulary = SPELLED
    """By which words the code base knows what rules ask for by meaning."""


NO_PROJECT = ProjectView()


class ScanInput(NamedTuple):
    """A file that is read, and the rules that may find something in it."""

    source: Source
    language: Language
    tokens: TokenIndex
    """What stands in its bytes."""
    ruleset: Ruleset
    candidates: list[tuple[int, RuleDefinition]]
    """Those rules, each with its rank."""
    project: ProjectView
    watch: Watch
    earlier: bytes | None = None
    """If only changed lines count: the text that changes are counted from, in UTF-8."""

    def changed(self, findings: list[Finding], source: Source) -> list[Finding]:
        """Return those of the findings in `source` that count."""
        if self.earlier is None:
            return findings
        changed = changed_lines(self.earlier, source.data)
        number = source.lines.number
        return [
            finding
            for finding in findings
            if any(
                number(finding.span.start) <= last and first <= number(finding.span.end)
                for first, last in changed
            )
        ]


class Scan(NamedTuple):
    """A tree and what rules found in it, by place."""

    tree: Tree
    findings: list[Finding]
    failures: list[RuleFailure]


def read(
    source: Source, language: Language, ruleset: Ruleset, project: ProjectView, watch: Watch
) -> ScanInput:
    """Return what there is to scan in a source: its words, and the rules these lead to."""
    with watch.phase("filter"):
        index = ruleset.token_index(source.code, language.name)
        candidates = ruleset.candidates(index, language.name, project.vocabulary)
    if (trace := tracer("rules")) is not None:
        names = ", ".join(rule.name for _, rule in candidates) or "none"
        trace(f"{source.path}: candidates: {names}")
    return ScanInput(source, language, index, ruleset, candidates, project, watch)


def misread_name(file: ScanInput) -> str:
    """Return a description of a name that the language reads as another than its bytes say.

    No search for a name is right then. Empty where there is none, and where no rule would find
    anything in the file either way.
    """
    form, data = file.language.normal_form, file.source.data
    words = [] if form is None else list(words_in_other_form(data, form))
    if form is None or not words:
        return ""
    source = replace(file.source, data=normalized(data, form))
    if not read(source, file.language, file.ruleset, file.project, file.watch).candidates:
        return ""
    tree = parse(file)
    for word in words:
        leaf = tree.leaf_at(word.start)
        if leaf is not None and leaf.kind in file.language.families["name"]:
            text = file.source.text(word)
            normal = unicodedata.normalize(form, text)
            return (
                f"the name {ascii(text)} at {file.source.place(word.start)} is {ascii(normal)} to "
                f"{file.language.name}, which reads names in the normal form {form} of Unicode; "
                "write it so first"
            )
    return ""


def selection_of(file: ScanInput) -> Selection | None:
    """Return what of a file its rules have to see; None for all of it."""
    with file.watch.phase("filter"):
        return select(file.candidates, file.tokens, file.language)


def parse(file: ScanInput, spans: tuple[tuple[int, int], ...] | None = None) -> Tree:
    """Return the tree of a file, or of some spans of it."""
    with file.watch.phase("parse"):
        return Tree(file.source, file.language, file.project.context, spans, file.tokens)


def scan(file: ScanInput, selection: Selection | None) -> Scan:
    """Evaluate the rules of a file on what is selected of it.

    All of it is parsed instead where a part does not parse: the parser may read the whole
    differently.
    """
    if selection is not None:
        tree = parse(file, selection.spans)
        if not tree.errors:
            return _evaluate(file, tree, selection.rules, selection.places)
        tree.release()
    return _evaluate(file, parse(file), file.candidates, None)


def _evaluate(
    file: ScanInput,
    tree: Tree,
    rules: list[tuple[int, RuleDefinition]],
    places: dict[int, list[tuple[int, int]]] | None,
) -> Scan:
    findings, failures = file.ruleset.look(
        tree, file.project.vocabulary, file.watch, rules, places=places
    )
    return Scan(tree, file.changed(findings, file.source), failures)
