"""The module name of each file, seen from the folder that its imports start from.

A code base may have several such folders, *roots*: ``src``, ``packages/fares/src``, a folder of
tests with its own helpers. A name is looked for in the root of the file that says it, then in the
others. What two of them have means one thing here and another there: it is not known elsewhere.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterable, Mapping
from functools import cached_property
from typing import NamedTuple

from yellow_trellis.semantics.python.test_files import is_in_tests

_ROOTS = ("src", "lib", "python")
"""Folders that hold packages without being one; the first at any depth, the others at the top."""


class ModulePlace(NamedTuple):
    """A module: its dotted name, and the package that its relative imports start from."""

    module: str
    package: str
    root: str = ""
    """The folder that its own imports start from, from the folder of the code base on."""


class View(NamedTuple):
    """The modules that can be named from one root."""

    files: Mapping[str, str]
    """By dotted name: the path of the file."""
    ambiguous: frozenset[str]
    """Packages and modules of which there are several, none of them here."""
    copies: frozenset[str]
    """All packages and modules of which there are several."""


class Roots:
    """The roots of a code base.

    Arguments: `files` are the absolute paths of all its files, below the folder `base`;
    `names_in_imports` gives those of some dotted names that an import in any of them says.
    """

    def __init__(
        self,
        files: Iterable[str],
        base: str,
        names_in_imports: Callable[[frozenset[str]], frozenset[str]],
    ) -> None:
        self._files = list(files)
        self._base = base
        self._names_in_imports = names_in_imports
        end = f"{os.sep}__init__.py"
        self._packages = {os.path.dirname(file) for file in self._files if file.endswith(end)}

    @cached_property
    def places(self) -> dict[str, ModulePlace]:
        """By absolute path: the module that each file is."""
        folders = {file.rpartition(os.sep)[0] or os.sep for file in self._files}
        tops = {folder: self._top(folder) for folder in folders}
        doubtful = {
            name
            for folder, top in tops.items()
            if top != folder
            for _, name in self._namespaces(top)
        }
        names = self._names_in_imports(frozenset(doubtful)) if doubtful else frozenset[str]()
        roots = {folder: self._root(folder, top, names) for folder, top in tops.items()}
        packages = {folder: ".".join(_below(folder, root)) for folder, root in roots.items()}
        places: dict[str, ModulePlace] = {}
        for file in self._files:
            folder, _, name = file.rpartition(os.sep)
            folder = folder or os.sep
            package, stem = packages[folder], os.path.splitext(name)[0]
            if stem == "__init__" or not package:
                module = package if stem == "__init__" else stem
            else:
                module = f"{package}.{stem}"
            places[file] = ModulePlace(module, package, roots[folder])
        return places

    def _top(self, folder: str) -> str:
        """Return the folder that holds the outermost package around a file."""
        while folder in self._packages and folder != os.path.dirname(folder):
            folder = os.path.dirname(folder)
        return folder

    def _namespaces(self, top: str) -> list[tuple[str, str]]:
        """Return where imports may start above `top`, with what `top` is called from there."""
        parts = _below(top, self._base)
        first = _first(parts)
        results = []
        for at in range(first, len(parts)):
            name = ".".join(parts[at:])
            if all(part.isidentifier() for part in parts[at:]):
                results.append((os.path.join(self._base, *parts[:at]), name))
        return results

    def _root(self, folder: str, top: str, names: frozenset[str]) -> str:
        """Return the folder that imports of the files in `folder` start from."""
        if top == folder:  # it is no package
            parts = _below(top, self._base)
            return os.path.join(self._base, *parts[: _first(parts)]) if parts else top
        return next((root for root, name in self._namespaces(top) if name in names), top)

    @cached_property
    def _units(self) -> dict[str, dict[str, dict[str, str]]]:
        """By package or single module, then by root: the modules of it with their paths."""
        table: dict[str, dict[str, dict[str, str]]] = {}
        units: dict[tuple[str, str], str] = {}
        for path, place in sorted(self.places.items(), reverse=True):
            above = place.module.rpartition(".")[0]
            if (place.root, above) not in units:
                units[place.root, above] = self._unit(place.root, above)
            unit = units[place.root, above] or place.module
            modules = table.setdefault(unit, {}).setdefault(place.root, {})
            if place.module not in modules or path.endswith("__init__.py"):
                modules[place.module] = path
        return table

    def _unit(self, root: str, package: str) -> str:
        """Return the outermost package on the way to `package` from a root; empty if none is."""
        names = package.split(".") if package else []
        for count in range(1, len(names) + 1):
            if os.path.join(root, *names[:count]) in self._packages:
                return ".".join(names[:count])
        return ""

    @cached_property
    def _plain(self) -> View:
        """The modules visible to every file: those of which there is one only."""
        files: dict[str, str] = {}
        ambiguous: set[str] = set()
        is_library = "os" in self._units
        for unit, roots in self._units.items():
            ways = self._roots_meant(roots)
            if len(ways) > 1 or (not is_library and unit in sys.stdlib_module_names):
                ambiguous.add(unit)
            else:
                files.update(roots[ways[0]])
        return View(files, frozenset(ambiguous), self._copies)

    def _roots_meant(self, roots: Iterable[str]) -> list[str]:
        """Return those of several roots with a package of one name that others can mean.

        A folder of tests may be called like the package that it tests: nobody else means that.
        """
        results = sorted(roots)
        outside = [root for root in results if not is_in_tests(root, self._base)]
        return outside or results

    @cached_property
    def _copies(self) -> frozenset[str]:
        return frozenset(unit for unit, roots in self._units.items() if len(roots) > 1)

    @cached_property
    def _views(self) -> dict[str, View]:
        return {}

    def view_of(self, path: str) -> View:
        """Return the modules as the file at `path` names them.

        A script sees the packages beside it first, wherever else imports start from.
        """
        folder = os.path.dirname(path)
        place = self.places.get(path)
        if folder in self._with_packages or place is None:
            return self.view(folder)
        return self.view(place.root)

    @cached_property
    def _with_packages(self) -> frozenset[str]:
        """The folders that are roots of packages."""
        packages = self._packages
        above = {os.path.dirname(package) for package in packages}
        return frozenset(above - packages)

    def view(self, root: str) -> View:
        """Return the modules as they are named in files of `root`."""
        if root not in self._views:
            own = [item for item in self._plain.ambiguous if root in self._units[item]]
            own = [item for item in own if len(self._units[item]) > 1]
            files = {**self._plain.files}
            for unit in own:
                files.update(self._units[unit][root])
            beside = [item for item in self._copies - set(own) if root in self._units[item]]
            for unit in beside:  # tests called like what they test: that comes first
                files = {**self._units[unit][root], **files}
            tail = self._plain.ambiguous - set(own)
            is_own = bool(own or beside)
            self._views[root] = View(files, tail, self._copies) if is_own else self._plain
        return self._views[root]


def _first(parts: tuple[str, ...]) -> int:
    """Return how many of the folders down to a file come before imports start."""
    for at in range(len(parts), 0, -1):
        if parts[at - 1] == _ROOTS[0]:
            return at
    return 1 if parts[:1] and parts[0] in _ROOTS else 0


def _below(folder: str, base: str) -> tuple[str, ...]:
    """Return the names of the folders from `base` down to `folder`; none if it lies elsewhere."""
    inside = os.path.join(base, "")
    return tuple(folder[len(inside) :].split(os.sep)) if folder.startswith(inside) else ()
