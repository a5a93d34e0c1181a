"""The types that the files of a code base declare, by namespace."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import cached_property

from yellow_trellis.semantics.alias_map import Vocabulary
from yellow_trellis.semantics.graph import ModuleGraph
from yellow_trellis.semantics.lexical.name_rules import NameRules
from yellow_trellis.semantics.modules import ProjectFiles, Rows
from yellow_trellis.semantics.project_context import ProjectContext


class LexicalModules:
    """The files of a code base, of which is asked what types each declares."""

    def __init__(self, files: ProjectFiles, rules: NameRules) -> None:
        self._files = files
        self._rules = rules
        self.graph = ModuleGraph()
        self.files: Mapping[str, str] = {}

    @cached_property
    def names(self) -> Mapping[str, str]:
        """By absolute path: the path once more; files are no modules here."""
        return {path: path for path in self._files.paths}

    def context_of(self, path: str) -> ProjectContext:
        """Return the place of a file."""
        return ProjectContext(self.graph, path, None, Vocabulary(), declares=self.declares)

    def declares(self, namespace: str, name: str) -> bool:
        """Return whether a file of the code base declares a type `name`, whatever its namespace.

        More rather than less: a type of another namespace may be seen from this one, too.
        """
        return name in self._declared

    @cached_property
    def _declared(self) -> frozenset[str]:
        pattern = self._rules.declared
        if pattern is None:
            return frozenset()

        def scan(data: bytes) -> Rows:
            return tuple((name.decode("utf-8", "replace"),) for name in set(pattern.findall(data)))

        table = self._files.scan(f"types declared as {pattern.pattern!r}", scan)
        return frozenset(name for rows in table.values() for (name,) in rows)

    def words_of(self, symbols: Iterable[str]) -> Mapping[str, frozenset[str]]:
        """Return by dotted name the words that files can refer to it with: its last part.

        A file that imports it by another name says its own name in the import.
        """
        return {name: frozenset({name.rpartition(".")[2]}) for name in symbols}

    def patched(self, symbols: Iterable[str]) -> Mapping[str, str]:
        """Return nothing: what files give each other is not followed here."""
        return {}

    def read_imports(self) -> None:
        """Read what all files import: nothing here asks for that."""
