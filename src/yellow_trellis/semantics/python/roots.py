"""The module name of each file, seen from the folder that its imports start from.

A code base may have several such folders, *roots*: ``src``, ``packages/fares/src``, a folder of
tests with its own helpers. A name is looked for in the root of the file that says it, then in the
others. What two of them have means one thing here and another there: it is not known elsewhere.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Callable, Iterable, Mapping
from functools import cached_property
from itertools import chain
from pathlib import Path
from typing import NamedTuple

_ROOTS = ("src", "lib", "python")
"""Folders that hold packages without being one; the first at any depth, the others at the top."""

Read = Callable[[str], "bytes | None"]
"""Gives the bytes of a file by its path; None where it cannot be read."""


class Place(NamedTuple):
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


class Roots:
    """The roots of a code base.

    Arguments: `files` are all its files, below the folder `base`; `read` reads one of them.
    """

    def __init__(self, files: Iterable[Path], base: Path, read: Read) -> None:
        self._files = list(files)
        self._base = base
        self._read = read
        self._packages = {file.parent for file in self._files if file.name == "__init__.py"}

    @cached_property
    def places(self) -> dict[str, Place]:
        """By absolute path: the module that each file is."""
        tops = {folder: self._top(folder) for folder in {file.parent for file in self._files}}
        doubtful = {
            name
            for folder, top in tops.items()
            if top != folder
            for _, name in self._namespaces(top)
        }
        entry = named_in(map(self._read, map(str, self._files)), frozenset(doubtful))
        return {str(file): self._place(file, tops[file.parent], entry) for file in self._files}

    def _top(self, folder: Path) -> Path:
        """Return the folder that holds the outermost package around a file."""
        while folder in self._packages and folder != folder.parent:
            folder = folder.parent
        return folder

    def _namespaces(self, top: Path) -> list[tuple[Path, str]]:
        """Return where imports may start above `top`, with what `top` is called from there."""
        parts = top.relative_to(self._base).parts if top.is_relative_to(self._base) else ()
        first = _first(parts)
        results = []
        for at in range(first, len(parts)):
            name = ".".join(parts[at:])
            if all(part.isidentifier() for part in parts[at:]):
                results.append((self._base.joinpath(*parts[:at]), name))
        return results

    def _place(self, file: Path, top: Path, results: frozenset[str]) -> Place:
        root = top
        if top == file.parent:  # in no package
            parts = top.relative_to(self._base).parts if top.is_relative_to(self._base) else ()
            root = self._base.joinpath(*parts[: _first(parts)]) if parts else top
        else:
            root = next((r for r, name in self._namespaces(top) if name in results), top)
        names = file.relative_to(root).with_suffix("").parts
        if names[-1] == "__init__":
            names = names[:-1]
            return Place(".".join(names), ".".join(names), str(root))
        return Place(".".join(names), ".".join(names[:-1]), str(root))

    @cached_property
    def _units(self) -> dict[str, dict[str, dict[str, str]]]:
        """By package or single module, then by root: the modules of it with their paths."""
        table: dict[str, dict[str, dict[str, str]]] = {}
        for path, place in sorted(self.places.items(), reverse=True):
            folder = Path(place.root)
            unit = place.module
            names = place.module.split(".")
            for count in range(1, len(names)):
                folder = folder / names[count - 1]
                if folder in self._packages:
                    unit = ".".join(names[:count])
                    break
            modules = table.setdefault(unit, {}).setdefault(place.root, {})
            if place.module not in modules or path.endswith("__init__.py"):
                modules[place.module] = path
        return table

    @cached_property
    def _plain(self) -> View:
        """The modules visible to every file: those of which there is one only."""
        files: dict[str, str] = {}
        ambiguous: set[str] = set()
        is_library = "os" in self._units
        for unit, roots in self._units.items():
            if len(roots) > 1 or (not is_library and unit in sys.stdlib_module_names):
                ambiguous.add(unit)
            else:
                files.update(*roots.values())
        return View(files, frozenset(ambiguous))

    @cached_property
    def _views(self) -> dict[str, View]:
        return {}

    def view_of(self, path: str) -> View:
        """Return the modules as the file at `path` names them.

        A script sees the packages beside it first, wherever else imports start from.
        """
        folder = str(Path(path).parent)
        place = self.places.get(path)
        if folder in self._with_packages or place is None:
            return self.view(folder)
        return self.view(place.root)

    @cached_property
    def _with_packages(self) -> frozenset[str]:
        """The folders that are roots of packages."""
        packages = self._packages
        return frozenset(
            str(package.parent) for package in packages if package.parent not in packages
        )

    def view(self, root: str) -> View:
        """Return the modules as they are named in files of `root`."""
        if root not in self._views:
            own = [ambiguou for ambiguou in self._plain.ambiguous if root in self._units[ambiguou]]
            own = [item for item in own if len(self._units[item]) > 1]
            files = {**self._plain.files}
            for unit in own:
                files.update(self._units[unit][root])
            tail = self._plain.ambiguous - set(own)
            self._views[root] = View(files, tail) if own else self._plain
        return self._views[root]


def _first(parts: tuple[str, ...]) -> int:
    """Return how many of the folders down to a file come before imports start."""
    for at in range(len(parts), 0, -1):
        if parts[at - 1] == _ROOTS[0]:
            return at
    return 1 if parts[:1] and parts[0] in _ROOTS else 0


def named_in(contents: Iterable[bytes | None], names: frozenset[str]) -> frozenset[str]:
    """Return those of the dotted `names` that an import in `contents` says, or goes through."""
    if not names:
        return names
    words = "|".join(re.escape(name) for name in sorted(names, key=len, reverse=True)).encode()
    # each starts with a literal, so that it is looked for as fast as one
    patterns = [re.compile(word + rb"[ \t]+(" + words + rb")\b") for word in (b"from", b"import")]
    results: set[str] = set()
    for raw in filter(None, contents):
        for match in chain.from_iterable(pattern.finditer(raw) for pattern in patterns):
            if match[1].decode() not in results and _starts_line(raw, match.start()):
                results.add(match[1].decode())
    return frozenset(results)


def _starts_line(data: bytes, at: int) -> bool:
    """Return whether only space stands before byte `at` in its line."""
    return not data[data.rfind(b"\n", 0, at) + 1 : at].strip(b" \t")
