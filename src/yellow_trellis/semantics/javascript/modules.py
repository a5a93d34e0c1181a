"""The modules of a code base in JavaScript and TypeScript, named by the paths of their files."""

from __future__ import annotations

import os
import re
from collections import Counter
from collections.abc import Iterable, Mapping
from functools import cached_property
from pathlib import PurePosixPath

from yellow_trellis.semantics.alias_map import Vocabulary
from yellow_trellis.semantics.javascript.graph import WHOLE, JavaScriptGraph
from yellow_trellis.semantics.javascript.module_names import name_of_file
from yellow_trellis.semantics.module_interface import Summary
from yellow_trellis.semantics.modules import ProjectFiles, Rows, Scan
from yellow_trellis.semantics.project_context import ProjectContext


def modules_of(files: ProjectFiles) -> JavaScriptModules:
    """Return the modules of a code base."""
    return JavaScriptModules(files)


class JavaScriptModules:
    """The modules of a code base; each is read when it is first asked about.

    Two files of one name, such as a source and what was built of it beside it, are one module of
    which nothing is known.
    """

    def __init__(self, files: ProjectFiles) -> None:
        self._files = files

    @cached_property
    def names(self) -> Mapping[str, str]:
        """By absolute path: the name of the module that each file is."""
        return {path: name_of_file(self._inside(path)) for path in self._files.paths}

    def _inside(self, path: str) -> str:
        above = os.path.join(self._files.root, "")
        inside = path.startswith(above)
        return path[len(above) :].replace(os.sep, "/") if inside else os.path.basename(path)

    @cached_property
    def files(self) -> Mapping[str, str]:
        """By name: the path of each module."""
        return {name: path for path, name in reversed(list(self.names.items()))}

    @cached_property
    def graph(self) -> JavaScriptGraph:
        """The modules of the code base."""
        counts = Counter(self.names.values())
        ambiguous = frozenset(name for name, count in counts.items() if count > 1)
        return JavaScriptGraph(self.files, self._load, None, ambiguous)

    def _load(self, module: str) -> Summary | None:
        return self._files.summary(module, self.files[module])

    def context_of(self, path: str) -> ProjectContext:
        """Return where a file stands; of one outside of the code base, by its name alone."""
        inside = self._inside(os.path.realpath(path))
        folder = str(PurePosixPath(inside).parent)
        folder = "" if folder == "." else folder
        return ProjectContext(
            self.graph, name_of_file(inside), folder, Vocabulary(), importers=self.graph.importers
        )

    def words_of(self, symbols: Iterable[str]) -> Mapping[str, frozenset[str]]:
        """Return by dotted name the words that files can refer to it with.

        What a module gives as its default has the name that each import gives it: there are no
        words for it.
        """
        entries = {name: {name.rpartition(".")[2]} for name in symbols}
        for name in list(entries):
            if entries[name] & {"default", WHOLE}:
                del entries[name]
        waiting = {word for words in entries.values() for word in words}
        visited: set[str] = set()
        while waiting:
            visited |= waiting
            aliases = self._aliases(waiting)
            waiting = {second for _, second in aliases} - visited
            for words in entries.values():
                words |= {second for first, second in aliases if first in words}
                if "default" in words:
                    words.clear()  # and then it has any name
        return {name: frozenset(words) for name, words in entries.items() if words}

    def _aliases(self, words: set[str]) -> set[tuple[str, str]]:
        """Return pairs of a word and another name that some file gives to what has it."""
        about = f"javascript other names of {' '.join(sorted(words))}"
        table = self._files.scan(about, _scan_for_other_names(words))
        return {(first, second) for rows in table.values() for first, second in rows}

    def patched(self, symbols: Iterable[str]) -> Mapping[str, str]:
        """Return nothing: what files give each other is not followed here."""
        return {}

    def read_imports(self) -> None:
        """Read what all files import: nothing here asks for that."""


def _scan_for_other_names(words: Iterable[str]) -> Scan:
    """Return a scan for pairs of one of `words` and another name that is given to what has it."""
    any_of = b"|".join(re.escape(word.encode("utf-8")) for word in sorted(words))
    # what is called, or asked for a member, gives something else than itself
    chain = rb"(?:[\w$]+\s*\??\.\s*)*(" + any_of + rb")(?![\w$])(?!\s*(?:\(|\?*\.|\[|`))"
    renamed = re.compile(rb"(?<![\w$])(" + any_of + rb")\s+as\s+([\w$]+)")
    assignment = re.compile(rb"([\w$]+)\s*[=:]\s*" + chain)

    def scan(data: bytes) -> Rows:
        pairs = {*renamed.findall(data)}
        pairs.update((second, first) for first, second in assignment.findall(data))
        return tuple(
            (first.decode("utf-8"), second.decode("utf-8", "replace"))
            for first, second in sorted(pairs)
        )

    return scan
