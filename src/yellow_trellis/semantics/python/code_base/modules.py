"""The modules of a code base in Python: which file is which, and who takes what from whom."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_trellis.semantics.alias_map import Vocabulary
from yellow_trellis.semantics.graph import ModuleGraph, packages_of
from yellow_trellis.semantics.module_interface import Summary
from yellow_trellis.semantics.modules import ProjectFiles, Rows
from yellow_trellis.semantics.project_context import ProjectContext
from yellow_trellis.semantics.python.code_base.import_scan import (
    absolute,
    imports_in,
    mentions,
    quoted_names,
    scan_for_attributes,
    scan_for_imports_of,
    scan_for_patches,
)
from yellow_trellis.semantics.python.code_base.loading import lacks
from yellow_trellis.semantics.python.code_base.roots import ModulePlace, Roots, View
from yellow_trellis.semantics.python.code_base.symbol_aliases import scan_for_other_names, words_of
from yellow_trellis.semantics.python.test_files import is_in_tests, is_of_tests

if TYPE_CHECKING:
    from yellow_trellis.semantics.python.code_base.override_sets import Classes


def modules_of(files: ProjectFiles) -> PythonModules:
    """Return the modules of a code base."""
    return PythonModules(files)


class PythonModules:
    """The modules of a code base; each is read when it is first asked about."""

    def __init__(self, files: ProjectFiles) -> None:
        self._files = files
        self._read = files.read

    @cached_property
    def names(self) -> Mapping[str, str]:
        """By absolute path: the dotted name of the module that each file is."""
        return {path: place.module for path, place in self._paths.items()}

    @cached_property
    def _roots(self) -> Roots:
        return Roots(self._files.paths, self._files.root, self._names_in_imports)

    def _names_in_imports(self, names: frozenset[str]) -> frozenset[str]:
        """Return those of the dotted `names` that an import in any file says, or goes through."""
        about = f"python imports of {' '.join(sorted(names))}"
        table = self._files.scan(about, scan_for_imports_of(names))
        return frozenset(name for rows in table.values() for (name,) in rows)

    @property
    def _paths(self) -> dict[str, ModulePlace]:
        """By absolute path: the module that each file is."""
        return self._roots.places

    @property
    def files(self) -> Mapping[str, str]:
        """By dotted name: the path of each module, as named from the folder of the code base."""
        return self._view.files

    @property
    def _view(self) -> View:
        return self._roots.view(self._files.root)

    @cached_property
    def graph(self) -> ModuleGraph:
        """The modules, as seen from a file in a package at the top."""
        return self._graph_of(self._view)

    def _graph_of(self, view: View, beside: Mapping[str, str] | None = None) -> ModuleGraph:
        def load(module: str) -> Summary | None:
            return self._files.summary(module, view.files[module])

        return ModuleGraph(view.files, load, beside, view.ambiguous, view.copies)

    def importers(self, module: str) -> frozenset[str]:
        """Return the dotted names of the modules that import `module`, or anything of it."""
        return self._importers.get(module, frozenset())

    @cached_property
    def _importers(self) -> dict[str, frozenset[str]]:
        table: dict[str, set[str]] = {}
        for path, place in self._paths.items():
            for module in self._imported_modules(path):
                table.setdefault(module, set()).add(place.module)
        return {module: frozenset(names) for module, names in table.items()}

    def _imported_modules(self, path: str) -> Iterator[str]:
        """Yield the modules of the code base that a file imports, by the words of its imports."""
        for module, *names in self._imports.get(path, ()):
            if not module:
                yield from names
                continue
            module = absolute(module, self._paths[path].package)
            yield module
            yield from (whole for name in names if (whole := f"{module}.{name}") in self.files)

    @cached_property
    def _imports(self) -> Mapping[str, Rows]:
        """By path: what the imports of a file say, see `imports_in`."""
        return self._files.scan("python imports", imports_in)

    @cached_property
    def _graphs(self) -> dict[str, ModuleGraph]:
        return {}

    @cached_property
    def _scripts(self) -> dict[str, dict[str, str]]:
        """By folder that is no package: the short names of the modules in it."""
        table: dict[str, dict[str, str]] = {}
        for path, place in self._paths.items():
            folder, name = os.path.split(path)
            if name != "__init__.py" and os.path.join(folder, "__init__.py") not in self._paths:
                names = table.setdefault(folder, {})
                stem = os.path.splitext(name)[0]
                if place.module != stem and stem not in self.files:
                    names[stem] = place.module
        return table

    def context_of(self, path: str) -> ProjectContext:
        """Return where a file stands; of one outside of the code base, by its name alone."""
        file = Path(path).resolve()
        place = self._paths.get(str(file)) or ModulePlace(file.stem, "")
        folder = str(file.parent)
        if folder not in self._graphs:
            beside = self._scripts.get(folder)
            view = self._roots.view_of(str(file))
            plain = view is self._view and not beside
            self._graphs[folder] = self.graph if plain else self._graph_of(view, beside)
        return ProjectContext(
            self._graphs[folder],
            place.module,
            place.package,
            Vocabulary(),
            self.gives,
            self.family,
            self.importers,
            self.handed_on,
            self.relied_on,
        )

    def handed_on(self, module: str) -> bool:
        """Return whether a file uses `module` as a value."""
        summaries = map(self.graph.summary, self.importers(module))
        return any(summary is not None and module in summary.hands for summary in summaries)

    def relied_on(self, module: str) -> bool:
        """Return whether a file uses `module` as an attribute and leaves it to others to import."""
        if module not in self._relied:
            users = self._attributes.get(module.rpartition(".")[2], ())
            bases = set().union(*(self._by_base.get(name, ()) for name in packages_of(module)))
            self._relied[module] = "." in module and any(
                module in lacks(self.graph, name, itself=True) for name in users if name in bases
            )
        return self._relied[module]

    @cached_property
    def _by_base(self) -> dict[str, set[str]]:
        """By dotted name: the modules in which an import binds what has that name."""
        table: dict[str, set[str]] = {}
        for path, rows in self._imports.items():
            place = self._paths[path]
            for start, *names in rows:
                if start:
                    around = absolute(start, place.package)
                    bound = [f"{around}.{name}" for name in names]
                else:
                    bound = [*names, *(name.partition(".")[0] for name in names)]
                for name in bound:
                    table.setdefault(name, set()).add(place.module)
        return table

    @cached_property
    def _attributes(self) -> dict[str, list[str]]:
        """By last name of a module: the modules that say it behind a dot."""
        lasts = {name.rpartition(".")[2] for name in self.files if "." in name}
        about = f"python attributes {' '.join(sorted(lasts))}"
        scan = scan_for_attributes(frozenset(word.encode("utf-8") for word in lasts))
        table: dict[str, list[str]] = {}
        for path, rows in self._files.scan(about, scan).items():
            for (word,) in rows:
                table.setdefault(word, []).append(self._paths[path].module)
        return table

    @cached_property
    def _relied(self) -> dict[str, bool]:
        return {}

    def gives(self, module: str, name: str) -> bool:
        """Return whether another file takes `name` from `module`, or may, by name or star."""
        capture = self.taken.get(module, frozenset())
        if name in capture or ("*" in capture and not name.startswith("_")):
            return True
        if f"{module}.{name}" in self._quoted:
            return True
        paths = (
            path for importer in self.importers(module) for path in self._paths_of.get(importer, ())
        )
        raws = (self._read(path) for path in paths)
        return any(raw is not None and mentions(raw, name) for raw in raws)

    @cached_property
    def _paths_of(self) -> dict[str, list[str]]:
        """By dotted name: the files that are called so, of which there may be several."""
        table: dict[str, list[str]] = {}
        for path, place in self._paths.items():
            table.setdefault(place.module, []).append(path)
        return table

    @cached_property
    def _quoted(self) -> frozenset[str]:
        """The dotted names in quotes, and what they start with: ``patch("a.b.c")``."""
        table = self._files.scan("python quoted names", quoted_names)
        return frozenset(name for rows in table.values() for (name,) in rows)

    @cached_property
    def taken(self) -> dict[str, frozenset[str]]:
        """By module: what others take from it by name; a star where they take all."""
        table: dict[str, set[str]] = {}
        for path, rows in self._imports.items():
            for module, *names in rows:
                if module:
                    whole = absolute(module, self._paths[path].package)
                    table.setdefault(whole, set()).update(names)
        return {module: frozenset(names) for module, names in table.items()}

    def words_of(self, symbols: Iterable[str]) -> Mapping[str, frozenset[str]]:
        """Return by dotted name the words that files can refer to it with."""
        return words_of(symbols, self._other_names, self.graph)

    def patched(self, symbols: Iterable[str]) -> Mapping[str, str]:
        """Return by dotted name a module, none of tests, that gives it another value as it runs."""
        words = sorted({name.rpartition(".")[2] for name in symbols})
        scan = scan_for_patches(words)
        table: dict[str, str] = {}
        for path in self._files.scan(f"python patches of {' '.join(words)}", scan):
            module = self._paths[path].module
            summary = self.graph.summary(module)
            if summary is None or is_of_tests(path, summary.imports):
                continue
            if is_in_tests(os.path.dirname(path), self._files.root):
                continue
            for target in summary.patches:
                if not target.startswith(f"{module}:"):  # what it says of its own holds for all
                    table.update((s, module) for s in symbols if self.graph.same(target, s))
        return table

    def _other_names(self, words: list[str]) -> Iterator[tuple[str, Rows]]:
        """Yield the name of each file, with other names that it may give to what has a word."""
        about = f"python other names of {' '.join(words)}"
        for path, rows in self._files.scan(about, scan_for_other_names(words)).items():
            yield self._paths[path].module, rows

    def read_imports(self) -> None:
        """Read what all files import, so that processes forked later share it."""
        _ = self.taken

    def contents(self) -> Iterator[tuple[str, bytes]]:
        """The dotted name of each file, and its bytes; files that cannot be read are left out."""
        for path, place in self._paths.items():
            raw = self._read(path)
            if raw is not None:
                yield place.module, raw

    def family(self, name: str) -> tuple[frozenset[str], str]:
        """Return the members that stand for the class member `name` in classes above and below.

        With them comes the reason why there may be more outside, empty if there is none. What is
        no member of a class stands for itself.
        """
        if name not in self._families:
            from yellow_trellis.semantics.python.code_base.override_sets import family_of

            self._families[name] = family_of(name, self._classes, self.graph)
        return self._families[name]

    @cached_property
    def _classes(self) -> Classes:
        # only renaming and moving ask for members of classes
        from yellow_trellis.semantics.python.code_base.override_sets import Classes

        return Classes(self.contents)

    @cached_property
    def _families(self) -> dict[str, tuple[frozenset[str], str]]:
        return {}
