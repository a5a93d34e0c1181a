"""The place of a file in its code base, as semantics asks for it."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from yellow_trellis.semantics.alias_map import SPELLED, Vocabulary
from yellow_trellis.semantics.graph import ModuleGraph


class ProjectContext(NamedTuple):
    """The place of a file in its code base: the result of `Tree.context`.

    `module` is the dotted name of the file; `package` that of the folder relative imports start
    from, None where it is not known.
    """

    graph: ModuleGraph
    module: str
    package: str | None
    vocabulary: Vocabulary = SPELLED
    gives: Callable[[str, str], bool] = lambda module, name: False
    """Tells whether another file takes a name from a module, or may."""
    family: Callable[[str], tuple[frozenset[str], str]] = lambda name: (frozenset({name}), "")
    """Of a member of a class: it and those that stand for it in classes above and below, and why
    there may be more of them outside of the code base."""
    importers: Callable[[str], frozenset[str]] = lambda module: frozenset()
    """Gives the modules of the code base that import a module, or anything of it."""
    handed_on: Callable[[str], bool] = lambda module: False
    """Tells whether a module is used as a value: given to a function, or bound to another name."""
    relied_on: Callable[[str], bool] = lambda module: False
    """Tells whether code elsewhere uses a module that it leaves to others to import."""
    declares: Callable[[str, str], bool] = lambda namespace, name: False
    """Tells whether code elsewhere may declare a type of a name that a namespace sees."""


ALONE = ProjectContext(ModuleGraph(), "__file__", None)
"""For a file of which nothing is known but itself."""
