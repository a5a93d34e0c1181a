"""Imports of JavaScript and TypeScript that follow files which are renamed or moved."""

from __future__ import annotations

import posixpath
from collections.abc import Iterator, Mapping

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.javascript.module_names import SUFFIXES, specifier_of
from yellow_trellis.semantics.javascript.semantic_model import facts_of
from yellow_trellis.semantics.renaming import Doubt, RenameResult, Renaming
from yellow_trellis.syntax import Node, Tree

_CALLS = kinds("import require")
_STATEMENTS = kinds("import_statement export_statement import_require_clause")


def follow_modules(tree: Tree, moves: Mapping[str, str]) -> RenameResult:
    """Return what keeps the imports of one file right when modules get other names.

    Arguments: `moves` are names of modules, before and after; the file may be one of them.
    """
    facts, done = facts_of(tree), Renaming()
    folder = facts.place.package
    here = facts.place.module
    new_folder = posixpath.dirname(moves[here]) if here in moves else folder
    doubts: list[Doubt] = []
    for text in tree.of_kinds(frozenset({"string"})):
        specifier = text.text[1:-1]
        if not specifier.startswith("."):
            continue
        module = facts.paths.resolved(specifier)
        if module is None or (module not in moves and new_folder == folder):
            continue
        if not _is_import(text):
            if module in moves and facts.graph.holds(module):
                doubts.append(Doubt(text.span, f"a text says `{specifier}`"))
            continue
        if new_folder is None or (module not in moves and not facts.graph.holds(module)):
            reason = f"what `{specifier}` is from the new folder is not known"
            doubts.append(Doubt(text.span, reason))
            continue
        spelling = _spelling(specifier, moves.get(module, module), new_folder)
        if spelling != specifier:
            done.put(text.span, f"{text.text[0]}{spelling}{text.text[-1]}")
    for old, new in moves.items():
        old_word, new_word = posixpath.basename(old), posixpath.basename(new)
        if old_word != new_word:
            done.refuse_broken(tree, old_word, new_word)
    return RenameResult.of(done, tuple(doubts))


def _spelling(said: str, module: str, folder: str) -> str:
    """Return how a file in `folder` imports a module, with the ending that was said before."""
    suffix = next((ending for ending in SUFFIXES if said.endswith(ending)), "")
    stem = said[: len(said) - len(suffix)]
    index = "/index" if stem.endswith("/index") else ""
    return specifier_of(module, folder) + index + suffix


def _is_import(text: Node) -> bool:
    """Return whether a text says which module is imported, exported or asked for."""
    return any(text.span == source.span for source in _sources(text))


def _sources(text: Node) -> Iterator[Node]:
    parent = text.parent
    if parent is None:
        return
    if parent.kind in _STATEMENTS:
        source = parent.child("source")
        if source is not None:
            yield source
    call = parent.parent
    if parent.kind == "arguments" and call is not None and call.kind == "call_expression":
        if call.items[0].text in _CALLS:
            yield text
