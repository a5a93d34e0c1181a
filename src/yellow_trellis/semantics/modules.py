"""The interface behind which a language knows the modules of a code base."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import NamedTuple, Protocol

from yellow_trellis.semantics.graph import ModuleGraph
from yellow_trellis.semantics.module_interface import Summary
from yellow_trellis.semantics.project_context import ProjectContext


Rows = tuple[tuple[str, ...], ...]
"""What a scan gives of one file: rows of words, which can be kept from run to run."""

Scan = Callable[[bytes], Rows]
"""A search in the bytes of one file; the same bytes give the same rows."""


class ProjectFiles(NamedTuple):
    """The files of a code base in one family of languages, and how to read them."""

    root: str
    paths: tuple[str, ...]
    """Absolute, in order."""
    read: Callable[[str], bytes | None]
    """Gives the bytes of a file by its path; None where it cannot be read."""
    summary: Callable[[str, str], Summary | None]
    """Gives the interface of a module by its name and path; None where it cannot be had."""
    scan: Callable[[str, Scan], Mapping[str, Rows]]
    """Gives by path the rows of a scan of all files, without files that have none.

    It is told what the rows rest on beside the bytes of a file: the name of the scan, and the words
    that it looks for.
    """


class Modules(Protocol):
    """The modules of a code base in one family of languages; each is read when asked about."""

    @property
    def names(self) -> Mapping[str, str]:
        """By absolute path: the name of the module that each file is."""
        ...

    @property
    def files(self) -> Mapping[str, str]:
        """By name: the path of each module, as seen from the folder of the code base."""
        ...

    @property
    def graph(self) -> ModuleGraph:
        """The modules, as seen from the folder of the code base."""
        ...

    def context_of(self, path: str) -> ProjectContext:
        """Return the place of a file, without the words by which symbols are known."""
        ...

    def words_of(self, symbols: Iterable[str]) -> Mapping[str, frozenset[str]]:
        """Return by dotted name the words that files can refer to it with; not for all names."""
        ...

    def patched(self, symbols: Iterable[str]) -> Mapping[str, str]:
        """Return by dotted name a module, none of tests, that gives it another value as it runs."""
        ...

    def read_imports(self) -> None:
        """Read what all files import, so that processes forked later share it."""
        ...
