"""The interface behind which stands what is known of the names and imports of a language.

A language names the package that implements it. The rest of the library asks through here and does
not know what an import looks like.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING, Protocol, cast

from yellow_trellis.languages import Language
from yellow_trellis.syntax import Node, Tree

if TYPE_CHECKING:
    from yellow_trellis.edits import Edit
    from yellow_trellis.semantics import python
    from yellow_trellis.semantics.edit_group import EditGroup
    from yellow_trellis.semantics.graph import ModuleGraph
    from yellow_trellis.semantics.modules import Modules, ProjectFiles
    from yellow_trellis.semantics.renaming import Renaming, RenameResult, RenameTarget
    from yellow_trellis.semantics.required_import import RequiredImport
    from yellow_trellis.semantics.scope import Binding
    from yellow_trellis.semantics.semantic_model import Facts
    from yellow_trellis.source import Span


class Semantics(Protocol):
    """The names and imports of one language. A module can implement it."""

    def model_of(self, tree: Tree, /) -> Facts:
        """Return the semantic model of a tree, computed as it is asked."""
        ...

    def modules_of(self, files: ProjectFiles, /) -> Modules:
        """Return the modules of a code base, read as they are asked about."""
        ...

    def is_name(self, text: str, /) -> bool:
        """Return whether `text` can name something."""
        ...

    def spell(
        self, place: Node, name: str, old: Node | None = None, is_called: bool = False
    ) -> tuple[str, RequiredImport | None]:
        """Return how `place` says the dotted name `name`, and the import that it needs for that.

        Arguments: `old` is the name that it replaces, whose manner is kept; `is_called` says that
        it is called, which only a member of a type can be in some languages: see `Language.called`.
        """
        ...

    def add_imports(
        self, tree: Tree, required_imports: Iterable[tuple[RequiredImport, int]], /
    ) -> list[Edit]:
        """Return the edits that add imports, each with the byte of the code that needs it."""
        ...

    def lost_words(self, before: Tree, after: Tree, written: Iterable[Span], /) -> frozenset[bytes]:
        """Return imported names that the code before may have used and the code after may not."""
        ...

    def drop_imports(
        self, before: Tree, after: Tree, gives: Callable[[str, str], bool], /
    ) -> list[Edit]:
        """Return the edits that take out imports which were used before and are not after.

        Arguments: `gives` tells whether another file takes a name from a module.
        """
        ...

    def removal_of_import(self, node: Node, /) -> Sequence[Edit]:
        """Return the edits that take out an import, or one item of it. Errors: `ValueError`."""
        ...

    def rename_binding(self, binding: Binding, new: str, done: Renaming, /) -> None:
        """Add to `done` what gives `binding` another name in its file, or why that cannot be."""
        ...

    def rename_in(self, tree: Tree, symbol: RenameTarget, new: str, /) -> RenameResult:
        """Return the edits of one file that rename a symbol of the code base."""
        ...

    def may_see_name(self, symbol: RenameTarget, new: str, data: bytes, /) -> bool:
        """Return whether code that need not say a symbol may see its name as it runs.

        Arguments: `data` is the text of a file in UTF-8, or the words of one.
        """
        ...

    def move_in(self, tree: Tree, old: str, new: str, /) -> list[EditGroup]:
        """Return the edits of one file that import a symbol from where it is now."""
        ...

    def follow_modules(self, tree: Tree, moves: Mapping[str, str], /) -> RenameResult:
        """Return the edits of one file that keep its imports right when modules are renamed.

        Arguments: `moves` are the names of modules, before and after.
        """
        ...

    def fault_of_target(self, graph: ModuleGraph, symbol: RenameTarget, new: str, /) -> str:
        """Return why there is no such symbol to rename in the code base; empty if there is."""
        ...


if TYPE_CHECKING:
    _python: Semantics = python


@cache
def semantics_of(language: Language) -> Semantics | None:
    """Return what is known of the names of a language; None where that is nothing.

    The package of a language has the functions itself, or an object `SEMANTICS` that has them.
    """
    if language.semantics is None:
        return None
    package = import_module(language.semantics)
    return cast(Semantics, getattr(package, "SEMANTICS", package))


def require_semantics(language: Language) -> Semantics:
    """Return what is known of the names of a language. Errors: `ValueError`, where nothing is."""
    semantics = semantics_of(language)
    if semantics is None:
        raise ValueError(f"what names mean is not known for {language.name}")
    return semantics


def facts_of(tree: Tree) -> Facts:
    """Return the semantic model of `tree`, the same object each time.

    Errors: `ValueError` for a language whose names are not understood.
    """
    if tree.facts is None:
        tree.facts = require_semantics(tree.language).model_of(tree)
    return cast("Facts", tree.facts)
