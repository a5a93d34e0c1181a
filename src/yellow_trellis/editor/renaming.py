"""Renaming what stands under the cursor: in its file, or in all of the code base."""

from __future__ import annotations

import os
from collections.abc import Iterator
from typing import NamedTuple

from yellow_trellis.editor.answers import WorkspaceChanges
from yellow_trellis.editor.document import Document
from yellow_trellis.editor.open_files import OpenFiles
from yellow_trellis.editor.positions import Position, Range, offset_of, range_of
from yellow_trellis.editor.setup import Setup
from yellow_trellis.editor.single_fix import RULE, text_after
from yellow_trellis.editor.text_diff import text_changes
from yellow_trellis.editor.workspace import Tell, changes_of, run_over
from yellow_trellis.errors import TrellisError
from yellow_trellis.fixes import fix
from yellow_trellis.rules import RuleDefinition, Ruleset
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.semantics import Binding, facts_of, semantics_of
from yellow_trellis.syntax import Node, Tree


class Renamable(NamedTuple):
    """A name that can be given to what it means: where it stands, and what that is."""

    node: Node
    binding: Binding | None
    symbol: str
    """The dotted name of what the code base knows; empty for what only its file knows."""


def renamable(files: OpenFiles, path: str, position: Position) -> Renamable | str:
    """Return what can be renamed at a position of an open file, or why nothing can be."""
    document, setup = files.documents.get(path), files.setup(path)
    if document is None:
        return "the file is not open"
    if semantics_of(document.language) is None:
        return f"what names mean in {document.language.name} is not known"
    base = setup.root if isinstance(setup, Setup) else os.path.dirname(path)
    tree = Tree(document.source, document.language, files.context(path, base))
    names = document.language.family("name") or frozenset()
    at = offset_of(document.source, position, files.encoding)
    nodes = (tree.leaf_at(start) for start in (at, at - 1) if 0 <= start < len(tree.source.data))
    node = next((node for node in nodes if node is not None and node.kind in names), None)
    if node is None:
        return "there is no name here"
    facts = facts_of(tree)
    binding = facts.names.binding(node)
    meaning = facts.meaning(node)
    if meaning is None and binding is not None and binding.scope.parent is None:
        module = facts.place.module
        imported = any(d.how == "import" for d in binding.definitions)
        meaning = f"{module}.{binding.name}" if module and not imported else None
    if meaning is not None and meaning.rpartition(".")[2] == node.text:
        return Renamable(node, binding, meaning)
    if binding is None:
        return f"what `{node.text}` is here is not known for certain"
    return Renamable(node, binding, "")


def place_to_rename(files: OpenFiles, path: str, position: Position) -> tuple[Range, str] | str:
    """Return the range and the text of the name at a position, or why it cannot be renamed."""
    target = renamable(files, path, position)
    if isinstance(target, str):
        return target
    return range_of(target.node.tree.source, target.node.span, files.encoding), target.node.text


def rename(
    files: OpenFiles, tell: Tell, path: str, position: Position, new: str
) -> WorkspaceChanges | str:
    """Return the changes that rename what stands at a position, or why it is refused."""
    target, document = renamable(files, path, position), files.documents.get(path)
    if isinstance(target, str) or document is None:
        return str(target)
    if not target.symbol:
        assert target.binding is not None
        return _in_file(files, document, target.node, target.binding, new)
    setup = files.setup(path)
    if isinstance(setup, str):
        return setup
    try:
        return _everywhere(files, document, setup, target.symbol, new, tell)
    except TrellisError as error:
        return str(error)


def _in_file(
    files: OpenFiles, document: Document, node: Node, binding: Binding, new: str
) -> WorkspaceChanges | str:
    tree = node.tree
    result = fix(f"Rename to {new}").rename(binding, new).made(node.span)
    if result is None:
        return "nothing would change"
    data = text_after(tree, result)
    if isinstance(data, str):
        return data
    return WorkspaceChanges({document.path: text_changes(document.source, data, files.encoding)})


def _everywhere(
    files: OpenFiles, document: Document, setup: Setup, symbol: str, new: str, tell: Tell
) -> WorkspaceChanges | str:
    rule = RuleDefinition(
        RULE, summary="renamed", rename=symbol, to=new, language=document.language.name
    )
    rules = Ruleset.of([rule])
    done = run_over(files, setup, rules, tell, RunOptions(mode="rework"), paths=[setup.root])
    if reason := next(_refusals(done), ""):
        return reason
    changes = changes_of(files, done)
    if not changes:
        return f"nothing says `{symbol.rpartition('.')[2]}`"
    return WorkspaceChanges(changes, tuple(done.notes))


def _refusals(done: Run) -> Iterator[str]:
    yield from (f"{problem.path}: {problem.reason}" for problem in done.problems)
    for report in done.reports:
        for fate in report.fates:
            if fate.state in ("refused", "left"):
                yield f"{os.path.basename(report.path)}:{fate.start}: {fate.reason}"
