"""The code base around the files of a run: its modules, and by which words its things are known."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from functools import cached_property, partial
from pathlib import Path
from typing import Any

from msgspec import Struct

from yellow_trellis.findings.failure import is_contained
from yellow_trellis.languages import DEFAULT, family_of, language
from yellow_trellis.project.cache.file_hashes import Digests
from yellow_trellis.project.cache.file_stat import Stamp
from yellow_trellis.project.cache.module_cache import Summaries
from yellow_trellis.project.cache.scan_cache import ScanCache
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.cache.table import Table
from yellow_trellis.project.dependency_trace import DependencyTrace
from yellow_trellis.project.discovery import SourceFile, discover
from yellow_trellis.project.file_language import language_at
from yellow_trellis.semantics import (
    ALONE,
    Modules,
    ProjectContext,
    ProjectFiles,
    Summary,
    Vocabulary,
    facts_of,
    require_semantics,
    semantics_of,
)
from yellow_trellis.semantics.modules import Rows, Scan
from yellow_trellis.source import Source, UnreadableError
from yellow_trellis.syntax import Tree

_MOST_RULESETS = 24
"""For how many sets of names the words are kept."""


class _Words(Struct, frozen=True):
    """The words of a code base that had `fingerprint`."""

    fingerprint: str
    vocabulary: Vocabulary


class CodeBase:
    """The modules under `root`; each is read when it is first asked about.

    Languages that import each other's modules share one graph of them; each such family has its
    own.

    Arguments: `symbols` are the dotted names that are asked for by meaning; `languages` those of
    the run; `home` is the folder below which what is found out is kept, `root` if left out;
    `endings` are those that a configuration gives to languages; `unsaved` are by real path the
    bytes of files that an editor has open, which count instead of those on the disk; `use_cache`
    is whether what earlier runs found out is used, and what is found out kept.
    """

    def __init__(
        self,
        root: Path,
        symbols: frozenset[str] = frozenset(),
        languages: Iterable[str] = (DEFAULT,),
        home: Path | None = None,
        endings: Mapping[str, str] | None = None,
        unsaved: Mapping[str, bytes] | None = None,
        use_cache: bool = True,
    ) -> None:
        self.root = root.resolve()
        self._unsaved = dict(unsaved or {})
        self._endings = endings
        self.symbols = symbols
        self._languages = frozenset(languages)
        self.store = Store((home or root).resolve(), is_off=not use_cache)
        self.digests = Digests(self.store)
        self._kept = Summaries(self.store, self.digests)
        self._scans = ScanCache(self.store)
        self._stamps: dict[str, Stamp] = {}

    def modules(self, name: str) -> Modules:
        """Return the modules of the family of the language called `name`.

        Errors: `ValueError`, for one whose modules are not known.
        """
        package = language(name).semantics or ""
        if package not in self._modules:
            paths = self._paths(name)
            scan = partial(self._scan, paths)
            files = ProjectFiles(str(self.root), paths, self._read, self._summary, scan)
            self._modules[package] = require_semantics(language(name)).modules_of(files)
        return self._modules[package]

    def _paths(self, name: str) -> tuple[str, ...]:
        """Return the files of the family of the language called `name`."""
        family = frozenset(family_of(name))
        if family not in self._paths_of:
            if not family <= self._spoken:
                files = discover([self.root], family, None, self._endings)
            else:
                files = [file for file in self._listed if file.language in family]
            self._stamps.update((f.path, f.stamp) for f in files if f.stamp != Stamp())
            paths = tuple({file.path: None for file in files} | self._new(family))
            self._paths_of[family] = paths
        return self._paths_of[family]

    @cached_property
    def _paths_of(self) -> dict[frozenset[str], tuple[str, ...]]:
        return {}

    def _scan(self, paths: Iterable[str], name: str, scan: Scan) -> Mapping[str, Rows]:
        """Return by path the rows of a scan; what an editor has open is always scanned."""
        stamps = self._stamps
        files = ((path, None if path in self._unsaved else stamps.get(path)) for path in paths)
        return self._scans.over(name, scan, files, self._read)

    @cached_property
    def _spoken(self) -> frozenset[str]:
        """The languages of the run, and those that share names with them."""
        return frozenset(member for name in self._languages for member in family_of(name))

    @cached_property
    def _listed(self) -> list[SourceFile]:
        """The files of the languages of the run, all of which one walk finds."""
        return discover([self.root], self._spoken, None, self._endings)

    def modules_after(self, name: str, moves: Mapping[str, str]) -> dict[str, str]:
        """Return by dotted name the new names of the modules that are called otherwise after moves.

        Arguments: `name` is a language of the family; `moves` are real paths of files, before and
        after. Errors: `ValueError`, for a language whose modules are not known.
        """
        before = self.modules(name).names
        back = {new: old for old, new in moves.items()}

        def scan_moved(about: str, scan: Scan) -> Mapping[str, Rows]:
            results = self._scan(before, about, scan)
            return {moves.get(path, path): rows for path, rows in results.items()}

        files = ProjectFiles(
            str(self.root),
            tuple(moves.get(path, path) for path in before),
            lambda path: self._read(back.get(path, path)),
            lambda *_: None,
            scan_moved,
        )
        after = require_semantics(language(name)).modules_of(files).names
        new = {path: after[moves.get(path, path)] for path in before}
        return {old: new[path] for path, old in before.items() if old != new[path]}

    def _new(self, languages: frozenset[str]) -> dict[str, None]:
        """Return the files that an editor has open, of some languages: they may not be saved."""
        return {
            path: None
            for path in self._unsaved
            if language_at(path, self._endings) in languages and self.root in Path(path).parents
        }

    @cached_property
    def _modules(self) -> dict[str, Modules]:
        return {}

    @cached_property
    def _families(self) -> list[str]:
        """One language of each family among those of the run whose modules are known."""
        names: dict[str, str] = {}
        for name in sorted(self._languages):
            package = language(name).semantics
            if package is not None:
                names.setdefault(package, name)
        return list(names.values())

    def _all(self) -> Iterator[Modules]:
        """Yield the modules of each family among the languages of the run."""
        return map(self.modules, self._families)

    def _of(self, path: str) -> Modules | None:
        """Return the modules among which a file is."""
        name = language_at(path, self._endings) or DEFAULT
        return self.modules(name) if semantics_of(language(name)) is not None else None

    def _summary(self, module: str, path: str) -> Summary | None:
        if path in self._read_already:
            return self._read_already[path]
        is_saved = path not in self._unsaved
        result = self._kept.get(path, module) if is_saved else None
        if result is None:
            raw = self._read(path)
            tree = self._tree(path, raw) if raw is not None else None
            if raw is not None and tree is not None:
                result = _summary_of(tree)
                tree.release()
                if is_saved and result is not None:
                    self._kept.put(path, hashlib.sha256(raw).hexdigest(), result)
        self._read_already[path] = result
        return result

    @cached_property
    def _read_already(self) -> dict[str, Summary | None]:
        return {}

    def mark(self, path: str) -> str:
        """Return what changes when that which others can know of the file at `path` does."""
        if path not in self._marks:
            mark = self._kept.mark(path) if path not in self._unsaved else None
            modules = self._of(path) if mark is None else None
            if modules is not None and path in modules.names:
                summary = self._summary(modules.names[path], path)
                mark = self._kept.mark_of(summary) if summary is not None else ""
            self._marks[path] = mark or ""
        return self._marks[path]

    @cached_property
    def _marks(self) -> dict[str, str]:
        return {}

    @cached_property
    def fingerprint(self) -> str:
        """A stamp that changes with any file of the code base; empty while one has just changed.

        It tells of files as they were found: what is read of them afterwards is as old or younger.
        """
        if self._unsaved:
            return ""
        message = hashlib.sha256()
        for path in sorted(path for name in self._families for path in self._paths(name)):
            stamp = self._stamps.get(path)
            if stamp is None or not stamp.settled:
                return ""
            line = f"{self.store.name(path)} {' '.join(map(str, stamp))}\n"
            message.update(line.encode("utf-8", "surrogateescape"))
        return message.hexdigest()

    @cached_property
    def outline(self) -> str:
        """A stamp that changes when a file is added, removed or renamed."""
        names = "\n".join(
            f"{self.store.name(path)} {name}"
            for modules in self._all()
            for path, name in sorted(modules.names.items())
        )
        return hashlib.sha256(names.encode("utf-8", "surrogateescape")).hexdigest()

    def keep(self) -> None:
        """Keep what was found out about modules for the next run."""
        self._kept.keep()

    def _tree(self, path: str, raw: bytes) -> Tree | None:
        try:
            source = Source.read(raw, path=path)
        except UnreadableError:
            return None
        spoken = language(language_at(path, self._endings) or DEFAULT)
        return Tree(source, spoken, partial(self._stands, path))

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
            declares=noted(stands.declares),
        )

    def _stands(self, path: str) -> ProjectContext:
        """Return the same without the words, which are found out by looking at files like it."""
        modules = self._of(path)
        return ALONE if modules is None else modules.context_of(path)

    def read_imports(self) -> None:
        """Read what all files import, so that processes forked later share it."""
        for modules in self._all():
            modules.read_imports()

    @cached_property
    def vocabulary(self) -> Vocabulary:
        """The words by which files can refer to required symbols, re-exports included."""
        table = Table(self.store, "names", _Words, " ".join(sorted(self.symbols)), _MOST_RULESETS)
        entry = table.get("") if self.fingerprint else None
        if entry is not None and entry.fingerprint == self.fingerprint:
            return entry.vocabulary
        patched: dict[str, str] = {}
        for modules in self._all():
            patched |= modules.patched(self.symbols)
        result = Vocabulary(self._words(), patched=patched)
        if self.fingerprint:
            table.put({"": _Words(self.fingerprint, result)})
        return result

    def _words(self) -> dict[str, frozenset[str]]:
        """Return by dotted name the words that any language has for it.

        A name for which one of them has no words is left out: nothing can be told by words then.
        """
        tables = [modules.words_of(self.symbols) for modules in self._all()]
        names = set(self.symbols).intersection(*tables) if tables else set()
        return {
            name: frozenset(word for table in tables for word in table[name])
            for name in sorted(names)
        }

    def _read(self, path: str) -> bytes | None:
        if path in self._unsaved:
            return self._unsaved[path]
        try:
            return Path(path).read_bytes()
        except OSError:
            return None  # the run tells of it where it looks at the file


def _summary_of(tree: Tree) -> Summary | None:
    """Return what a module offers; None where we fail on it.

    What it offers is not known then: that costs no more than what is found by its names.
    """
    try:
        return facts_of(tree).summary
    except Exception as error:
        if isinstance(error, MemoryError) or not is_contained(error):
            raise
        return None
