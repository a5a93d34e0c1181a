"""The code base around the files of a run: its modules, and by which words its things are known."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterator, Mapping
from functools import cached_property, partial
from pathlib import Path
from typing import Any

from yellow_trellis.languages import DEFAULT, language
from yellow_trellis.project.cache.file_stat import Stamp
from yellow_trellis.project.cache.module_cache import Summaries
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.dependency_trace import DependencyTrace
from yellow_trellis.project.discovery import discover
from yellow_trellis.semantics import ModuleGraph, ProjectContext, Summary, Vocabulary, facts_of
from yellow_trellis.semantics.python.import_scan import (
    attribute_words,
    imported_modules,
    mention_of,
    names_from,
    quoted_names,
)
from yellow_trellis.semantics.python.loading import lacks
from yellow_trellis.semantics.python.override_sets import Classes, family_of
from yellow_trellis.semantics.python.roots import Place, Roots, View
from yellow_trellis.semantics.python.symbol_aliases import words_of
from yellow_trellis.source import Source, Unreadable
from yellow_trellis.syntax import Tree

_LANGUAGE = DEFAULT
"""The language whose modules are known."""


class CodeBase:
    """The modules under `root`; each is read when it is first asked about.

    Arguments: `home` is the folder below which what is found out is kept, `root` if left out.
    """

    def __init__(
        self, root: Path, results: frozenset[str] = frozenset(), home: Path | None = None
    ) -> None:
        self.root = root.resolve()
        self.symbols = results
        self.store = Store((home or root).resolve())
        self._kept = Summaries(self.store)

    @cached_property
    def _roots(self) -> Roots:
        files = [Path(f.path) for f in discover([self.root], frozenset({_LANGUAGE}))]
        return Roots(files, self.root, _read)

    @property
    def _paths(self) -> dict[str, Place]:
        """By absolute path: the module that each file is."""
        return self._roots.places

    @property
    def files(self) -> Mapping[str, str]:
        """By dotted name: the path of each module, as named from the folder of the code base."""
        return self._view.files

    @property
    def _view(self) -> View:
        return self._roots.view(str(self.root))

    @cached_property
    def graph(self) -> ModuleGraph:
        """The modules, as seen from a file in a package at the top."""
        return self._graph_of(self._view)

    def _graph_of(self, view: View, beside: Mapping[str, str] | None = None) -> ModuleGraph:
        def load(module: str) -> Summary | None:
            return self._summary(module, view.files[module])

        return ModuleGraph(view.files, load, beside, view.ambiguous)

    def _summary(self, module: str, path: str) -> Summary | None:
        if path in self._read_already:
            return self._read_already[path]
        result = self._kept.get(path, module)
        if result is None:
            raw = _read(path)
            tree = self._tree(path, raw) if raw is not None else None
            if raw is not None and tree is not None:
                result = facts_of(tree).summary
                tree.release()
                self._kept.put(path, hashlib.sha256(raw).hexdigest(), result)
        self._read_already[path] = result
        return result

    @cached_property
    def _read_already(self) -> dict[str, Summary | None]:
        return {}

    def mark(self, path: str) -> str:
        """Return what changes when that which others can know of the file at `path` does."""
        if path not in self._marks:
            mark = self._kept.mark(path)
            if mark is None and path in self._paths:
                summary = self._summary(self._paths[path].module, path)
                mark = self._kept.mark_of(summary) if summary is not None else ""
            self._marks[path] = mark or ""
        return self._marks[path]

    @cached_property
    def _marks(self) -> dict[str, str]:
        return {}

    @cached_property
    def fingerprint(self) -> str:
        """A stamp that changes with any file of the code base; empty while one has just changed."""
        message = hashlib.sha256()
        for path in sorted(self._paths):
            stamp = Stamp.of(path)
            if stamp is None or not stamp.settled:
                return ""
            message.update(f"{self.store.name(path)} {stamp}\n".encode("utf-8", "surrogateescape"))
        return message.hexdigest()

    @cached_property
    def outline(self) -> str:
        """A stamp that changes when a file is added, removed or renamed."""
        names = "\n".join(
            f"{self.store.name(path)} {place.module}" for path, place in sorted(self._paths.items())
        )
        return hashlib.sha256(names.encode("utf-8", "surrogateescape")).hexdigest()

    def keep(self) -> None:
        """Keep what was found out about modules for the next run."""
        self._kept.keep()

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
        for module, names in self._imports(path):
            yield module
            yield from (whole for name in names if (whole := f"{module}.{name}") in self.files)
        raw = _read(path)
        yield from imported_modules(raw) if raw is not None else ()

    def _tree(self, path: str, raw: bytes) -> Tree | None:
        try:
            source = Source.read(raw, path=path)
        except Unreadable:
            return None
        return Tree(source, language(_LANGUAGE), partial(self._stands, path))

    @cached_property
    def _graphs(self) -> dict[str, ModuleGraph]:
        return {}

    @cached_property
    def _scripts(self) -> dict[str, dict[str, str]]:
        """By folder that is no package: the short names of the modules in it."""
        table: dict[str, dict[str, str]] = {}
        for path, place in self._paths.items():
            file = Path(path)
            if file.name != "__init__.py" and str(file.parent / "__init__.py") not in self._paths:
                names = table.setdefault(str(file.parent), {})
                if place.module != file.stem and file.stem not in self.files:
                    names[file.stem] = place.module
        return table

    def surroundings(self, path: str, consulted: DependencyTrace | None = None) -> ProjectContext:
        """Return where the file at `path` stands; of one outside of the root, by its name alone.

        What is then asked about other files is noted in `consulted`.
        """
        stands = self._stands(path)._replace(vocabulary=self.vocabulary)
        if consulted is None:
            return stands
        consulted.is_used = True

        def load(module: str) -> Summary | None:
            file = stands.graph.files[module]
            consulted.marks[self.store.name(file)] = self.mark(file)
            return stands.graph.summary(module)

        def noted(answer: Callable[..., Any]) -> Callable[..., Any]:
            def query(*about: str) -> Any:
                consulted.whole = True
                return answer(*about)

            return query

        return stands._replace(
            graph=stands.graph.read_by(load),
            gives=noted(stands.gives),
            family=noted(stands.family),
            importers=noted(stands.importers),
            handed_on=noted(stands.handed_on),
            relied_on=noted(stands.relied_on),
        )

    def _stands(self, path: str) -> ProjectContext:
        """Return the same without the words, which are found out by looking at files like it."""
        file = Path(path).resolve()
        place = self._paths.get(str(file)) or Place(file.stem, "")
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
            self._relied[module] = "." in module and any(
                module in lacks(self.graph, name, itself=True) for name in users
            )
        return self._relied[module]

    @cached_property
    def _attributes(self) -> dict[str, list[str]]:
        """By last name of a module: the modules that say it behind a dot."""
        lasts = {name.rpartition(".")[2].encode("utf-8") for name in self.files if "." in name}
        table: dict[str, list[str]] = {}
        for module, raw in self.contents():
            for word in lasts & attribute_words(raw):
                table.setdefault(word.decode("utf-8"), []).append(module)
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
        raws = (_read(path) for path in paths)
        mention = mention_of(name)
        return any(raw is not None and mention.search(raw) is not None for raw in raws)

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
        return frozenset(name for _, raw in self.contents() for name in quoted_names(raw))

    @cached_property
    def taken(self) -> dict[str, frozenset[str]]:
        """By module: what others take from it by name; a star where they take all."""
        table: dict[str, set[str]] = {}
        for path in self._paths:
            for module, names in self._imports(path):
                table.setdefault(module, set()).update(names)
        return {module: frozenset(names) for module, names in table.items()}

    def _imports(self, path: str) -> Iterator[tuple[str, list[str]]]:
        raw = _read(path)
        return iter(()) if raw is None else names_from(raw, self._paths[path].package)

    @cached_property
    def vocabulary(self) -> Vocabulary:
        """The words by which files can refer to required symbols, re-exports included."""
        key = "words of " + " ".join(sorted(self.symbols))
        query = "select value from things where key = ? and fingerprint = ?"
        rows = self.store.read(query, (key, self.fingerprint)) if self.fingerprint else []
        if rows:
            words = json.loads(rows[0][0])
            return Vocabulary({name: frozenset(some) for name, some in words.items()})
        result = words_of(self.symbols, self.contents, self.graph)
        if self.fingerprint:
            value = json.dumps({name: sorted(some) for name, some in result.items()})
            change = "insert or replace into things values (?, ?, ?)"
            self.store.write((change, [(key, self.fingerprint, value)]))
        return Vocabulary(result)

    def contents(self) -> Iterator[tuple[str, bytes]]:
        """The dotted name of each file, and its bytes; files that cannot be read are left out."""
        for path, place in self._paths.items():
            raw = _read(path)
            if raw is not None:
                yield place.module, raw

    def family(self, name: str) -> tuple[frozenset[str], str]:
        """Return the members that stand for the class member `name` in classes above and below.

        With them comes the reason why there may be more outside, empty if there is none. What is
        no member of a class stands for itself.
        """
        if name not in self._families:
            self._families[name] = family_of(name, self._classes, self.graph)
        return self._families[name]

    @cached_property
    def _classes(self) -> Classes:
        return Classes(self.contents)

    @cached_property
    def _families(self) -> dict[str, tuple[frozenset[str], str]]:
        return {}


def _read(path: str) -> bytes | None:
    try:
        return Path(path).read_bytes()
    except OSError:
        return None  # the run tells of it where it looks at the file
