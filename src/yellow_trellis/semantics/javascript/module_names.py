"""Names of modules: of a file of the code base, its path; of a package, what an import says.

``fares/ticket`` is the file ``fares/ticket.ts``, from the root of the code base, and ``fares`` is
``fares/index.js`` where there is one. Names of packages stay as they are, ``@alder/fares``.
"""

from __future__ import annotations

import posixpath
import re

from yellow_trellis.semantics.graph import ModuleGraph

SUFFIXES = (".d.ts", ".ts", ".tsx", ".mts", ".cts", ".js", ".jsx", ".mjs", ".cjs")
"""Endings that an import may leave out, or say as another: TypeScript imports ``./a.js``."""

_PACKAGE = re.compile(r"@?[\w.~-]+(/[\w.~-]+)*")


def name_of_file(path: str) -> str:
    """Return the name of the module at `path`, from the root of the code base, with slashes."""
    name = _without_suffix(path)
    folder, _, last = name.rpartition("/")
    return folder if last == "index" and folder else name


def _without_suffix(path: str) -> str:
    suffix = next((suffix for suffix in SUFFIXES if path.endswith(suffix)), "")
    return path[: len(path) - len(suffix)]


def module_and_member(graph: ModuleGraph, name: str) -> tuple[str, str]:
    """Return the module that a name starts with, and what is taken from it.

    The code base knows its modules; the name of a package ends at the first dot behind its last
    slash, or at a colon.
    """
    module, colon, member = name.partition(":")
    if colon:
        return module, member
    parts = name.split(".")
    for count in range(len(parts) - 1, 0, -1):
        if graph.holds(".".join(parts[:count])):
            return ".".join(parts[:count]), ".".join(parts[count:])
    slash = name.rfind("/") + 1
    head, _, member = name[slash:].partition(".")
    return name[:slash] + head, member


def module_of(specifier: str, folder: str | None, graph: ModuleGraph) -> str | None:
    """Return the name of the module that an import says as `specifier`.

    Arguments: `folder` is that of the file, from the root of the code base; None if it is not
    known.
    None where it lies outside of the code base, or is no module of code.
    """
    if not specifier.startswith("."):
        name = specifier.removeprefix("node:")
        return name if _PACKAGE.fullmatch(name) else None
    if folder is None:
        return None
    path = posixpath.normpath(posixpath.join(folder, specifier))
    if path.startswith(".."):
        return None
    if path == ".":
        path = "index"
    for name in (path, name_of_file(path)):
        if graph.holds(name):
            return name
    return path


def specifier_of(module: str, folder: str) -> str:
    """Return how a file in `folder` imports `module`, a file of the same code base."""
    path = posixpath.relpath(module, folder or ".")
    return path if path.startswith(".") else f"./{path}"
