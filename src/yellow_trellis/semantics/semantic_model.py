"""The semantic model of one file, as the rest of the library asks for it in any language."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator
from functools import cached_property
from typing import NamedTuple

from yellow_trellis.semantics.graph import ModuleGraph
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.module_interface import Summary
from yellow_trellis.semantics.names import Names
from yellow_trellis.semantics.project_context import ALONE, ProjectContext
from yellow_trellis.semantics.scope import Binding, Occurrence
from yellow_trellis.syntax import Node, Tree


class UnusedImport(NamedTuple):
    """An import that binds a name which nothing in the file refers to."""

    imported: Import
    binding: Binding
    item: Node
    """The item of the import statement."""


class Facts(ABC):
    """The scopes of one file, its bindings, and what its names mean in the code base.

    A language that knows less leaves methods as they are here: what is not known is not told.
    """

    built_in_names: frozenset[str] = frozenset()
    """Names of the language itself, which no file has to bind or import."""
    receiver_names: frozenset[str] = frozenset()
    """Names that mean what the method around them says: a template that reads one means that."""
    alone: ProjectContext = ALONE
    """The place of a file of which nothing is known but itself."""

    def __init__(self, tree: Tree) -> None:
        self.tree = tree

    @cached_property
    def place(self) -> ProjectContext:
        """The place of the file in its code base."""
        result = self.tree.context() if self.tree.context is not None else self.alone
        assert isinstance(result, ProjectContext)
        return result

    def release(self) -> None:
        """Cut the ties between scopes, which would keep each other and the tree alive."""
        if "names" in self.__dict__:
            self.names.release()
        self.__dict__.clear()

    @property
    @abstractmethod
    def names(self) -> Names:
        """The scopes and bindings of the file."""

    @cached_property
    def summary(self) -> Summary:
        """The interface of the file."""
        return Summary(self.place.module)

    @cached_property
    def graph(self) -> ModuleGraph:
        """The modules of the code base, this one as it is now."""
        return self.place.graph.with_module(self.place.module, lambda: self.summary)

    @abstractmethod
    def meaning(self, node: Node) -> str | None:
        """Return the dotted name under which what `node` names is defined.

        None where that is not certain.
        """

    def type_of(self, node: Node) -> str | None:
        """Return the dotted name of the class that the value of `node` is an instance of.

        None where that is not certain.
        """
        return None

    def receiver_of(self, node: Node, name: str) -> Node | str | None:
        """Return the receiver that stays where `node` is replaced by the member `name`.

        That is the instance of which `node` asks a member. None where `node` asks none of an
        instance; a reason where the instance does not have `name`.
        """
        return None

    def patched(self, name: str) -> str:
        """Return who gives `name`, a dotted name, another value as the program runs.

        Empty where nobody does, tests elsewhere aside.
        """
        return ""

    @abstractmethod
    def means(self, node: Node, name: str) -> bool:
        """Return whether `node` refers to what is known as `name`, a dotted name."""

    @abstractmethod
    def places(self, name: str) -> list[Node]:
        """Return the nodes that refer to what is known as `name`, in source order."""

    def unused_imports(self) -> Iterator[UnusedImport]:
        """Yield the imported names that nothing in the file uses."""
        return iter(())

    def unused_bindings(self) -> Iterator[Binding]:
        """Yield the local variables that are bound and never read."""
        return iter(())

    def redefinitions(self) -> Iterator[tuple[Occurrence, Occurrence]]:
        """Yield pairs of definitions of which the second replaces the first before any use."""
        return iter(())

    def used_before_bound(self) -> Iterator[Occurrence]:
        """Yield the local variables that are read before anything binds them."""
        return iter(())
